"""Cable, conductors, raceway, fittings and straps of the lines: each stretch once, whoever drew it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal

from leitung_core.circuits.fill import circuit_conductors
from leitung_core.circuits.result import CircuitResult
from leitung_core.loadout.raceways import Raceways
from leitung_core.loadout.rows import NOT_TAKEN, Gathered
from leitung_core.loadout.slack import at_device, at_source, at_unit, slack_ft
from leitung_core.loadout.supports import supports
from leitung_core.plant.lines import Line, Stretch
from leitung_core.plant.plant import Plant
from leitung_core.plant.size_document import spec_of
from leitung_core.units import exact, say_size

Sized = Mapping[str, CircuitResult]


@dataclass(frozen=True)
class Piece:
    """Stretches that are one cable, or one set of conductors drawn in at once; slack at both of its ends, ft."""

    stretches: tuple[Stretch, ...]
    slack_ft: Decimal


def lines_taken(plant: Plant, sized: Sized, found: Gathered) -> None:
    """Everything that the runs of the lines take."""
    raceways = Raceways()
    for key, line in plant.lines.items():
        for piece in pieces(plant, line):
            _wire(plant, key, piece, sized.get(key), found)
        chosen = {one.about: one.raceway_size for one in sized[key].segments} if key in sized else {}
        for stretch in line.stretches:
            segment, name = stretch.segment, stretch.raceway_id or stretch.about
            if segment.raceway is not None and not segment.existing and segment.length_ft is not None:
                size = segment.raceway_size or chosen.get(stretch.about) or ""
                raceways.add(segment.raceway, size, name, segment.length_ft, stretch.about)
    raceways.taken(found)


def pieces(plant: Plant, line: Line) -> Iterator[Piece]:
    """The run in pieces: one for each cable that is drawn, else one for like stretches in a row."""
    groups: list[list[Stretch]] = []
    for stretch in line.stretches:
        if groups and _same(groups[-1][-1], stretch):
            groups[-1].append(stretch)
        else:
            groups.append([stretch])
    for place, group in enumerate(groups):
        cable = plant.plan.cables.get(group[0].cable or "")
        if cable is not None:
            slack = at_device(plant, cable.a.device) + at_device(plant, cable.b.device)
        else:
            other = slack_ft(plant, "other")
            far = slack_ft(plant, "panel") if line.circuit.feeds else at_unit(plant, line.unit)
            slack = (at_source(plant, line.source) if place == 0 else other) + (
                far if place == len(groups) - 1 else other
            )
        yield Piece(tuple(group), slack)


def _same(one: Stretch, other: Stretch) -> bool:
    if one.cable or other.cable:
        return one.cable == other.cable
    a, b = one.segment, other.segment
    return (a.method, a.raceway, a.conductor, a.material, a.existing) == (
        b.method, b.raceway, b.conductor, b.material, b.existing,
    )  # fmt: skip


def _wire(plant: Plant, line_id: str, piece: Piece, sized: CircuitResult | None, found: Gathered) -> None:
    """The cable or the single conductors of a piece."""
    new = [one for one in piece.stretches if not one.segment.existing and not _is_old(plant, one)]
    if not new:
        return
    segment, spec = new[0].segment, spec_of(plant, line_id)
    number = circuit_conductors(spec) if spec is not None else None
    size = segment.conductor or (sized.conductor if sized else None)
    method = plant.book.methods.get(segment.method or "")
    for stretch in new:
        lacking = [
            what for what, known in (
                ("length", stretch.segment.length_ft is not None), ("method", segment.method is not None),
                ("conductor", size is not None), ("number of conductors", number is not None),
            ) if not known
        ]  # fmt: skip
        if lacking:
            found.lacks(stretch.about, f"{' and '.join(lacking)} not known")
    known = [one for one in new if one.segment.length_ft is not None]
    if not known or segment.method is None or size is None or number is None:
        return
    # Without slack where an end of it is not known yet.
    length = sum((exact(one.segment.length_ft or 0) for one in known), piece.slack_ft)
    metal = " aluminium" if segment.material == "Al" else ""
    about = [one.about for one in known]
    if method is None or method.is_cable:
        if segment.factory_cord:
            return
        item = f"{size}-{number}{metal} {segment.method} with ground"
        found.add("cable", item, length, *about, unit="ft", awg=size, conductors=number, cut=1)
        support = supports().get(segment.method)
        if support and support.fitting:
            found.add("fitting", f"{support.fitting} for {item}", 2, about[0])
    else:
        item = f"{say_size(size)}{metal} {method.name}"
        found.add("conductor", item, length * number, *about, unit="ft", awg=size, conductors=number, cut=number)
        ground = plant.lines[line_id].circuit.egc or (sized.proposed_egc or sized.egc if sized else None)
        if ground:
            item = f"{say_size(ground)}{metal} {method.name}, green"
            found.add("conductor", item, length, *about, unit="ft", awg=ground, conductors=1, cut=1)
        else:
            found.lacks(about[0], "grounding conductor not known")
    _holders(segment.method if method is None or method.is_cable else None, known, found)


def _is_old(plant: Plant, stretch: Stretch) -> bool:
    cable = plant.plan.cables.get(stretch.cable or "")
    return cable is not None and cable.state in NOT_TAKEN


def _holders(method: str | None, stretches: list[Stretch], found: Gathered) -> None:
    support = supports().get(method or "")
    if support is None or support.holder is None:
        return
    for stretch in stretches:
        if stretch.segment.raceway is None and (count := support.holders(stretch.segment.length_ft or 0)):
            found.add("support", f"{support.holder} for {method} ({support.article})", count, stretch.about)
