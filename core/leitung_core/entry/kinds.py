"""Words by which the trade names units and places."""

from __future__ import annotations

# The first that fits: the longer name before the one inside it.
KINDS_BY_WORDS = (
    (
        r"mini[- ]?splits?(?: outdoor(?: unit)?)?|ductless(?: split| mini[- ]?split)?|multi[- ]?split",
        "mini_split_outdoor",
    ),
    (
        r"(?:packaged?|roof[- ]?top)(?: unit)? heat[- ]?pump|heat[- ]?pump (?:rtu|roof[- ]?top(?: unit)?)",
        "packaged_heat_pump",
    ),
    (r"(?:120 ?v(?:olt)? |rv |vehicle )roof (?:unit|ac|a/c|air conditioner)|roof air conditioner", "roof_unit_120v"),
    (r"(?:packaged? )?roof[- ]?top(?: units?| ac| a/c)?|packaged? (?:units?|ac|a/c)|rtus?", "packaged_rooftop"),
    (r"heat[- ]?pumps?(?: outdoor(?: unit)?| condenser)?", "heat_pump_outdoor"),
    (r"condensing units?|(?:ac |a/c )?condensers?|outdoor condensing unit", "condensing_unit"),
    (r"air[- ]?handl(?:er|ing)s?(?: units?)?|ahus?|fan[- ]?coils?(?: units?)?", "air_handler"),
    (r"de-?humidifiers?", "dehumidifier"),
    (r"(?:steam |electrode )?humidifiers?", "steam_humidifier"),
    (r"condensate pumps?", "condensate_pump"),
    (r"(?:electric )?(?:unit|garage|wall|cabinet|space|shop)[- ]heaters?|(?:electric )?heaters?", "unit_heater"),
)
KINDS_BY_PREFIX = {
    "MS": "mini_split_outdoor", "RTU": "packaged_rooftop", "UH": "unit_heater", "EUH": "unit_heater",
    "AH": "air_handler", "CU": "condensing_unit", "HP": "heat_pump_outdoor",
}  # fmt: skip
PLACES = (
    (r"crawl[- ]?spaces?", "crawl_space"),
    (r"attic", "attic"),
    (r"roof(?:top)?", "roof"),
    (r"outdoors?|outside|exterior", "outdoor"),
    (r"interior|indoors?|inside", "interior"),
)
NUMBER_WORDS = {"two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10}
