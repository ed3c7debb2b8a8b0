"""A trial on paper as an open document: a supply, the loads on it, and the calls that start them.

Any number may be a range `[low, high]`. What is left out is not known.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Annotated, Any, Literal, NamedTuple, Self, TypeAlias

from pydantic import Field, PlainValidator, WithJsonSchema, model_validator

from leitung_core.errors import InputError, Problem
from leitung_core.validation import Entered, Id, read

MOST_RANGES = 10


class Range(NamedTuple):
    """A figure, or what it lies between: low and high are the same where it is known."""

    low: float
    high: float

    @property
    def wide(self) -> bool:
        return self.low < self.high


def _figure(least: float, most: float, *, above: bool = False) -> Any:
    """A number or a range of numbers within bounds; `above`: the lower bound itself is none."""

    def number(value: Any) -> float:
        if isinstance(value, bool) or not isinstance(value, (int, float)):
            raise ValueError("must be a number, or a range [low, high] of two")
        if not math.isfinite(value):
            raise ValueError("must be a finite number")
        if value < least or (above and value == least):
            raise ValueError(f"must be above {least:g}" if above else f"must not be below {least:g}")
        if value > most:
            raise ValueError(f"must not be above {most:g}")
        return float(value)

    def figure(value: Any) -> Range:
        if not isinstance(value, list):
            return Range(number(value), number(value))
        if len(value) != 2:
            raise ValueError("a range has two numbers, [low, high]")
        found = Range(number(value[0]), number(value[1]))
        if found.low > found.high:
            raise ValueError("the range is upside down: write the lower number first")
        return found

    bounds = {"type": "number", "exclusiveMinimum" if above else "minimum": least, "maximum": most}
    pair = {"type": "array", "items": bounds, "minItems": 2, "maxItems": 2}
    return Annotated[Range, PlainValidator(figure), WithJsonSchema({"anyOf": [bounds, pair]})]


if TYPE_CHECKING:
    Volts: TypeAlias = Range
    Amps: TypeAlias = Range
    Rating: TypeAlias = Range
    Ohms: TypeAlias = Range
    Watts: TypeAlias = Range
    Seconds: TypeAlias = Range
    Share: TypeAlias = Range
    Times: TypeAlias = Range
else:
    Volts = _figure(1, 1000)
    Amps = _figure(0, 10_000)
    Rating = _figure(0, 10_000, above=True)
    Ohms = _figure(0, 100)
    Watts = _figure(0, 1_000_000)
    Seconds = _figure(0, 600)
    Share = _figure(0, 1, above=True)
    Times = _figure(1, 100)
Moment = Annotated[float, Field(strict=True, ge=0, le=10_000_000, allow_inf_nan=False)]
Leg = Literal[1, 2, "both"]


class Generator(Entered):
    """Watts for ever, watts for `surge_s`, and the alternator's current where it is marked."""

    running_w: Watts | None = None
    surge_w: Watts | None = None
    surge_s: Seconds | None = None
    power_factor: Share | None = None
    max_a: Amps | None = None
    economy: bool | None = Field(None, description="whether it idles down and needs a moment to come up")


class Battery(Entered):
    """Volts when full and at rest, volts at which the inverter shuts off, ohms, and what it holds."""

    nominal_v: Volts | None = None
    full_v: Volts | None = None
    cutoff_v: Volts | None = None
    ohms: Ohms | None = None
    energy_wh: Watts | None = None
    usable: Share | None = None


class Inverter(Entered):
    """Watts for ever and for `surge_s`; efficiency and idle draw; the battery behind it."""

    running_w: Watts | None = None
    surge_w: Watts | None = None
    surge_s: Seconds | None = None
    efficiency: Share | None = None
    idle_w: Watts | None = None
    battery: Battery | None = None


class Supply(Entered):
    """What feeds the units; `source_ohms` is a leg's source and conductors up to them, there and back."""

    kind: Literal["panel", "pedestal", "generator", "inverter"]
    volts: Volts
    legs: Literal[1, 2]
    breaker_a: Rating | None = None
    instant_x: Times | None = None
    source_ohms: Ohms | None = None
    generator: Generator | None = None
    inverter: Inverter | None = None


class Fan(Entered):
    """A fan: its current, and what it takes while it comes up."""

    running_a: Amps | None = None
    inrush_a: Amps | None = None
    inrush_s: Seconds | None = None
    power_factor: Share | None = None


class Compressor(Entered):
    """A compressor: running, with its rotor locked at plate volts, how long it takes to come up."""

    running_a: Amps | None = None
    locked_rotor_a: Amps | None = None
    start_s: Seconds | None = None
    power_factor: Share | None = Field(None, description="running")


class Aid(Entered):
    """What helps a compressor up. A soft starter's peak is the compressor's own current in the ramp."""

    kind: Literal["none", "hard_start", "soft_starter"] = "none"
    start_s: Seconds | None = Field(None, description="of a hard start: what the start takes with it")
    peak_a: Amps | None = None
    ramp_s: Seconds | None = None
    lockout_s: Seconds | None = Field(None, description="from the compressor's stop to the next start")
    power_factor: Share | None = None

    @model_validator(mode="after")
    def _fits(self) -> Self:
        given = {name for name in ("start_s", "peak_a", "ramp_s", "lockout_s", "power_factor")
                 if getattr(self, name) is not None}  # fmt: skip
        belongs = {"none": set(), "hard_start": {"start_s"}}.get(self.kind, given - {"start_s"})
        if given - belongs:
            raise ValueError(f"{' and '.join(sorted(given - belongs))} belongs to another kind of aid than {self.kind}")
        return self


class Load(Entered):
    """A load on a leg or between both: a steady one, or a unit with its fan and compressor."""

    id: Id
    leg: Leg
    steady_a: Amps | None = None
    fan: Fan | None = None
    compressor: Compressor | None = None
    aid: Aid | None = None
    compressor_after_s: Seconds | None = Field(None, description="from the call to the compressor")
    power_factor: Share | None = Field(None, description="of the steady current")


class Call(Entered):
    """A load called: on at `at_s`, off from `until_s`; left out: for ever."""

    at_s: Moment
    load: Id
    until_s: Moment | None = None


class Trial(Entered):
    """A supply, its loads, and what is called when."""

    supply: Supply
    loads: Annotated[list[Load], Field(max_length=100)]
    calls: Annotated[list[Call], Field(max_length=1000)]


def read_trial(data: Any, root: str = "") -> Trial:
    """A trial from JSON data. Raises InputError naming every field that does not fit."""
    trial = read(Trial, data, root)
    problems = [*_loads(trial, root), *_calls(trial, root), *_ranges(trial, root)]
    if problems:
        raise InputError(*problems[:20])
    return trial


def _at(root: str, field: str) -> str:
    return f"{root}.{field}" if root else field


def _loads(trial: Trial, root: str) -> list[Problem]:
    found, seen = [], set[str]()
    for index, load in enumerate(trial.loads):
        at = _at(root, f"loads.{index}")
        if load.id in seen:
            found.append(Problem(f"{at}.id", load.id, "another load has that name", "Give it another one."))
        seen.add(load.id)
        if load.leg in (2, "both") and trial.supply.legs == 1:
            message, remedy = "the supply has one hot leg", "Put the load on leg 1, or give the supply two legs."
            found.append(Problem(f"{at}.leg", load.leg, message, remedy))
        if load.steady_a is None and load.fan is None and load.compressor is None:
            remedy = "Give it steady_a, a fan or a compressor."
            found.append(Problem(at, load.id, "the load takes nothing that is said", remedy))
    return found


def _calls(trial: Trial, root: str) -> list[Problem]:
    known, found = {load.id for load in trial.loads}, []
    for index, call in enumerate(trial.calls):
        at = _at(root, f"calls.{index}")
        if call.load not in known:
            remedy = f"It has: {', '.join(sorted(known)) or 'none'}."
            found.append(Problem(f"{at}.load", call.load, "there is no such load", remedy))
        if call.until_s is not None and call.until_s <= call.at_s:
            message = "must be later than at_s"
            found.append(Problem(f"{at}.until_s", call.until_s, message, f"Give more than {call.at_s:g} s."))
    return found


def _ranges(trial: Trial, root: str) -> list[Problem]:
    number = len(wide_figures(trial))
    if number <= MOST_RANGES:
        return []
    remedy = f"Give figures for some: {MOST_RANGES} ranges can be judged together."
    return [Problem(root or "document", number, "has too many ranges", remedy)]


def wide_figures(part: Any, path: str = "") -> list[str]:
    """The paths of what is given as a range."""
    if isinstance(part, Range):
        return [path] if part.wide else []
    if isinstance(part, Entered):
        named = [(name, getattr(part, name)) for name in type(part).model_fields]
    elif isinstance(part, list):
        named = [(getattr(entry, "id", str(index)), entry) for index, entry in enumerate(part)]
    else:
        return []
    return [wide for name, entry in named for wide in wide_figures(entry, f"{path}.{name}" if path else name)]
