"""What is known of one circuit: the size document, which the command line, the API and a plan's circuits all become.

Everything not known is left out. Field names carry their unit.
"""

from __future__ import annotations

import re
from datetime import date
from typing import Annotated, Literal, get_args

from pydantic import AfterValidator, Field

from leitung_core.rulebook.editions import NEWEST, EditionId
from leitung_core.rulebook.schools import AmendmentOrId
from leitung_core.validation import Celsius, Count, Entered, NotNegative, Positive, Text

Kind = Literal[
    "mini_split_outdoor",
    "condensing_unit",
    "heat_pump_outdoor",
    "packaged_rooftop",
    "packaged_heat_pump",
    "air_handler",
    "unit_heater",
    "steam_humidifier",
    "dehumidifier",
    "condensate_pump",
    "roof_unit_120v",
    "feeder",
]
Phase = Literal[1, 3]
OcpdType = Literal["fuse", "breaker"]
Place = Literal["interior", "attic", "crawl_space", "outdoor", "roof", "inside_unit", "vehicle"]
Occupancy = Literal["dwelling", "commercial", "vehicle"]
Size = Literal[
    "18", "16", "14", "12", "10", "8", "6", "4", "3", "2", "1",
    "1/0", "2/0", "3/0", "4/0", "250", "300", "350", "400", "500",
]  # fmt: skip
Receptacle = Literal["5-15", "5-20", "6-15", "6-20", "6-30", "6-50", "14-30", "14-50"]
TradeSize = Literal["1/2", "3/4", "1", "1-1/4", "1-1/2", "2", "2-1/2", "3", "3-1/2", "4"]
SIZES_IN_ORDER: tuple[str, ...] = get_args(Size)


def _plate_volts(text: str) -> str:
    if not re.fullmatch(r"\d{2,3}(\s*[/-]\s*\d{2,3})*", text):
        raise ValueError("write the plate's volts as 230 or 208/230")
    return text


PlateVolts = Annotated[Text, AfterValidator(_plate_volts)]


class Supply(Entered):
    """The supply at the circuit's origin."""

    volts: Positive | None = Field(None, description="nominal volts between the conductors used, V")
    phase: Phase | None = None
    volts_to_ground: Positive | None = Field(None, description="V")


class Compressor(Entered):
    """Marks of one compressor, A."""

    rla_a: Positive | None = None
    bcsc_a: Positive | None = None
    lra_a: Positive | None = None


class Motor(Entered):
    """Marks of one motor, A."""

    fla_a: Positive
    use: Literal["condenser_fan", "blower", "pump"]


class HeatRating(Entered):
    """Power of the electric heat at a further voltage."""

    watts: Positive
    rated_volts: Positive


class Heat(Entered):
    """Marks of the electric heat. `ratings` holds further figures where the plate gives power at several voltages."""

    watts: Positive
    rated_volts: Positive | None = None
    phase: Phase | None = None
    ratings: Annotated[list[HeatRating], Field(max_length=6)] | None = None


class FedLoad(Entered):
    """One load behind a feeder, A on the leg that carries most."""

    amps: Positive
    sort: Literal["motor", "continuous", "other"]
    name: Text | None = None


class Nameplate(Entered):
    """What the plate says; what it does not say is left out."""

    volts: PlateVolts | None = Field(None, description='as printed: "208/230"')
    volts_min: Positive | None = Field(None, description="lower end of the plate's range, V")
    volts_max: Positive | None = Field(None, description="upper end of the plate's range, V")
    phase: Phase | None = None
    mca_a: Positive | None = Field(None, description="marked minimum circuit ampacity, A")
    max_ocpd_a: Positive | None = Field(None, description="marked maximum fuse or breaker, A")
    min_ocpd_a: Positive | None = Field(None, description="marked minimum fuse or breaker, A")
    max_ocpd_type: Literal["fuse", "breaker", "fuse_or_breaker"] | None = None
    compressors: Annotated[list[Compressor], Field(max_length=8)] | None = None
    motors: Annotated[list[Motor], Field(max_length=16)] | None = None
    heat: Heat | None = None
    amps: Positive | None = None
    watts: Positive | None = None
    continuous: bool | None = None
    supply_cfm: Positive | None = None
    return_cfm: Positive | None = None
    loads: Annotated[list[FedLoad], Field(max_length=200)] | None = Field(None, description="what a feeder feeds")


class Equipment(Entered):
    """The unit on the circuit."""

    kind: Kind
    quantity: Count | None = None
    heat_with_cooling: bool | None = None
    cord_connected: bool | None = None
    start_peak_a: Positive | None = Field(
        None, description="what a soft starter holds the compressor to while it starts, A"
    )
    control_tap_v: Positive | None = Field(None, description="the tap on which its control transformer is set, V")
    nameplate: Nameplate | None = None


class Together(Entered):
    """Conductors of other circuits in the same raceway."""

    conductor: Size
    count: Count
    insulation: Literal["THWN-2", "XHHW-2"] = "THWN-2"


class Segment(Entered):
    """One stretch of the run with one method in one place."""

    method: Literal["NM-B", "UF-B", "MC", "SER", "TC", "THWN-2", "XHHW-2", "cord"] | None = None
    raceway: Literal["EMT", "PVC", "LFNC", "LFMC", "FMC"] | None = None
    raceway_size: TradeSize | None = Field(None, description="trade size; left out: to be chosen")
    conductor: Size | None = Field(None, description="proposed size; left out: to be chosen")
    material: Literal["Cu", "Al"] | None = None
    construction: Literal["solid", "stranded"] | None = None
    terminations_c: Literal[60, 75] | None = Field(None, description="marked at both ends, °C; left out: 60 by rule")
    ambient_c: Celsius | None = None
    current_carrying: Count | None = Field(None, description="current-carrying conductors in the cable or raceway")
    length_ft: NotNegative | None = Field(None, description="one way, ft")
    place: Place | None = None
    above_roof_in: NotNegative | None = None
    sunlit: bool | None = None
    existing: bool | None = None
    factory_cord: bool | None = Field(None, description="a cord that came with its listed unit (240.5(B)(1))")
    white_as_ungrounded: bool | None = None
    white_reidentified: bool | None = None
    together: Annotated[list[Together], Field(max_length=60)] | None = Field(
        None, description="conductors of other circuits in this raceway, for its fill"
    )


class Proposed(Entered):
    """What is planned at the ends."""

    ocpd_a: Positive | None = None
    ocpd_type: OcpdType | None = None
    ocpd_reason: Text | None = Field(None, description="why up to 225 % is needed: the recorded reason of 440.22(A)")
    egc: Size | None = None
    disconnect_a: Positive | None = None
    disconnect_type: Literal["nonfused", "fused", "breaker"] | None = None
    disconnect_in_sight: bool | None = None
    disconnect_distance_ft: NotNegative | None = None
    gfci: bool | None = None
    receptacle_a: Positive | None = None
    receptacle: Receptacle | None = Field(None, description="its configuration; its rating goes with it")
    receptacle_distance_ft: NotNegative | None = None
    other_outlets_on_branch: bool | None = None
    duct_detectors: bool | None = Field(None, description="whether duct smoke detectors are planned")
    poles: Annotated[int, Field(strict=True, ge=1, le=3)] | None = Field(None, description="poles of the device")
    working_depth_in: NotNegative | None = None
    working_width_in: NotNegative | None = None
    voltage_drop_limit_pct: Annotated[float, Field(strict=True, gt=0, le=20)] | None = Field(
        None, description="left out: the advised 3 %"
    )


class Spec(Entered):
    """The size document of size-contract: all that is known of one circuit."""

    rulebook: EditionId = NEWEST
    amendments: Annotated[list[AmendmentOrId], Field(max_length=50)] | None = None
    occupancy: Occupancy | None = None
    location: Text | None = None
    permit_date: date | None = None
    supply: Supply = Supply()
    equipment: Equipment
    run: Annotated[list[Segment], Field(max_length=40)] = []
    proposed: Proposed = Proposed()
