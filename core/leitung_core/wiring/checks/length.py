"""How long a cable may be: what the device allows for its gauge, and what is left of the 24 V at the far end."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

from leitung_core.circuits.wire_ohms import ohm_per_kft
from leitung_core.elements.vocabulary import Coil, Load
from leitung_core.findings import Finding, finding
from leitung_core.plant.make import Make, thinner
from leitung_core.plant.plant import ENDS, Plant
from leitung_core.units import exact, say
from leitung_core.wiring.checks.cable import asked_of
from leitung_core.wiring.fixes import on_cable

CONTROL_VOLTS = Decimal(24)


def by_device(plant: Plant) -> Iterator[Finding]:
    """The longest cable that the devices at its ends allow."""
    for key, cable in plant.plan.cables.items():
        make = plant.makes[key]
        if make.length_ft is None or make.awg is None or cable.state == "removed":
            continue
        for device, rule in asked_of(plant, key):
            most = rule.max_ft.get(make.awg)  # type: ignore[call-overload]
            if not rule.max_ft or (most is not None and make.length_ft <= most):
                continue
            better = [size for size, limit in rule.max_ft.items() if limit >= make.length_ft and _made(make, size)]
            awg = next(iter(sorted(better, key=lambda size: -int(size))), None)
            fix = on_cable(key, awg=awg) if awg else None
            name, about = plant.name(device), f"cables/{key}/length_ft"
            if most is None:
                # No figure for that gauge is not enough length: it is not known.
                message = f"{key} is {make.awg} AWG; {name} gives its longest cable for {', '.join(rule.max_ft)} AWG."
                yield finding("cable-length-unjudged", about, message, f"Take {awg} AWG", fix)
            else:
                message = f"{key} is {say(make.length_ft)} ft; {name} allows {say(most)} ft of {make.awg} AWG."
                yield finding("cable-too-long", about, message, f"Take {awg} AWG", fix)
            break


def _made(make: Make, awg: str) -> bool:
    return make.family is not None and awg in make.family.awg


def drop_volts(plant: Plant, key: str, make: Make) -> Decimal | None:
    """What the cable takes of 24 V when everything behind it draws, V; None where something is not known.

    I = VA / 24, there and back: 2 x R x length.
    """
    va = _drawn_va(plant, key)
    ohm = ohm_per_kft(make.awg, make.strands) if make.awg else None
    if va is None or ohm is None or make.length_ft is None:
        return None
    return exact(va) / CONTROL_VOLTS * 2 * ohm * exact(make.length_ft) / 1000


def _draws(plant: Plant, key: str) -> dict[str, list[Coil | Load]]:
    """For each end's device, the 24 V loads inside it that hang on a terminal where this cable lands."""
    cable = plant.plan.cables[key]
    found: dict[str, list[Coil | Load]] = {}
    for end in ENDS:
        device = cable.at(end).device
        kind = plant.types.get(device)
        landed = {wire.end(end).terminal for wire in plant.wires[key] if plant.function(wire) != "common"}
        loads = [
            part for part in (kind.inside if kind else ())
            if isinstance(part, Coil | Load) and part.rated_volts == CONTROL_VOLTS
            and {f"{device}.{part.a}", f"{device}.{part.b}"} & landed
        ]  # fmt: skip
        found[device] = loads
    return found


def _drawn_va(plant: Plant, key: str) -> float | None:
    """The larger of what hangs behind either end, VA; None where a load's VA is not known."""
    sums = []
    for loads in _draws(plant, key).values():
        if any(part.va is None for part in loads):
            return None
        sums.append(sum(part.va or 0 for part in loads))
    return max(sums, default=0)


def by_drop(plant: Plant) -> Iterator[Finding]:
    """A tenth of the 24 V is the most that a cable may take: a coil must still pull in at three quarters."""
    for key, cable in plant.plan.cables.items():
        make = plant.makes[key]
        if not make.class_2 or cable.state == "removed" or make.length_ft is None or make.awg is None:
            continue
        unknown = sorted({d for d, loads in _draws(plant, key).items() if any(part.va is None for part in loads)})
        if unknown:
            names = ", ".join(unknown)
            yield finding("control-load-missing", f"cables/{key}", f"{key}: what {names} draws is not known; no drop.")
            continue
        allowed = CONTROL_VOLTS * plant.book.factor("control-drop")
        drop = drop_volts(plant, key, make)
        if drop is None or drop <= allowed:
            continue
        sizes = [size for size in (make.family.awg if make.family else []) if thinner(make.awg, size)]
        base = ohm_per_kft(make.awg, make.strands) or Decimal(1)
        fitting = [s for s in sizes if drop * (ohm_per_kft(s, make.strands) or base) / base <= allowed]
        awg = max(fitting, key=int, default=None)
        message = (
            f"{key} takes {say(drop, 1)} V of 24 V over {say(make.length_ft)} ft of {make.awg} AWG; "
            f"{say(allowed)} V is the most."
        )
        fix = on_cable(key, awg=awg) if awg else None
        yield finding("control-drop", f"cables/{key}/awg", message, f"Take {awg} AWG", fix)


RULES = (by_device, by_drop)
