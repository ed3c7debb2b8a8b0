"""Communication and control cable with its raceway and straps: what is pulled, both ends with their slack."""

from __future__ import annotations

from decimal import Decimal

from leitung_core.loadout.raceways import Raceways
from leitung_core.loadout.rows import NOT_TAKEN, Gathered
from leitung_core.loadout.slack import at_device
from leitung_core.loadout.supports import supports
from leitung_core.plant.plant import Plant
from leitung_core.plant.raceways import raceways
from leitung_core.units import exact

SINGLES = ("singles", "singles-neutral")


def cables_taken(plant: Plant, counted: set[str], found: Gathered) -> None:
    """Every cable that is no stretch of a line; `counted` are those that are."""
    # In the raceway of a line it lies with the line's conductors: that is counted there.
    own, of_lines = Raceways(), raceways(plant)
    for key, cable in plant.plan.cables.items():
        if key in counted or cable.state in NOT_TAKEN or cable.segments is not None or cable.factory_cord:
            continue
        make, about = plant.makes[key], f"cables/{key}"
        lacking = [what for what, known in (("length", make.length_ft), ("construction", make.family),
                                            ("gauge", make.awg), ("number of conductors", make.count))
                   if known is None]  # fmt: skip
        if lacking:
            found.lacks(about, f"{' and '.join(lacking)} not known")
        if make.length_ft is None or make.family is None or make.awg is None or make.count is None:
            continue
        ends = Decimal(0) if cable.a.device == cable.b.device else (
            at_device(plant, cable.a.device) + at_device(plant, cable.b.device)
        )  # fmt: skip
        strands = f", {make.strands}" if make.strands else ""
        length = exact(make.length_ft) + ends
        if make.family_id in SINGLES:
            item = f"{make.awg} AWG single conductors{strands}"
            count = make.count
            found.add("conductor", item, length * count, about, unit="ft", awg=make.awg, conductors=count, cut=count)
        else:
            item = f"{make.awg}-{make.count} {make.family.name}{strands}"
            found.add("cable", item, length, about, unit="ft", awg=make.awg, conductors=make.count, cut=1)
        _held(plant, key, item, found)
        for _, stretch in cable.stretches():
            if stretch.raceway is None or stretch.raceway == "none" or stretch.length_ft is None:
                continue
            if stretch.raceway_id not in of_lines:
                own.add(stretch.raceway, "", stretch.raceway_id or f"{about}/{stretch.order}", stretch.length_ft, about)
    own.taken(found)


def _held(plant: Plant, key: str, item: str, found: Gathered) -> None:
    make, cable = plant.makes[key], plant.plan.cables[key]
    support = supports().get(make.family_id or "")
    if support is None or support.holder is None:
        return
    bare = [stretch.length_ft or 0 for _, stretch in cable.stretches() if stretch.raceway in (None, "none")]
    length = sum(bare) if cable.route else make.length_ft or 0
    if count := support.holders(float(length)):
        found.add("support", f"{support.holder} for {item} ({support.article})", count, f"cables/{key}")
