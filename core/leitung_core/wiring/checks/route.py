"""Where a cable runs: wet places, sun, exposed outdoors, together with power."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator

from leitung_core.findings import Finding, finding
from leitung_core.plan.wired import Cable, RouteSegment
from leitung_core.plant.make import Make
from leitung_core.plant.plant import Plant
from leitung_core.wiring.fixes import on_cable
from leitung_core.wiring.replace import other_make

OUTSIDE = ("outdoor", "roof")


def _routed(plant: Plant) -> Iterator[tuple[str, Cable, Make]]:
    """Cables with a way of their own; a stretch of a line's run is judged with its line."""
    for key, cable in plant.plan.cables.items():
        if cable.state != "removed" and cable.circuit is None:
            yield key, cable, plant.makes[key]


def weather(plant: Plant) -> Iterator[Finding]:
    """Wet-rated outdoors, in a raceway too (300.9); sunlight resistant where exposed."""
    for key, cable, make in _routed(plant):
        outside = [(name, part) for name, part in cable.stretches() if part.spot in OUTSIDE]
        if not outside:
            continue
        fix, label = _weatherproof(plant, key, make)
        if make.wet is False:
            where = _where(outside[0][1])
            message = (
                f"{key} runs {where}, a wet place, and is not marked for it; the inside of a raceway there is wet too."
            )
            yield finding("cable-not-wet", f"cables/{key}/route/{outside[0][0]}", message, label, fix)
        bare = [(name, part) for name, part in outside if part.raceway == "none"]
        if bare and make.sunlight is False:
            message = f"{key} lies exposed {_where(bare[0][1])} and is not marked sunlight resistant."
            yield finding("cable-sunlight", f"cables/{key}/route/{bare[0][0]}", message, label, fix)


def _weatherproof(plant: Plant, key: str, make: Make) -> tuple[dict[str, object] | None, str]:
    """The same cable in its wet-rated make."""
    family = "thermostat-wet" if make.class_2 else "tray"
    awg = "18" if make.class_2 else make.awg
    if make.count is None or str(make.count) not in _counts(family):
        return None, ""
    strands = make.strands or "solid" if make.class_2 else "stranded"
    fix = other_make(plant, key, family, awg, make.count, strands)
    return fix, "Take a cable marked for wet places and sun"


def _counts(family: str) -> list[str]:
    from leitung_core.catalogue.cables import cable_families

    return [str(number) for number in cable_families()[family].counts()]


def exposed(plant: Plant) -> Iterator[Finding]:
    """Control cable exposed outdoors: good work, or the jurisdiction's rule."""
    school = plant.school("control-cable-outdoors")
    if school == "strapped":
        return
    for key, cable, make in _routed(plant):
        bare = [(name, part) for name, part in cable.stretches() if part.spot in OUTSIDE and part.raceway == "none"]
        if not make.class_2 or not bare:
            continue
        name, part = bare[0]
        ruled = school == "raceway-required"
        why = (
            "a local amendment requires a raceway"
            if ruled
            else "liquid-tight raceway is good work; no article asks for it"
        )
        message = f"{key} lies exposed {_where(part)}: {why}."
        route = {name: {"raceway": "LFNC"} for name, _ in bare}
        yield finding(
            "control-exposed", f"cables/{key}/route/{name}", message, "Put it in liquid-tight raceway",
            on_cable(key, route=route), severity="stop" if ruled else None,
            article="local amendment" if ruled else None,
        )  # fmt: skip


def with_power(plant: Plant) -> Iterator[Finding]:
    """Class 2 conductors kept apart from power conductors."""
    power = _power_raceways(plant)
    for key, cable, make in _routed(plant):
        if not make.class_2:
            continue
        for name, part in cable.stretches():
            shared = power.get(part.raceway_id or "", [])
            if not part.with_power and not shared:
                continue
            beside = f"with {', '.join(shared)}" if shared else "with power conductors"
            message = f"{key} shares a raceway or box {beside}; Class 2 is kept apart from power."
            fix = on_cable(key, route={name: {"with_power": False, "raceway_id": None}})
            yield finding("control-with-power", f"cables/{key}/route/{name}", message, "Give it a way of its own", fix)


def _power_raceways(plant: Plant) -> dict[str, list[str]]:
    """For each raceway, the lines and power cables in it."""
    found: dict[str, list[str]] = defaultdict(list)
    for circuit_id, circuit in plant.plan.circuits.items():
        for raceway in sorted({part.raceway_id for part in circuit.run.values() if part.raceway_id}):
            found[raceway].append(circuit_id)
    for key, cable, make in _routed(plant):
        for raceway in sorted({part.raceway_id for part in cable.route.values() if part.raceway_id}):
            if make.family is not None and not make.class_2:
                found[raceway].append(key)
    return found


def _where(part: RouteSegment) -> str:
    return "on the roof" if part.spot == "roof" else "outdoors"


RULES = (weather, exposed, with_power)
