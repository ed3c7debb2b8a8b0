"""What is wrong in a state, by the codes of the open form; judged for many variants at once.

Each rule gives the things it is about and, for each variant, whether it holds.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations

import numpy as np

from leitung_core.control.waiting import waiting
from leitung_core.elements.conditions import Facts, read_expression
from leitung_core.elements.vocabulary import CONTROL_VOLTS, AcSource, Contact, DcSource, Load
from leitung_core.solver.arrays import Bools, Ints
from leitung_core.solver.compiled import Compiled, Core
from leitung_core.solver.contacts import HEATS_FROM, Solution, contacts_of, loads_of
from leitung_core.solver.flow import across, branch_amps, winding_amps

SHORT_TIMES = 3
OVERLOAD = 1.05
ALIVE = 0.12  # of rated volts: below that a load counts as dead
TAP_OFF = 0.07
LINE_VOLTS = 90
LIFTED_VOLTS = 60
CARRIES_A = 1e-3
SERIES_FROM = 0.1  # of its rated volts
TOO_MANY = 1.2  # times its rated volts
REVERSED_FROM = 0.5  # of its rated volts, the wrong way round


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
        self.primaries = [primaries_of(net, core) for core in net.cores]
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
        self.shorted = [_is_shorted(self, number) for number in range(len(net.cores))]

    def facts(self) -> Facts:
        """What the expressions of the network are judged on."""
        rows = {name: row for row, name in enumerate(loads_of(self.net).names)}
        none = np.zeros(len(self.run.at), dtype=bool)
        return Facts(
            lambda name: self.run.signals.get(name, none),
            lambda name: self.run.energised[rows[name]],
            self.run.at - self.run.begun,
        )

    def at_source(self, node: int) -> Bools:
        """Whether a node is one point with either side of a powered source."""
        return self._at([plus for _, plus, _ in self.sources], node) | self._at(
            [minus for _, _, minus in self.sources], node
        )

    def reaches_return(self, node: int, live: int) -> Bools:
        """Whether a node would be one point with a side of a powered source, other than the live side at `live`, if
        every contact were closed."""
        found = np.zeros(len(self.run.at), dtype=bool)
        for row, (_, plus, minus) in enumerate(self.sources):
            for end in (plus, minus):
                other = self.points[end] != self.points[live]
                found |= self.alive[row] & other & (self.reachable[end] == self.reachable[node])
        return found

    def live_and_sound(self, node: int) -> Bools:
        """Whether a node is one point with the live side of a powered source whose secondary is not shorted."""
        lines = len(self.net.ac)
        found = np.zeros(len(self.run.at), dtype=bool)
        for row, (_, plus, _) in enumerate(self.sources):
            sound = ~self.shorted[row - lines] if row >= lines else np.ones(len(self.run.at), dtype=bool)
            found |= self.alive[row] & sound & (self.points[plus] == self.points[node])
        return found

    def _at(self, ends: list[int], node: int) -> Bools:
        """Whether a node is one point with the end of a powered source; one end for each."""
        found = np.zeros(len(self.run.at), dtype=bool)
        for row, end in enumerate(ends):
            found |= self.alive[row] & (self.points[end] == self.points[node])
        return found

    @cached_property
    def interlocked(self) -> tuple[dict[str, Bools], dict[str, Bools]]:
        """For each load, whether an interlock that must stop it is active, and whether one that may."""
        must: dict[str, Bools] = {}
        may: dict[str, Bools] = {}
        facts = self.facts()
        for interlock in self.net.network.interlocks:
            active = read_expression(interlock.when).holds(facts)
            for found, names in ((must, interlock.must_stop), (may, interlock.may_stop)):
                for name in names:
                    found[name] = found.get(name, np.zeros_like(active)) | active
        return must, may


def _is_shorted(case: Case, number: int) -> Bools:
    """Whether a secondary is joined by conductors and closed contacts alone, far above its rating."""
    core = case.net.cores[number]
    ends = case.net.windings[core.secondary]
    joined = case.points[ends.a] == case.points[ends.b]
    above = case.secondary_amps[number] > SHORT_TIMES * core.va / core.element.secondary_volts
    return np.asarray(case.powered[number] & joined & above)


@dataclass(frozen=True)
class Primary:
    """Two terminals between which a transformer may be fed, and the volts that they are made for."""

    a: int
    b: int
    volts: float


def primaries_of(net: Compiled, core: Core) -> list[Primary]:
    """Every pair of a transformer's primary terminals: each tap against the common, and taps against each other."""
    taps = [net.windings[index] for index in core.primaries]
    made_for = [winding.ratio * core.element.secondary_volts for winding in taps]
    found = [Primary(winding.a, winding.b, volts) for winding, volts in zip(taps, made_for, strict=True)]
    for (one, first), (two, second) in combinations(zip(taps, made_for, strict=True), 2):
        if first != second:
            found.append(Primary(one.a, two.a, abs(first - second)))
    return found


def _powered(case: Case) -> Bools:
    """Which transformers are fed, (cores, variants): two primary terminals are each one point with a live side.

    A winding that only has volts because its secondary is fed is none: behind an open disconnect it hangs on nothing.
    """
    net, points, ac = case.net, case.points, case.run.flow.ac
    found = np.zeros((len(net.cores), len(case.run.at)), dtype=bool)
    lines = [end for branch in net.ac for end in (int(net.a[branch]), int(net.b[branch]))]
    for _ in range(3):  # a transformer behind a transformer, and one more
        for number, pairs in enumerate(case.primaries):
            for pair in pairs:
                alive = np.abs(ac[pair.a] - ac[pair.b]) > ALIVE * pair.volts
                ends = [_at_live(net, points, found, lines, number, node) for node in (pair.a, pair.b)]
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
        yield Hazard("SHORTED_SECONDARY", (core.name,), case.shorted[number])


def _tied(case: Case) -> Iterator[Hazard]:
    points = case.points
    for i, (one, plus, minus) in enumerate(case.sources):
        for j in range(i + 1, len(case.sources)):
            two, other_plus, other_minus = case.sources[j]
            same = (points[plus] == points[other_plus]) & (points[minus] == points[other_minus])
            turned = (points[plus] == points[other_minus]) & (points[minus] == points[other_plus])
            shorted = (points[plus] == points[minus]) | (points[other_plus] == points[other_minus])
            yield Hazard("SOURCES_TIED", (one, two), case.alive[i] & case.alive[j] & (same | turned) & ~shorted)


def _calls(case: Case) -> Iterator[Hazard]:
    facts, rows = case.facts(), {name: row for row, name in enumerate(loads_of(case.net).names)}
    must, may = case.interlocked
    waits = waiting(case.run) if case.net.network.planned_delays else None
    for name, text in case.net.network.intent.items():
        wanted, on = read_expression(text).holds(facts), case.run.energised[rows[name]]
        none = np.zeros_like(on)
        judged = ~may.get(name, none) & ~(waits[rows[name]] if waits is not None else none)
        yield Hazard("LOAD_WITHOUT_CALL", (name,), judged & on & ~wanted)
        yield Hazard("CALL_WITHOUT_LOAD", (name,), judged & wanted & ~on & ~must.get(name, none))
        yield Hazard("MISSING_COMMON", (name,), wanted & ~on & _no_return(case, rows[name]))


def _no_return(case: Case, row: int) -> Bools:
    """A load that is dead with one end at a live side, and the other cut off from every return whatever contact closes.

    What only lacks its signal is not meant.
    """
    loads = loads_of(case.net)
    if loads.polar[row]:
        return np.zeros(len(case.run.at), dtype=bool)
    a, b = int(case.net.a[loads.branches[row]]), int(case.net.b[loads.branches[row]])
    dead = case.volts[row] < ALIVE * loads.rated[row]
    found: Bools = dead & (
        (case.live_and_sound(a) & ~case.reaches_return(b, a)) | (case.live_and_sound(b) & ~case.reaches_return(a, b))
    )
    return found


def _both(case: Case) -> Iterator[Hazard]:
    text = case.net.network.heat_and_cool_when
    if text:
        expression = read_expression(text)
        yield Hazard("HEAT_AND_COOL", tuple(sorted(expression.loads)), expression.holds(case.facts()))


def _overload(case: Case) -> Iterator[Hazard]:
    """By amperes at the rated volts: amperes heat the winding, and volts that sag do not relieve it."""
    for number, core in enumerate(case.net.cores):
        asked = core.element.secondary_volts * case.secondary_amps[number]
        yield Hazard("OVERLOAD_VA", (core.name,), asked > OVERLOAD * core.va)


def _low(case: Case) -> Iterator[Hazard]:
    loads = loads_of(case.net)
    for row, name in enumerate(loads.names):
        if not loads.on_dc[row]:
            volts = case.volts[row]
            yield Hazard("LOW_VOLTAGE", (name,), (volts > ALIVE * loads.rated[row]) & (volts < loads.pull_in[row]))


def _stalled(case: Case) -> Iterator[Hazard]:
    """A motor with volts enough that does not turn, for its start winding does nothing: it draws as if locked."""
    loads = loads_of(case.net)
    for row in loads.motors:
        fed = case.volts[row] >= loads.pull_in[row]
        yield Hazard("STALLED", (loads.names[row],), fed & ~case.run.energised[row])


def _tap(case: Case) -> Iterator[Hazard]:
    """The pair that is judged is one of which both ends are at a source; the others float along."""
    ac = case.run.flow.ac
    for number, core in enumerate(case.net.cores):
        for pair in case.primaries[number]:
            fed = case.at_source(pair.a) & case.at_source(pair.b) & case.powered[number]
            apart = case.points[pair.a] != case.points[pair.b]
            off = np.abs(np.abs(ac[pair.a] - ac[pair.b]) / pair.volts - 1) > TAP_OFF
            yield Hazard("WRONG_TAP", (core.name,), fed & apart & off)


def _line_on_low(case: Case) -> Iterator[Hazard]:
    loads, run = loads_of(case.net), case.run
    for row, name in enumerate(loads.names):
        if loads.rated[row] <= CONTROL_VOLTS:
            yield Hazard("LINE_ON_SIGNAL", (name,), case.volts[row] >= LINE_VOLTS)
    for name, branch in case.net.of(DcSource):
        if abs(case.net.emf_dc[branch]) <= CONTROL_VOLTS:
            volts = np.abs(run.flow.ac[case.net.a[branch]] - run.flow.ac[case.net.b[branch]])
            yield Hazard("LINE_ON_SIGNAL", (name,), volts >= LINE_VOLTS)
    for core in case.net.cores:
        if core.element.secondary_volts <= CONTROL_VOLTS:
            winding, lifted = case.net.windings[core.secondary], np.zeros(len(run.at), dtype=bool)
            for neutral in {int(case.net.b[branch]) for branch in case.net.ac}:
                ends = run.flow.ac[[winding.a, winding.b]] - run.flow.ac[neutral]
                joined = run.flow.paths[winding.a] == run.flow.paths[neutral]
                lifted |= joined & (np.abs(ends).max(axis=0) >= LIFTED_VOLTS)
            yield Hazard("LINE_ON_SIGNAL", (core.name,), lifted)


def _too_many(case: Case) -> Iterator[Hazard]:
    """More volts than a low-voltage load, coil or input is made for, and not line voltage yet."""
    loads, run = loads_of(case.net), case.run
    direct = np.abs(across(case.net, run.flow.dc)[loads.branches]) if run.flow.dc is not None else None
    for row, name in enumerate(loads.names):
        if loads.rated[row] <= CONTROL_VOLTS:
            alternating = case.volts[row]
            over = (alternating > TOO_MANY * loads.rated[row]) & (alternating < LINE_VOLTS)
            if direct is not None and loads.on_dc[row]:
                over |= direct[row] > TOO_MANY * loads.rated[row]
            yield Hazard("OVER_VOLTAGE", (name,), over)


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


def _reversed(case: Case) -> Iterator[Hazard]:
    """A data or signal input on which the signal stands the wrong way round."""
    loads, direct = loads_of(case.net), case.run.flow.dc
    if direct is None:
        return
    volts = np.real(across(case.net, direct)[loads.branches])
    for row, name in enumerate(loads.names):
        if loads.polar[row]:
            yield Hazard("DATA_CROSSED", (name,), volts[row] <= -REVERSED_FROM * loads.rated[row])


def _dry(case: Case) -> Iterator[Hazard]:
    """The live sides of two sources on a dry contact, on one end or one on each.

    Whether it is open or closed says nothing: what is joined to it through itself is at one of its ends.
    """
    net = case.net
    for name, branch in net.of(Contact):
        element = net.element[name]
        if not (isinstance(element, Contact) and element.dry):
            continue
        ends = int(net.a[branch]), int(net.b[branch])
        points = case.points
        sides = [[points[end] == points[plus] for _, plus, _ in case.sources] for end in ends]
        found = np.zeros(len(case.run.at), dtype=bool)
        for i, j in combinations(range(len(case.sources)), 2):
            there = (sides[0][i] | sides[1][i]) & (sides[0][j] | sides[1][j])
            found |= case.alive[i] & case.alive[j] & there
        yield Hazard("DRY_CONTACT_FED_TWICE", (name,), found)


def _series(case: Case) -> Iterator[Hazard]:
    """Loads in one path, meeting at a point that is no side of any source; one of them low-voltage, with a tenth of its
    volts or more. Two that take DC are made to lie in one loop: a signal's sensor and its input."""
    net, loads = case.net, loads_of(case.net)
    amps = np.abs(branch_amps(net, case.run.flow.ac, case.run.present)[loads.branches]) > CARRIES_A
    felt = (case.volts >= SERIES_FROM * loads.rated[:, None]) & (loads.rated <= CONTROL_VOLTS)[:, None]
    ends = [(int(net.a[branch]), int(net.b[branch])) for branch in loads.branches]
    nodes = sorted({node for pair in ends for node in pair})
    loose = {node: ~case.at_source(node) for node in nodes}
    for i, one in enumerate(loads.names):
        for j in range(i + 1, len(loads.names)):
            both = amps[i] & amps[j] & (felt[i] | felt[j])
            if both.any() and not (loads.on_dc[i] and loads.on_dc[j]):
                meet = np.zeros_like(both)
                for x in ends[i]:
                    for y in ends[j]:
                        meet |= (case.points[x] == case.points[y]) & loose[x]
                yield Hazard("SERIES_LOADS", (one, loads.names[j]), both & meet)


def _chatter(case: Case) -> Iterator[Hazard]:
    yield Hazard("CHATTER", (), case.run.chatter)


def _interlocks(case: Case) -> Iterator[Hazard]:
    facts, rows = case.facts(), {name: row for row, name in enumerate(loads_of(case.net).names)}
    _, may = case.interlocked
    for interlock in case.net.network.interlocks:
        active = read_expression(interlock.when).holds(facts)
        for name in interlock.must_stop:
            on = case.run.energised[rows[name]] & ~may.get(name, np.zeros_like(active))
            yield Hazard("INTERLOCK_INEFFECTIVE", (name, interlock.when), active & on)
        if interlock.proved_by is not None:
            dead = active & ~has_supply(case.run, interlock.proved_by)
            yield Hazard("DEAD_SAFETY", (interlock.proved_by, interlock.when), dead)


def has_supply(run: Solution, device: str) -> Bools:
    """Whether a device has its own supply: one of the loads by which it lives is on, (variants,)."""
    loads = loads_of(run.net)
    own = [
        row for row, name in enumerate(loads.names)
        if name.rpartition(".")[0] == device and isinstance(run.net.element[name], Load) and not loads.polar[row]
    ]  # fmt: skip
    return np.asarray(run.energised[own].any(axis=0))


def _air(case: Case) -> Iterator[Hazard]:
    """Heat without the fan that moves its air, longer than is allowed; from a twentieth of its power it heats."""
    loads, run = loads_of(case.net), case.run
    rows = {name: row for row, name in enumerate(loads.names)}
    for entry in case.net.network.needs_air:
        load, fan = rows[entry.load], rows[entry.source]
        heats = case.volts[load] ** 2 >= HEATS_FROM * loads.rated[load] ** 2
        still = heats & ~run.energised[fan]
        long = run.at - np.maximum(run.since[load], run.since[fan]) > entry.within_s
        yield Hazard("HEAT_WITHOUT_AIR", (entry.load, entry.source), still & long)


RULES: tuple[Callable[[Case], Iterator[Hazard]], ...] = (
    _shorted, _tied, _calls, _both, _overload, _low, _stalled, _tap, _line_on_low, _too_many, _data, _reversed, _dry,
    _series, _chatter, _interlocks, _air,
)  # fmt: skip
