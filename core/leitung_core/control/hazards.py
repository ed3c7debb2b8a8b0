"""What is wrong in a state, by the codes of the open form; judged for many variants at once.

Each rule gives the things it is about and, for each variant, whether it holds.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from leitung_core.elements.conditions import Facts, read_expression
from leitung_core.elements.vocabulary import AcSource, Contact, Load
from leitung_core.solver.arrays import Bools, Ints
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Solution, contacts_of, loads_of
from leitung_core.solver.flow import branch_amps, winding_amps, winding_volts

SHORT_TIMES = 3
OVERLOAD = 1.05
ALIVE = 0.12  # of rated volts: below that a load counts as dead
TAP_OFF = 0.07
LINE_VOLTS = 90
LOW_RATING = 60
LIFTED_VOLTS = 60
CARRIES_A = 1e-3


@dataclass(frozen=True)
class Hazard:
    """A code, the things it is about, and in which variants it holds, (variants,)."""

    code: str
    about: tuple[str, ...]
    holds: Bools


@dataclass
class Case:
    """What the rules ask of a run, worked out once."""

    run: Solution

    def __post_init__(self) -> None:
        run, net = self.run, self.run.net
        self.net = net
        self.points = net.points(run.present)
        self.volts = run.volts_ac
        held = run.present.copy()
        held[contacts_of(net).branches] = True
        self.reachable = net.points(held)
        self.winding_volts = winding_volts(net, run.flow.ac)
        self.powered = _powered(self)
        self.sources = [(name, net.a[branch], net.b[branch]) for name, branch in net.of(AcSource)]
        alive = [np.ones(len(run.at), dtype=bool) for _ in net.ac]
        for number, core in enumerate(net.cores):
            secondary = net.windings[core.secondary]
            self.sources.append((core.name, secondary.a, secondary.b))
            alive.append(self.powered[number])
        self.alive = np.array(alive).reshape(len(alive), len(run.at))
        amps = winding_amps(net, run.flow.ac)
        self.secondary_amps = np.abs(amps[[core.secondary for core in net.cores]])

    def facts(self) -> Facts:
        """What the expressions of the network are judged on."""
        rows = {name: row for row, name in enumerate(loads_of(self.net).names)}
        none = np.zeros(len(self.run.at), dtype=bool)
        return Facts(
            lambda name: self.run.signals.get(name, none),
            lambda name: self.run.energised[rows[name]],
            self.run.at - self.run.begun,
        )

    def at_plus(self, node: int) -> Bools:
        """Whether a node is one point with the live side of a powered source."""
        return self._at([plus for _, plus, _ in self.sources], node)

    def at_source(self, node: int) -> Bools:
        """Whether a node is one point with either side of a powered source."""
        return self.at_plus(node) | self._at([minus for _, _, minus in self.sources], node)

    def reaches_source(self, node: int) -> Bools:
        """Whether a node would be one point with a side of a powered source if every contact were closed."""
        ends = [end for _, plus, minus in self.sources for end in (plus, minus)]
        alive = np.repeat(self.alive, 2, axis=0)
        return self._joined(ends, alive, node, self.reachable)

    def _at(self, ends: list[int], node: int) -> Bools:
        return self._joined(ends, self.alive, node, self.points)

    def _joined(self, ends: list[int], alive: Bools, node: int, points: Ints) -> Bools:
        found = np.zeros(len(self.run.at), dtype=bool)
        for row, end in enumerate(ends):
            found |= alive[row] & (points[end] == points[node])
        return found


def _powered(case: Case) -> Bools:
    """Which transformers are fed, (cores, variants): one tap's ends are both one point with sides of live sources.

    A winding that only has volts because its secondary is fed is none: behind an open disconnect it hangs on nothing.
    """
    net, points = case.net, case.points
    found = np.zeros((len(net.cores), len(case.run.at)), dtype=bool)
    lines = [end for branch in net.ac for end in (int(net.a[branch]), int(net.b[branch]))]
    for _ in range(3):  # a transformer behind a transformer, and one more
        for number, core in enumerate(net.cores):
            for index in core.primaries:
                winding = net.windings[index]
                alive = case.winding_volts[index] > ALIVE * winding.ratio * core.element.secondary_volts
                ends = [_at_live(net, points, found, lines, number, node) for node in (winding.a, winding.b)]
                found[number] |= alive & ends[0] & ends[1]
    return found


def _at_live(net: Compiled, points: Ints, powered: Bools, lines: list[int], own: int, node: int) -> Bools:
    """Whether a node is one point with a line source, or with the secondary of another transformer that is fed."""
    found = np.zeros(points.shape[1], dtype=bool)
    for end in lines:
        found |= points[end] == points[node]
    for number, core in enumerate(net.cores):
        if number != own:
            secondary = net.windings[core.secondary]
            for end in (secondary.a, secondary.b):
                found |= powered[number] & (points[end] == points[node])
    return found


def hazards(run: Solution) -> list[Hazard]:
    """Every hazard that holds in at least one variant."""
    case = Case(run)
    return [hazard for rule in RULES for hazard in rule(case) if hazard.holds.any()]


def _shorted(case: Case) -> Iterator[Hazard]:
    for number, core in enumerate(case.net.cores):
        ends = case.net.windings[core.secondary]
        joined = case.points[ends.a] == case.points[ends.b]
        above = case.secondary_amps[number] > SHORT_TIMES * core.va / core.element.secondary_volts
        yield Hazard("SHORTED_SECONDARY", (core.name,), case.powered[number] & joined & above)


def _tied(case: Case) -> Iterator[Hazard]:
    points = case.points
    for i, (one, plus, minus) in enumerate(case.sources):
        for j in range(i + 1, len(case.sources)):
            two, other_plus, other_minus = case.sources[j]
            same = (points[plus] == points[other_plus]) & (points[minus] == points[other_minus])
            turned = (points[plus] == points[other_minus]) & (points[minus] == points[other_plus])
            shorted = (points[plus] == points[minus]) | (points[other_plus] == points[other_minus])
            yield Hazard("SOURCES_TIED", (one, two), case.alive[i] & case.alive[j] & (same | turned) & ~shorted)


def _stopped(case: Case, facts: Facts) -> dict[str, Bools]:
    """For each load, whether an interlock that is to stop it is active."""
    found: dict[str, Bools] = {}
    for interlock in case.net.network.interlocks:
        active = read_expression(interlock.when).holds(facts)
        for name in interlock.must_stop:
            found[name] = found.get(name, np.zeros_like(active)) | active
    return found


def _calls(case: Case) -> Iterator[Hazard]:
    facts, rows = case.facts(), {name: row for row, name in enumerate(loads_of(case.net).names)}
    stopped = _stopped(case, facts)
    for name, text in case.net.network.intent.items():
        wanted, on = read_expression(text).holds(facts), case.run.energised[rows[name]]
        yield Hazard("LOAD_WITHOUT_CALL", (name,), on & ~wanted)
        yield Hazard("CALL_WITHOUT_LOAD", (name,), wanted & ~on & ~stopped.get(name, np.zeros_like(on)))
        yield Hazard("MISSING_COMMON", (name,), wanted & ~on & _no_return(case, rows[name]))


def _no_return(case: Case, row: int) -> Bools:
    """A load that is dead with one end at a live side, and the other cut off whatever contact closes."""
    loads = loads_of(case.net)
    a, b = int(case.net.a[loads.branches[row]]), int(case.net.b[loads.branches[row]])
    dead = case.volts[row] < ALIVE * loads.rated[row]
    found: Bools = dead & ((case.at_plus(a) & ~case.reaches_source(b)) | (case.at_plus(b) & ~case.reaches_source(a)))
    return found


def _both(case: Case) -> Iterator[Hazard]:
    text = case.net.network.heat_and_cool_when
    if text:
        expression = read_expression(text)
        yield Hazard("HEAT_AND_COOL", tuple(sorted(expression.loads)), expression.holds(case.facts()))


def _overload(case: Case) -> Iterator[Hazard]:
    for number, core in enumerate(case.net.cores):
        volts = case.winding_volts[core.secondary]
        yield Hazard("OVERLOAD_VA", (core.name,), volts * case.secondary_amps[number] > OVERLOAD * core.va)


def _low(case: Case) -> Iterator[Hazard]:
    loads = loads_of(case.net)
    for row, name in enumerate(loads.names):
        if not loads.on_dc[row]:
            volts = case.volts[row]
            yield Hazard("LOW_VOLTAGE", (name,), (volts > ALIVE * loads.rated[row]) & (volts < loads.pull_in[row]))


def _tap(case: Case) -> Iterator[Hazard]:
    """The tap that is judged is one of which both ends are at a source; the others float along."""
    for number, core in enumerate(case.net.cores):
        for index in core.primaries:
            winding, volts = case.net.windings[index], case.winding_volts[index]
            made_for = winding.ratio * core.element.secondary_volts
            fed = case.at_source(winding.a) & case.at_source(winding.b) & case.powered[number]
            yield Hazard("WRONG_TAP", (core.name,), fed & (np.abs(volts / made_for - 1) > TAP_OFF))


def _line_on_low(case: Case) -> Iterator[Hazard]:
    loads, run = loads_of(case.net), case.run
    for row, name in enumerate(loads.names):
        if loads.rated[row] <= LOW_RATING:
            yield Hazard("LINE_ON_SIGNAL", (name,), case.volts[row] >= LINE_VOLTS)
    reference = case.net.index.get(case.net.network.reference or "")
    if reference is None:
        return
    for core in case.net.cores:
        if core.element.secondary_volts <= LOW_RATING:
            winding = case.net.windings[core.secondary]
            ends = run.flow.ac[[winding.a, winding.b]] - run.flow.ac[reference]
            joined = run.flow.paths[winding.a] == run.flow.paths[reference]
            yield Hazard("LINE_ON_SIGNAL", (core.name,), joined & (np.abs(ends).max(axis=0) >= LIFTED_VOLTS))


def _data(case: Case) -> Iterator[Hazard]:
    net = case.net
    pairs = [
        (name, int(net.a[branch]), int(net.b[branch])) for name, branch in net.of(Load)
        if isinstance(element := net.element[name], Load) and element.is_data
    ]  # fmt: skip
    points = case.points
    for i, (one, a, b) in enumerate(pairs):
        for two, other_a, other_b in pairs[i + 1 :]:
            crossed = (points[a] == points[other_b]) | (points[b] == points[other_a])
            straight = (points[a] == points[other_a]) | (points[b] == points[other_b])
            yield Hazard("DATA_CROSSED", (one, two), crossed & ~straight)


def _dry(case: Case) -> Iterator[Hazard]:
    """A dry contact with one source's live side on one end and another's on the other, the contact itself left out."""
    net = case.net
    for name, branch in net.of(Contact):
        element = net.element[name]
        if not (isinstance(element, Contact) and element.dry):
            continue
        ends = int(net.a[branch]), int(net.b[branch])
        points = _points_without(case, branch, ends[0])
        sides = [[points[end] == points[plus] for _, plus, _ in case.sources] for end in ends]
        found = np.zeros(len(case.run.at), dtype=bool)
        for i in range(len(case.sources)):
            for j in range(len(case.sources)):
                if i != j:
                    found |= case.alive[i] & case.alive[j] & sides[0][i] & sides[1][j] & ~sides[0][j] & ~sides[1][i]
        yield Hazard("DRY_CONTACT_FED_TWICE", (name,), found)


def _points_without(case: Case, branch: int, end: int) -> Ints:
    """The points with one branch open, where that can matter: it is closed, and two live sides meet behind it."""
    live = np.zeros(len(case.run.at), dtype=np.int64)
    for row, (_, plus, _) in enumerate(case.sources):
        live += case.alive[row] & (case.points[plus] == case.points[end])
    closed = np.flatnonzero(case.run.present[branch] & (live > 1))
    if not len(closed):
        return case.points
    present = case.run.present[:, closed]
    present[branch] = False
    points = case.points.copy()
    points[:, closed] = case.net.points(present)
    return points


def _series(case: Case) -> Iterator[Hazard]:
    """Loads that carry current and meet at a point that is no side of any source."""
    net, loads = case.net, loads_of(case.net)
    amps = np.abs(branch_amps(net, case.run.flow.ac, case.run.present)[loads.branches]) > CARRIES_A
    low = case.volts < loads.pull_in[:, None]
    ends = [(int(net.a[branch]), int(net.b[branch])) for branch in loads.branches]
    nodes = sorted({node for pair in ends for node in pair})
    loose = {node: ~case.at_source(node) for node in nodes}
    for i, one in enumerate(loads.names):
        for j in range(i + 1, len(loads.names)):
            both = amps[i] & amps[j] & (low[i] | low[j])
            if both.any():
                meet = np.zeros_like(both)
                for x in ends[i]:
                    for y in ends[j]:
                        meet |= (case.points[x] == case.points[y]) & loose[x]
                yield Hazard("SERIES_LOADS", (one, loads.names[j]), both & meet)


def _chatter(case: Case) -> Iterator[Hazard]:
    yield Hazard("CHATTER", (), case.run.chatter)


def _interlocks(case: Case) -> Iterator[Hazard]:
    facts, rows = case.facts(), {name: row for row, name in enumerate(loads_of(case.net).names)}
    for interlock in case.net.network.interlocks:
        active = read_expression(interlock.when).holds(facts)
        for name in interlock.must_stop:
            yield Hazard("INTERLOCK_INEFFECTIVE", (name, interlock.when), active & case.run.energised[rows[name]])


RULES: tuple[Callable[[Case], Iterator[Hazard]], ...] = (
    _shorted, _tied, _calls, _both, _overload, _low, _tap, _line_on_low, _data, _dry, _series, _chatter, _interlocks,
)  # fmt: skip
