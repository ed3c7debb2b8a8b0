"""What there is to choose from in a plan, as screens offer it: the lists are the model's and the rulebook's own."""

from __future__ import annotations

import csv
from collections import Counter
from importlib.resources import files
from typing import Any, get_args

from leitung_core.catalogue.device import Awg, Group, shipped_devices
from leitung_core.catalogue.functions import functions
from leitung_core.cautions import QUALIFIED, WHO
from leitung_core.circuits.spec import SIZES_IN_ORDER, Occupancy, Place, Receptacle, TradeSize
from leitung_core.elements.signals import signals
from leitung_core.elements.vocabulary import Effect
from leitung_core.plan.sources import Source
from leitung_core.plan.wired import CONNECTOR_WORDS, Spot
from leitung_core.rulebook import Rulebook
from leitung_core.rulebook.editions import NEWEST


def unit_kinds() -> list[dict[str, str]]:
    """The kinds of unit that a line can be drawn to: name, and the stems of the ids of unit and line."""
    text = files("leitung_core.catalogue").joinpath("kinds.csv").read_text("utf-8")
    return list(csv.DictReader(text.splitlines()))


def usual_functions() -> dict[str, str]:
    """What a terminal printed so is for on most of the devices that ship; a guess, to be looked at."""
    found: dict[str, Counter[str | None]] = {}
    for kind in shipped_devices().values():
        for terminal in kind.terminals().values():
            found.setdefault((terminal.label or terminal.id).upper(), Counter())[terminal.function] += 1
    most = {label: count.most_common(1)[0][0] for label, count in sorted(found.items())}
    return {label: function for label, function in most.items() if function is not None}


def vocabulary() -> dict[str, Any]:
    """Every list by its name."""
    book = Rulebook(NEWEST)
    return {
        "cautions": {"who": WHO, "qualified": QUALIFIED},
        "kinds": unit_kinds(),
        "sizes": [size for size in SIZES_IN_ORDER if size in book.sizes],
        "methods": [*book.methods, "cord"],
        "raceways": [*book.raceways],
        "receptacles": [*get_args(Receptacle)],
        "trade_sizes": [*get_args(TradeSize)],
        "places": [*get_args(Place)],
        "spots": [*get_args(Spot)],
        "connectors": [{"value": key, "label": words} for key, words in CONNECTOR_WORDS.items()],
        "occupancies": [*get_args(Occupancy)],
        "sources": [*get_args(Source.model_fields["kind"].annotation)],
        "device_groups": [*get_args(Group)],
        "effects": [*get_args(Effect)],
        "functions": [{"value": key, "label": function.says} for key, function in functions().items()],
        "usual_functions": usual_functions(),
        "gauges": list(get_args(Awg)),
        "signals": [{"value": key, "label": signal.says} for key, signal in signals().items()],
    }
