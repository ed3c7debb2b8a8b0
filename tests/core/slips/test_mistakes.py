"""Every single mistake of the string vault: judged as the changed plan would be, exposed by the tests, diagnosed."""

from __future__ import annotations

import numpy as np
import pytest
from leitung_core.control.solved import after_fuses
from leitung_core.control.system import System, system_with
from leitung_core.elements.vocabulary import Fuse
from leitung_core.slips.diagnosis import Reading, diagnose
from leitung_core.slips.fewest_tests import Choice, choose, meter_volts, outcomes
from leitung_core.slips.harm import Slips, readings, slips
from leitung_core.slips.report import report
from leitung_core.solver.arrays import Bools
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Solution, loads_of, settle
from leitung_core.solver.flow import branch_amps


@pytest.fixture(scope="module")
def vault(systems: dict[str, System]) -> System:
    return systems["AH-1"]


@pytest.fixture(scope="module")
def found(vault: System) -> Slips:
    return slips(vault)


@pytest.fixture(scope="module")
def choice(found: Slips) -> Choice:
    return choose(found)


def test_a_mistake_does_what_the_plan_changed_by_it_does(vault: System, found: Slips) -> None:
    """Every fourth mistake, solved anew from the plan with its landings changed: the same volts, the same loads on.

    Where a fuse or a breaker opens, after it did.
    """
    courses = [trial.course for trial in found.trials]
    for number, slip in list(enumerate(found.slips, 1))[::4]:
        if slip.mistake.patch is None:
            continue
        net = Compiled(system_with(vault, slip.mistake.patch).network)
        rows = [loads_of(net).names.index(name) for name in found.watched]
        state = settle(net, courses)
        volts, on = readings(state, found.pairs), state.energised[rows]
        for trial in np.flatnonzero(_blows(net, state)):
            opened = after_fuses(settle(net, [courses[trial]]))
            assert opened is not None
            volts[:, [trial]], on[:, [trial]] = readings(opened.run, found.pairs), opened.run.energised[rows]
        assert pytest.approx(found.volts[number], abs=0.02, rel=1e-3) == volts.T, slip.mistake.says
        assert (found.on[number] == on.T).all(), slip.mistake.says


def _blows(net: Compiled, state: Solution) -> Bools:
    """In which trials a fuse or a breaker carries more than its rating."""
    amps = np.abs(branch_amps(net, state.flow.ac, state.present))
    fuses = [(branch, net.element[name].amps) for name, branch in net.of(Fuse)]
    return np.any([amps[branch] > rating for branch, rating in fuses], axis=0)


def test_the_grave_ones_come_first_and_are_what_they_are_called(found: Slips) -> None:
    harm = {slip.mistake.id: slip.harm for slip in found.slips}
    assert harm["swap/W-AH1/b/black/green"] == "shock", "a leg on the case"
    assert harm["open/W-SH1/green"] == "shock", "a case without a ground"
    assert harm["swap/TC-1/b/blue/brown"] == "destroys", "the emergency call on common"
    assert harm["side/SL-4/a/red/sw.NC"] == "unsafe", "the airflow switch on its wrong side"
    assert harm["swap/TC-1/a/white/green"] == "unsafe", "the fan's call on the heat: it heats without air"
    assert harm["swap/TC-1/a/white/brown"] == "runs", "the emergency call and the heat call exchanged"
    assert harm["open/TC-1/white"] == "dead", "no heat"
    assert harm["swap/SL-1/b/red/white"] == "none", "a contact does not mind which way round"
    order = ("shock", "destroys", "unsafe", "runs", "dead", "wrong", "none")
    ranks = [order.index(slip.harm) for slip in found.slips]
    assert ranks == sorted(ranks)


def test_the_chosen_tests_expose_every_mistake_that_any_test_exposes(found: Slips, choice: Choice) -> None:
    """Solution: each mistake's own outcome of each chosen test differs from the sound plan's, beyond the meter."""
    exposed = set()
    for test in choice.tests:
        for number in range(1, len(found.volts)):
            if test.pair is None:
                differs = (found.on[number, test.trial] != found.on[0, test.trial]).any()
            else:
                one, two = found.volts[[0, number], test.trial, test.pair]
                differs = abs(one - two) > meter_volts(np.array(one)) + meter_volts(np.array(two))
            if differs:
                exposed.add(number - 1)
    _, exposes = outcomes(found)
    assert exposed == set(np.flatnonzero(exposes.any(axis=0)))
    assert exposed | set(choice.hidden) == set(range(len(found.slips)))
    assert choice.exact
    assert len(choice.tests) < 25


def test_no_test_can_be_left_out(found: Slips, choice: Choice) -> None:
    every = set().union(*map(set, choice.exposes))
    for left_out in range(len(choice.tests)):
        rest = set().union(*(set(e) for i, e in enumerate(choice.exposes) if i != left_out))
        assert rest < every


def test_an_injected_mistake_is_among_the_first_three(found: Slips, choice: Choice) -> None:
    """Every second detectable mistake, read with the noise of a meter: the chosen tests, then what is asked next.

    Mistakes that no reading tells apart count as one: the true one is found when its like is.
    """
    rng = np.random.default_rng(20261125)
    hits = []
    for number in range(1, len(found.volts), 2):
        if number - 1 in choice.hidden:
            continue
        taken = [entry for test in choice.tests for entry in _taken(found, number, test.trial, test.pair, rng)]
        for _ in range(4):
            following = diagnose(found, taken).following
            if following is None:
                break
            taken += _taken(found, number, following.trial, following.pair, rng)
        first = [suspect.slip for suspect in diagnose(found, taken).suspects[:3]]
        hits.append(number - 1 in first or any(s is not None and _alike(found, s + 1, number) for s in first))
    assert len(hits) > 60
    assert np.mean(hits) >= 0.95


def _taken(found: Slips, number: int, trial: int, pair: int | None, rng: np.random.Generator) -> list[Reading]:
    if pair is None:
        return [Reading(trial, watched=i, on=bool(found.on[number, trial, i])) for i in range(found.on.shape[2])]
    volts = float(found.volts[number, trial, pair])
    noise = float(rng.normal()) * float(meter_volts(np.array(volts))) / 2
    return [Reading(trial, pair, max(0.0, volts + noise))]


def _alike(found: Slips, one: int, two: int) -> bool:
    near = np.abs(found.volts[one] - found.volts[two]) <= 2 * meter_volts(found.volts[two])
    return bool(near.all() and (found.on[one] == found.on[two]).all())


def test_a_sound_set_of_readings_is_explained_by_the_plan_as_it_is(found: Slips, choice: Choice) -> None:
    rng = np.random.default_rng(7)
    taken = [entry for test in choice.tests for entry in _taken(found, 0, test.trial, test.pair, rng)]
    assert diagnose(found, taken).suspects[0].slip is None


def test_progress_is_told_and_may_stop_it(vault: System) -> None:
    told: list[float] = []

    class StopIt(Exception):  # noqa: N818
        pass

    def progress(share: float) -> None:
        told.append(share)
        if share > 0.3:
            raise StopIt

    with pytest.raises(StopIt):
        slips(vault, progress)
    assert told == sorted(told)
    assert told[-1] < 1


def test_the_report_tells_every_mistake_and_test(vault: System, found: Slips, choice: Choice) -> None:
    told, _ = report(vault)
    assert len(told.mistakes) == len(found.slips)
    assert sum(entry.count for entry in told.harms) == len(found.slips)
    assert len(told.tests) == len(choice.tests)
    shown = {row.id for row in told.mistakes if row.exposed_by or row.exposed_before}
    assert shown.isdisjoint(told.hidden)
    assert len(shown) + len(told.hidden) == len(found.slips)
    assert not told.only_live


def test_nothing_on_the_board_names_the_shorts_that_opened_its_fuse(found: Slips) -> None:
    """R to C of the board reads 0 V with line volts there: its 3 A fuse is open, and these are what opened it."""
    pairs = {pair: number for number, pair in enumerate(found.pairs)}
    line, control = pairs["AH-1.power.L1", "AH-1.power.L2"], pairs["AH-1.ctl.R", "AH-1.ctl.C"]
    idle = next(number for number, trial in enumerate(found.trials) if not trial.on and trial.before is None)
    seen = [Reading(idle, pair=line, volts=208.0), Reading(idle, pair=control, volts=0.0)]
    first = [suspect.slip for suspect in diagnose(found, seen).suspects[:2]]
    assert {found.slips[slip].mistake.id for slip in first if slip is not None} == {
        "bridge/AH-1.ctl.R/AH-1.ctl.C", "bridge/TS-1.base.C/TS-1.base.R",
    }  # fmt: skip


def test_a_signal_is_read_on_direct_current_with_its_sign(systems: dict[str, System]) -> None:
    """50 V behind 1000 and 500 ohm into an input of 50² / 0.25 = 10 000 ohm: 50 x 10 / 11.5 = 43.5 V; the demo's
    crossing of 1 and 3 at IU-1 leaves its input with line volts instead; at IU-2 all is well."""
    found = slips(systems["OU-1"])
    pair = found.pairs.index(("IU-2.unit.3", "IU-2.unit.2"))
    assert found.direct[pair]
    assert found.volts[0, 0, pair] == pytest.approx(50 * 10 / 11.5, abs=0.05)
    number = {slip.mistake.id: at for at, slip in enumerate(found.slips, 1)}
    assert found.volts[number["open/IC-2/red"], 0, pair] == pytest.approx(0, abs=0.01)
    assert not any(found.direct[at] for at, ends in enumerate(found.pairs) if ends[0].endswith("L1"))


def test_what_leaves_a_start_winding_without_its_phase_stalls_the_compressor(systems: dict[str, System]) -> None:
    """Open, shorted, straight on the line, or its lead on another winding's: it hums and burns. Elsewhere it does not.

    C and R exchanged (with the soft starter's leads, not with the line's) leaves both windings as they were.
    """
    harm = {slip.mistake.id: (slip.hazard, slip.harm) for slip in slips(systems["RU-1"]).slips}
    stalls = {ident for ident, (hazard, _) in harm.items() if hazard == "STALLED"}
    leads = {"black": "C", "white": "S", "red": "R"}
    starts = {f"swap/SC-1/{end}/{one}/{two}" for end in "ab" for one in leads for two in leads if leads[two] == "S"}
    starts |= {f"swap/SC-1/{end}/white/red" for end in "ab"}
    assert stalls & {ident for ident in harm if ident.startswith("swap/SC-1")} == starts & set(harm)
    assert {"open/SC-1/white", "open/SK-1/white", "bridge/SS-1.leads.RUN/SS-1.leads.START"} <= stalls
    assert all(harm[ident][1] == "destroys" for ident in stalls)
    assert not stalls & {ident for ident in harm if "TC-4" in ident or "W-RU1" in ident}
