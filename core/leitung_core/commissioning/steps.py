"""Start-up as data: steps in the order of the work, what each needs, what is read and tried in it, its minutes."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict

from leitung_core.catalogue.device import Code
from leitung_core.commissioning.landed import LandingItem
from leitung_core.commissioning.set_up import SetUpItem
from leitung_core.commissioning.tests import FunctionalTest

Phase = Literal["survey", "lock_out", "before_power", "energise", "running", "proofs", "leave"]
Tells = Literal["between", "running", "ground", "current", "control", "rise"]
Does = Literal["open", "close", "read", "test", "hold", "do"]


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True)


class Asked(_Frozen):
    """A value that is written down with a step: its unit, and the most that it may be, that limit included."""

    unit: Literal["V", "Ω"]
    most: float


class StartStep(_Frozen):
    """Something to do. `key` is stable: records refer to it. `about`: the source, the line or the system's head.

    lines: those of which something is energised in it.
    needs: keys of the steps that come first. hold: what may not be passed lightly. device: what is moved by hand.
    A step with reads, tests, settings, landings or trials is done when they are recorded; any other is ticked.
    minutes: by hand; wait_s: what runs by itself after them, while something else can be done. undone_by: the step
    after which it no longer holds, as a lock that is taken off again.
    """

    key: str
    about: str
    phase: Phase
    text: str
    lines: list[str] = []
    caution: str | None = None
    needs: list[str] = []
    hold: bool = False
    does: Does = "do"
    device: str | None = None
    reads: list[str] = []
    tests: list[str] = []
    settings: list[str] = []
    landings: list[str] = []
    trials: list[str] = []
    asks: Asked | None = None
    minutes: float = 1
    wait_s: float = 0
    undone_by: str | None = None

    @property
    def recorded(self) -> tuple[str, ...]:
        """The keys of everything that is recorded in it."""
        return (*self.reads, *self.tests, *self.settings, *self.landings, *self.trials)

    @property
    def proved_by_records(self) -> bool:
        """Whether it is done by what is recorded in it, and not by a tick."""
        return bool(self.recorded)


class ReadingPoint(_Frozen):
    """Something to measure. `low` and `high` bound what it should read; `basis` says why; None: cannot be judged.

    state: nothing draws (no_load) or what is called runs (running). `near_low` and `near_high` bound what this supply
    should give. A current names the volts read with it: `volts_key`; what is `resistive` draws in proportion to them,
    from what it draws `at_volts`. A power names its current too: `amps_key`, and the least `power_factor` that is
    likely. `split`: two legs of 180°. `dc`: direct volts, plus first. if_wrong: the
    mistakes that it may be where it reads outside, the likeliest first. tells: by which of the usual meanings a reading
    outside is told. wiring: what was read holds while its system is wired so; empty where wiring is not what it tells.
    """

    key: str
    about: str
    text: str
    terminal_from: str
    terminal_to: str
    unit: Literal["V", "A", "Ω", "MΩ", "kW", "°F"]
    state: Literal["no_load", "running"]
    expected: float | None
    low: float | None
    high: float | None
    basis: str
    near_low: float | None = None
    near_high: float | None = None
    volts_key: str | None = None
    amps_key: str | None = None
    at_volts: float | None = None
    power_factor: float | None = None
    phases: int | None = None
    resistive: bool = False
    split: bool = False
    dc: bool = False
    if_wrong: list[str] = []
    tells: Tells | None = None
    wiring: str = ""


class PhaseOfWork(_Frozen):
    """A phase of start-up: its name, and whether something is live in it."""

    id: Phase
    name: str
    live: bool


PHASES_OF_WORK = [
    PhaseOfWork(id="survey", name="Before anything is touched", live=False),
    PhaseOfWork(id="lock_out", name="Lock out, prove dead", live=False),
    PhaseOfWork(id="before_power", name="Before power", live=False),
    PhaseOfWork(id="energise", name="First energising", live=True),
    PhaseOfWork(id="running", name="Calls and readings", live=True),
    PhaseOfWork(id="proofs", name="Interlocks proved", live=True),
    PhaseOfWork(id="leave", name="Leave it in order", live=False),
]
ORDER: dict[Phase, int] = {phase.id: place for place, phase in enumerate(PHASES_OF_WORK)}


class WorkPart(_Frozen):
    """A part of the work: a source, a line, a control system. `lines`: those that belong to it."""

    about: str
    name: str
    lines: list[str]


class Lights(_Frozen):
    """What the lights and numbers of a device mean; `about`: the part of the work to which it belongs."""

    device: str
    name: str
    about: str
    codes: list[Code]


class Clock(_Frozen):
    """How long it takes with every wait waited out, and with waits used for other work; minutes, one pair of hands."""

    one_after_another_min: float
    interleaved_min: float


class StartUp(_Frozen):
    """The start-up of a whole plan, in the order of the work: what to do, measure, try, set and tick."""

    phases: list[PhaseOfWork]
    parts: list[WorkPart]
    steps: list[StartStep]
    readings: list[ReadingPoint]
    tests: list[FunctionalTest]
    set_up: list[SetUpItem]
    landings: list[LandingItem]
    shown: list[Lights] = []
    clock: Clock

    def by_key(self) -> dict[str, StartStep]:
        """Every step by its key."""
        return {step.key: step for step in self.steps}

    def step_of(self, kind: Literal["reads", "tests", "settings", "landings", "trials"], key: str) -> StartStep | None:
        """The step in which something is recorded."""
        return next((step for step in self.steps if key in getattr(step, kind)), None)

    def touched_by(self, key: str) -> StartUp:
        """As much of it as an entry under a key can change: what is judged with it, and the steps that need it."""
        about = {point.about for point in self.readings if point.key == key}
        devices = {item.device for item in self.landings if item.key == key}
        readings = [point for point in self.readings if point.about in about]
        keys = {key} | {point.key for point in readings}
        own = {step.key for step in self.steps if step.key == key or not keys.isdisjoint(step.recorded)}
        changed = own | {step.key for step in self.steps if step.undone_by in own}
        return self.model_copy(update={
            "steps": [step for step in self.steps if step.key in own or not changed.isdisjoint(step.needs)],
            "readings": readings,
            "tests": [test for test in self.tests if test.key == key],
            "set_up": [item for item in self.set_up if item.key == key],
            "landings": [item for item in self.landings if item.device in devices],
        })  # fmt: skip


def in_order(steps: Iterable[StartStep]) -> list[StartStep]:
    """Phase by phase; within one as they came, which keeps what each needs before it."""
    return sorted(steps, key=lambda step: ORDER[step.phase])


def unmet(step: StartStep, by_key: Mapping[str, StartStep], done: Collection[str]) -> list[StartStep]:
    """What a step needs and nobody has done, or what has been undone since."""
    needed = (by_key[key] for key in step.needs)
    return [other for other in needed if other.key not in done or other.undone_by in done]


def say_missing(step: StartStep, missing: Sequence[StartStep]) -> str:
    """What comes before a step, in words, with its part of the work where that is another; empty where nothing does."""
    if not missing:
        return ""
    first, more = missing[0], len(missing) - 1
    at = "" if first.about == step.about else f"{first.about.partition('/')[2]}: "
    return f"First: {at}{first.text}{f' And {more} more.' if more else ''}"


def is_live(step: StartStep) -> bool:
    """Whether something is energised when a step is done."""
    return PHASES_OF_WORK[ORDER[step.phase]].live
