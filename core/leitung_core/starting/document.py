"""A trial on paper as an open document: a supply, the loads on it, and the calls that start them.

Any number may be a range `[low, high]`. What is left out is not known.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from leitung_core.errors import InputError, Problem
from leitung_core.plan.feeds import Aid, Generator, Inverter, Manager
from leitung_core.ranges import Amps, Moment, Ohms, Range, Rating, Seconds, Share, Times, Volts
from leitung_core.validation import Entered, Id, read

MOST_RANGES = 10
Leg = Literal[1, 2, "both"]


class Feeder(Entered):
    """Conductors that several loads share, beyond source_ohms: ohms of a leg, there and back; left out: not known."""

    ohms: Ohms | None = None
    behind: Id | None = Field(None, description="the feeder that feeds it; left out: the supply")


class Supply(Entered):
    """What feeds the units; `source_ohms` is a leg's source and conductors up to them, there and back."""

    kind: Literal["panel", "pedestal", "generator", "inverter"]
    volts: Volts
    legs: Literal[1, 2]
    breaker_a: Rating | None = None
    instant_x: Times | None = None
    source_ohms: Ohms | None = None
    manager: Manager | None = None
    generator: Generator | None = None
    inverter: Inverter | None = None
    feeders: Annotated[dict[Id, Feeder], Field(max_length=50)] | None = None


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


class Load(Entered):
    """A load on a leg or between both: a steady one, or a unit with its fan and compressor.

    `steady_a: null` says that it takes something, and that nobody knows what; `branch_ohms: null` that it has
    conductors of its own, and that nobody knows theirs.
    """

    id: Id
    leg: Leg
    steady_a: Amps | None = None
    fan: Fan | None = None
    compressor: Compressor | None = None
    aid: Aid | None = None
    compressor_after_s: Seconds | None = Field(None, description="from the call to the compressor")
    power_factor: Share | None = Field(None, description="of the steady current")
    branch_ohms: Ohms | None = Field(
        None, description="of its own conductors, beyond source_ohms, there and back; left out: none"
    )
    behind: Id | None = Field(None, description="the feeder on which it hangs; left out: the supply")

    @property
    def takes_something(self) -> bool:
        return "steady_a" in self.model_fields_set or self.fan is not None or self.compressor is not None


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
    checks = (_feeders, _loads, _calls, _managed, _ranges)
    problems = [problem for check in checks for problem in check(trial, root)]
    if problems:
        raise InputError(*problems[:20])
    return trial


def _at(root: str, field: str) -> str:
    return f"{root}.{field}" if root else field


def _feeders(trial: Trial, root: str) -> list[Problem]:
    feeders = trial.supply.feeders or {}
    remedy = f"It has: {', '.join(sorted(feeders)) or 'none'}."
    named = {f"supply.feeders.{key}.behind": row.behind for key, row in feeders.items()}
    named |= {f"loads.{index}.behind": load.behind for index, load in enumerate(trial.loads)}
    found = [
        Problem(_at(root, field), key, "there is no such feeder", remedy)
        for field, key in named.items() if key is not None and key not in feeders
    ]  # fmt: skip
    for key, row in feeders.items():
        above, seen = row.behind, {key}
        while above in feeders and above not in seen:
            seen.add(above)
            above = feeders[above].behind
        if above in seen:
            remedy = "One of them hangs on the supply: leave its `behind` out."
            found.append(Problem(_at(root, f"supply.feeders.{key}.behind"), row.behind, "feeds itself", remedy))
    return found


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
        if not load.takes_something:
            remedy = "Give it steady_a (null where it is not known), a fan or a compressor."
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


def _managed(trial: Trial, root: str) -> list[Problem]:
    manager, known = trial.supply.manager, {load.id for load in trial.loads}
    unknown = [key for key in manager.loads if key not in known] if manager else []
    remedy = f"It has: {', '.join(sorted(known)) or 'none'}."
    return [Problem(_at(root, "supply.manager.loads"), key, "there is no such load", remedy) for key in unknown]


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
    elif isinstance(part, dict):
        named = list(part.items())
    elif isinstance(part, list):
        named = [(getattr(entry, "id", str(index)), entry) for index, entry in enumerate(part)]
    else:
        return []
    return [wide for name, entry in named for wide in wide_figures(entry, f"{path}.{name}" if path else name)]
