"""What a generator or an inverter gives, and a battery's volts under it."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from leitung_core.starting.case import Battery, Limits, Supply
from leitung_core.starting.timeline import NO_TIME_S, Course, Stretch


@dataclass(frozen=True)
class Overload:
    """When a source gives up for certain, or may: what, how much against how much, in which unit."""

    at_s: float
    certain: bool
    about: str
    says: str
    value: float
    limit: float
    unit: str


@dataclass(frozen=True)
class BatteryState:
    """V and A of a battery; it collapses where it cannot give the watts at any volts."""

    volts: float
    amps: float
    collapses: bool


def battery_state(battery: Battery, efficiency: float, watts: float) -> BatteryState | None:
    """A battery behind an inverter of so many AC watts: I = W / (efficiency x V) and V = full - I x ohms, together."""
    if battery.full_v is None or battery.ohms is None:
        return None
    drawn = watts / efficiency
    room = battery.full_v**2 - 4 * battery.ohms * drawn
    volts = (battery.full_v + math.sqrt(max(0.0, room))) / 2
    return BatteryState(volts, drawn / volts, room < 0)


def missing(supply: Supply, course: Course) -> list[str]:
    """What a source's judging needs and nobody has said: only what matters at these watts."""
    found, kind = supply.limits, supply.kind
    if kind not in ("generator", "inverter"):
        return []
    if found is None:
        return [f"what the {kind} gives"]
    names = {"running watts": found.running_w}
    most = max(row.volt_amps for row in course.stretches)
    # Within what it gives for ever at any power factor, no surge is asked for.
    if found.running_w is None or most > found.running_w:
        names |= {"surge watts": found.surge_w, "seconds of the surge": found.surge_s}
        if kind == "generator" and found.max_a is None:
            names["power factor of the generator"] = found.power_factor
    if kind == "inverter":
        battery = found.battery or Battery(None, None, None, None, None)
        names |= {
            "efficiency": found.efficiency, "idle watts": found.idle_w, "volts of the full battery": battery.full_v,
            "cut-off volts": battery.cutoff_v, "ohms of the battery": battery.ohms,
        }  # fmt: skip
    return [name for name, value in names.items() if value is None]


def overloads(supply: Supply, course: Course) -> Iterator[Overload]:
    """Everything at which the source gives up, or may, each at its first moment."""
    limits = supply.limits
    if limits is None:
        return
    if supply.kind == "generator":
        yield from _held(course, "generator", "W", limits, lambda stretch: stretch.watts, 1.0)
        yield from _alternator(supply, limits, course)
        yield from _economy(limits, course)
    else:
        yield from _held(course, "inverter", "VA", limits, lambda stretch: stretch.volt_amps, 1.0)
        yield from _battery(limits, course)


def _held(
    course: Course, about: str, unit: str, limits: Limits, of: Callable[[Stretch], float], per: float
) -> Iterator[Overload]:
    """Above the surge at all, or above what is given for ever for longer than the surge may last."""
    if limits.surge_w is not None:
        most = limits.surge_w / per
        over = next((row for row in course.stretches if of(row) > most * (1 + NO_TIME_S)), None)
        if over is not None:
            says = f"{of(over):.0f} {unit} are more than its surge of {most:.0f} {unit}"
            yield Overload(over.start_s, True, about, says, of(over), most, unit)
    if limits.running_w is None:
        return
    running, begun = limits.running_w / per, None
    for row in course.stretches:
        if of(row) <= running * (1 + NO_TIME_S):
            begun = None
            continue
        begun = row.start_s if begun is None else begun
        if limits.surge_s is not None and row.end_s - begun > limits.surge_s + NO_TIME_S:
            says = f"{of(row):.0f} {unit}, above {running:.0f} {unit} for longer than {limits.surge_s:g} s"
            yield Overload(max(row.start_s, begun + limits.surge_s), True, about, says, of(row), running, unit)
            return


def _alternator(supply: Supply, limits: Limits, course: Course) -> Iterator[Overload]:
    """The amperes of all legs against the alternator's, whatever their power factor."""

    def amps(stretch: Stretch) -> float:
        return sum(stretch.amps)

    if limits.max_a is not None:
        marked = Limits(None, limits.max_a, None, None)
        yield from _held(course, "alternator", "A", marked, amps, 1.0)
    elif limits.power_factor is not None:
        yield from _held(course, "alternator", "A", limits, amps, limits.power_factor * supply.volts)


def _economy(limits: Limits, course: Course) -> Iterator[Overload]:
    if not limits.economy or limits.running_w is None:
        return
    for row in course.stretches:
        if row.watts > limits.running_w:
            says = "idling down, the engine needs a moment to come up: turn economy off before the start"
            yield Overload(row.start_s, False, "generator", says, row.watts, limits.running_w, "W")
            return


def _battery(limits: Limits, course: Course) -> Iterator[Overload]:
    battery = limits.battery
    if battery is None or limits.efficiency is None or battery.cutoff_v is None:
        return
    for row in course.stretches:
        state = battery_state(battery, limits.efficiency, row.watts + (limits.idle_w or 0.0))
        if state and (state.collapses or state.volts < battery.cutoff_v):
            sags = "collapses" if state.collapses else f"sags to {state.volts:.2f} V"
            says = f"the battery {sags} under {state.amps:.0f} A: the inverter shuts off at {battery.cutoff_v:g} V"
            yield Overload(row.start_s, True, "battery", says, state.volts, battery.cutoff_v, "V")
            return


def limit_a(supply: Supply) -> float | None:
    """The amperes of all legs together that a generator or an inverter gives for ever; None where it has no limit."""
    limits = supply.limits
    if limits is None or limits.running_w is None:
        return None
    amps = limits.running_w / ((limits.power_factor or 1.0) * supply.volts)
    return amps if limits.max_a is None else min(amps, limits.max_a)


def runs_h(limits: Limits, settled_w: float) -> float | None:
    """How long a full battery lasts at the settled watts, h; None where it is not known or nothing is drawn."""
    battery, drawn = limits.battery, settled_w + (limits.idle_w or 0.0)
    if battery is None or battery.energy_wh is None or battery.usable is None or limits.efficiency is None or not drawn:
        return None
    return battery.energy_wh * battery.usable * limits.efficiency / drawn
