"""All single mistakes of a system as plain data: what each does, the tests that expose them, what stays hidden."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from pydantic import BaseModel, ConfigDict

from leitung_core.control.system import System
from leitung_core.elements.vocabulary import Load
from leitung_core.slips.before_power import before_power
from leitung_core.slips.dead_tests import JOINED_OHMS, SHORT_OHMS, DeadTest
from leitung_core.slips.fewest_tests import METER_SHARE, METER_VOLTS, choose, meter_volts
from leitung_core.slips.harm import HARM_WORDS, HARMS, Harm, Slip, Slips, slips

DEAD = (
    "Breakers off, locked and proved dead; control fuses out; each line's neutral off its bar; everything else landed."
)


class Reported(BaseModel):
    """A part of the report."""

    model_config = ConfigDict(frozen=True)


class TrialShown(Reported):
    """What is on in a trial, and what was on for ten minutes before."""

    on: list[str]
    before: list[str] | None
    says: str


class MistakeShown(Reported):
    """A mistake and what it does; `trial` is the number of the first in which that shows.

    exposed_by, exposed_before: the tests that expose it, under power and before, by their number from 0.
    """

    id: str
    kind: str
    says: str
    about: str
    harm: Harm
    what: str | None
    hazard: str | None
    hazard_about: list[str]
    trial: int | None
    exposed_by: list[int]
    exposed_before: list[int] = []
    patch: dict[str, Any] | None


class TestShown(Reported):
    """A test: the trial, the leads or none, what is to be found, and how many mistakes it exposes.

    runs: what is to run, without leads. volts and tolerance_v: what a meter is to read, with leads; `direct`: on
    direct current, with its sign.
    """

    __test__ = False
    trial: int
    says: str
    a: str | None
    b: str | None
    volts: float | None
    tolerance_v: float | None
    direct: bool = False
    runs: list[str]
    still: list[str]
    exposes: int


class BeforeShown(Reported):
    """A test before power: ohms between two terminals, in words where the leads go and what they are to find."""

    a: str
    b: str
    says: str
    joined: bool
    finds: str
    exposes: int


class HarmShown(Reported):
    harm: Harm
    says: str
    count: int


class Report(Reported):
    """A system's mistakes, the gravest first.

    before: the tests before power; dead: in what state they are made; only_live: mistakes that shock or destroy and
    that none of these shows. hidden: those that no test shows, before power or under it.
    """

    system: str
    title: str
    trials: list[TrialShown]
    harms: list[HarmShown]
    mistakes: list[MistakeShown]
    tests: list[TestShown]
    before: list[BeforeShown] = []
    dead: str = DEAD
    only_live: list[str] = []
    hidden: list[str]
    exact: bool
    meter: str


def report(system: System, progress: Callable[[float], None] | None = None) -> tuple[Report, Slips]:
    """Carry every single mistake through every call, and choose the tests. `progress` may raise to stop."""
    found = slips(system, progress)
    choice = choose(found)
    dead = before_power(system, found, choice.hidden)
    live, before = _by_slip(choice.exposes), _by_slip([test.exposes for test in dead.tests])
    counts = {harm: sum(slip.harm == harm for slip in found.slips) for harm in HARMS}
    told = Report(
        system=system.key,
        title=system.title,
        trials=[
            TrialShown(on=sorted(t.on), before=sorted(t.before) if t.before is not None else None, says=t.says)
            for t in found.trials
        ],
        harms=[HarmShown(harm=harm, says=HARM_WORDS[harm], count=counts[harm]) for harm in HARMS if counts[harm]],
        mistakes=[_mistake(system, slip, live.get(i, []), before.get(i, [])) for i, slip in enumerate(found.slips)],
        tests=[
            _test(system, found, test.trial, test.pair, len(exposes))
            for test, exposes in zip(choice.tests, choice.exposes, strict=True)
        ],
        before=[_before(system, test) for test in dead.tests],
        only_live=[found.slips[i].mistake.id for i in dead.left],
        hidden=[found.slips[i].mistake.id for i in choice.hidden if i not in before],
        exact=choice.exact,
        meter=f"{METER_SHARE:.0%} and {METER_VOLTS:g} V",
    )
    return told, found


def _by_slip(exposes: Sequence[Sequence[int]]) -> dict[int, list[int]]:
    """For each mistake, the tests that expose it."""
    found: dict[int, list[int]] = {}
    for number, slips_of in enumerate(exposes):
        for slip in slips_of:
            found.setdefault(slip, []).append(number)
    return found


def _mistake(system: System, slip: Slip, exposed_by: list[int], before: list[int]) -> MistakeShown:
    mistake = slip.mistake
    return MistakeShown(
        id=mistake.id, kind=mistake.kind, says=mistake.says, about=mistake.about, harm=slip.harm,
        what=what_it_does(system, slip), hazard=slip.hazard, hazard_about=list(slip.about), trial=slip.trial,
        exposed_by=exposed_by, exposed_before=before, patch=mistake.patch,
    )  # fmt: skip


def what_it_does(system: System, slip: Slip) -> str | None:
    """What a mistake does, in few words."""
    if slip.hazard is None:
        return None
    name = system.motor(slip.about[0]) if slip.about and "." in slip.about[0] else slip.about[0] if slip.about else ""
    device = slip.about[0].rpartition(".")[0] if slip.about else ""
    return {
        "CASE_LIVE": f"the case of {name} is live",
        "GROUND_OPEN": f"the case of {name} has no ground",
        "GROUND_CARRIES": f"current runs over the ground of {name}",
        "FUSE_OPENS": f"{'the breaker' if '.TRIP' in (slip.about or ('',))[0] else 'the fuse'} of {device} opens",
        "SHORTED_SECONDARY": f"the transformer of {device} is shorted",
        "SOURCES_TIED": "two supplies are tied together",
        "LINE_ON_SIGNAL": f"line voltage on {name}",
        "OVERLOAD_VA": f"the transformer of {device} gives too much",
        "OVER_VOLTAGE": f"{name} gets too many volts",
        "HEAT_WITHOUT_AIR": f"{name} is on without air",
        "DEAD_SAFETY": f"{name} has no supply when it is to act",
        "INTERLOCK_INEFFECTIVE": f"{name} goes on when it must stop",
        "LOAD_WITHOUT_CALL": f"{name} is on without a call",
        "HEAT_AND_COOL": "heat and cooling run at once",
        "CALL_WITHOUT_LOAD": f"{device} powers up and does not talk"
        if _is_signal(system, slip)
        else f"{name} stays off",
        "MISSING_COMMON": f"{name} has no return",
        "CHATTER": "a relay chatters",
        "LOW_VOLTAGE": f"{name} gets too few volts",
        "WRONG_TAP": f"the transformer of {device} is on the wrong tap",
        "SERIES_LOADS": f"{name} lies in series with another load",
        "DRY_CONTACT_FED_TWICE": "a dry contact is fed twice",
        "DATA_CROSSED": "a data pair is crossed",
    }.get(slip.hazard, slip.hazard)


def _is_signal(system: System, slip: Slip) -> bool:
    return any(isinstance(part := system.by_name.get(name), Load) and part.is_polar for name in slip.about)


def _test(system: System, found: Slips, trial: int, pair: int | None, exposes: int) -> TestShown:
    says = f"With {found.trials[trial].says}"
    if pair is None:
        on = [name for name, runs in zip(found.watched, found.on[0, trial], strict=True) if runs]
        still = [name for name, runs in zip(found.watched, found.on[0, trial], strict=True) if not runs]
        words = list(dict.fromkeys(system.motor(name) for name in on))
        return TestShown(
            trial=trial, says=f"{says}: look what runs.", a=None, b=None, volts=None, tolerance_v=None, runs=words,
            still=list(dict.fromkeys(system.motor(name) for name in still)), exposes=exposes,
        )  # fmt: skip
    a, b = found.pairs[pair]
    volts = float(found.volts[0, trial, pair])
    return TestShown(
        trial=trial, says=f"{says}: read {lead(a)} to {lead(b)}.", a=a, b=b, volts=round(volts, 1),
        direct=found.direct[pair],
        tolerance_v=round(float(meter_volts(np.array(volts))), 1), runs=[], still=[], exposes=exposes,
    )  # fmt: skip


def _before(system: System, test: DeadTest) -> BeforeShown:
    bars = {f"{piece['id']}.G": f"the ground bar of {piece['id']}" for piece in system.built.pieces
            if piece["kind"] == "panel"}  # fmt: skip
    far = bars.get(test.b) or lead(test.b)
    finds = (
        f"joined: under {JOINED_OHMS:g} ohm" if test.joined
        else "open: no reading" if test.apart
        else f"no short: over {SHORT_OHMS:g} ohms"
    )  # fmt: skip
    return BeforeShown(
        a=test.a, b=test.b, says=f"{lead(test.a)} to {far}", joined=test.joined, finds=finds, exposes=len(test.exposes)
    )


def lead(node: str) -> str:
    """`R of AH-1`."""
    device, _, terminal = node.partition(".")
    return f"{terminal.rpartition('.')[2]} of {device}"
