"""What is wrong in a state, by the codes of the open form; judged for many variants at once.

Each rule gives the things it is about and, for each variant, whether it holds.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from leitung_core.network.arrays import Bools, Ints
from leitung_core.network.compiled import Compiled
from leitung_core.network.expressions import Facts, read_expression
from leitung_core.network.flow import branch_amps, winding_amps, winding_volts
from leitung_core.network.form import AcSource, Contact, Load
from leitung_core.network.run import Run, contacts_of, loads_of

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
class Scene:
    """What the rules ask of a run, worked out once."""

    run: Run

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


def _powered(scene: Scene) -> Bools:
    """Which transformers are fed, (cores, variants): one tap's ends are both one point with sides of live sources.

    A winding that only has volts because its secondary is fed is none: behind an open disconnect it hangs on nothing.
    """
    net, points = scene.net, scene.points
    found = np.zeros((len(net.cores), len(scene.run.at)), dtype=bool)
    lines = [end for branch in net.ac for end in (int(net.a[branch]), int(net.b[branch]))]
    for _ in range(3):  # a transformer behind a transformer, and one more
        for number, core in enumerate(net.cores):
            for index in core.primaries:
                winding = net.windings[index]
                alive = scene.winding_volts[index] > ALIVE * winding.ratio * core.element.secondary_volts
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


def hazards(run: Run) -> list[Hazard]:
    """Every hazard that holds in at least one variant."""
    scene = Scene(run)
    return [hazard for rule in RULES for hazard in rule(scene) if hazard.holds.any()]


def _shorted(scene: Scene) -> Iterator[Hazard]:
    for number, core in enumerate(scene.net.cores):
        ends = scene.net.windings[core.secondary]
        joined = scene.points[ends.a] == scene.points[ends.b]
        above = scene.secondary_amps[number] > SHORT_TIMES * core.va / core.element.secondary_volts
        yield Hazard("SHORTED_SECONDARY", (core.name,), scene.powered[number] & joined & above)


def _tied(scene: Scene) -> Iterator[Hazard]:
    points = scene.points
    for i, (one, plus, minus) in enumerate(scene.sources):
        for j in range(i + 1, len(scene.sources)):
            two, other_plus, other_minus = scene.sources[j]
            same = (points[plus] == points[other_plus]) & (points[minus] == points[other_minus])
            turned = (points[plus] == points[other_minus]) & (points[minus] == points[other_plus])
            shorted = (points[plus] == points[minus]) | (points[other_plus] == points[other_minus])
            yield Hazard("SOURCES_TIED", (one, two), scene.alive[i] & scene.alive[j] & (same | turned) & ~shorted)


def _stopped(scene: Scene, facts: Facts) -> dict[str, Bools]:
    """For each load, whether an interlock that is to stop it is active."""
    found: dict[str, Bools] = {}
    for interlock in scene.net.network.interlocks:
        active = read_expression(interlock.when).holds(facts)
        for name in interlock.must_stop:
            found[name] = found.get(name, np.zeros_like(active)) | active
    return found


def _calls(scene: Scene) -> Iterator[Hazard]:
    facts, rows = scene.facts(), {name: row for row, name in enumerate(loads_of(scene.net).names)}
    stopped = _stopped(scene, facts)
    for name, text in scene.net.network.intent.items():
        wanted, on = read_expression(text).holds(facts), scene.run.energised[rows[name]]
        yield Hazard("LOAD_WITHOUT_CALL", (name,), on & ~wanted)
        yield Hazard("CALL_WITHOUT_LOAD", (name,), wanted & ~on & ~stopped.get(name, np.zeros_like(on)))
        yield Hazard("MISSING_COMMON", (name,), wanted & ~on & _no_return(scene, rows[name]))


def _no_return(scene: Scene, row: int) -> Bools:
    """A load that is dead with one end at a live side, and the other cut off whatever contact closes."""
    loads = loads_of(scene.net)
    a, b = int(scene.net.a[loads.branches[row]]), int(scene.net.b[loads.branches[row]])
    dead = scene.volts[row] < ALIVE * loads.rated[row]
    found: Bools = dead & (
        (scene.at_plus(a) & ~scene.reaches_source(b)) | (scene.at_plus(b) & ~scene.reaches_source(a))
    )
    return found


def _both(scene: Scene) -> Iterator[Hazard]:
    text = scene.net.network.heat_and_cool_when
    if text:
        expression = read_expression(text)
        yield Hazard("HEAT_AND_COOL", tuple(sorted(expression.loads)), expression.holds(scene.facts()))


def _overload(scene: Scene) -> Iterator[Hazard]:
    for number, core in enumerate(scene.net.cores):
        volts = scene.winding_volts[core.secondary]
        yield Hazard("OVERLOAD_VA", (core.name,), volts * scene.secondary_amps[number] > OVERLOAD * core.va)


def _low(scene: Scene) -> Iterator[Hazard]:
    loads = loads_of(scene.net)
    for row, name in enumerate(loads.names):
        if not loads.on_dc[row]:
            volts = scene.volts[row]
            yield Hazard("LOW_VOLTAGE", (name,), (volts > ALIVE * loads.rated[row]) & (volts < loads.pull_in[row]))


def _tap(scene: Scene) -> Iterator[Hazard]:
    """The tap that is judged is one of which both ends are at a source; the others float along."""
    for number, core in enumerate(scene.net.cores):
        for index in core.primaries:
            winding, volts = scene.net.windings[index], scene.winding_volts[index]
            made_for = winding.ratio * core.element.secondary_volts
            fed = scene.at_source(winding.a) & scene.at_source(winding.b) & scene.powered[number]
            yield Hazard("WRONG_TAP", (core.name,), fed & (np.abs(volts / made_for - 1) > TAP_OFF))


def _line_on_low(scene: Scene) -> Iterator[Hazard]:
    loads, run = loads_of(scene.net), scene.run
    for row, name in enumerate(loads.names):
        if loads.rated[row] <= LOW_RATING:
            yield Hazard("LINE_ON_SIGNAL", (name,), scene.volts[row] >= LINE_VOLTS)
    reference = scene.net.index.get(scene.net.network.reference or "")
    if reference is None:
        return
    for core in scene.net.cores:
        if core.element.secondary_volts <= LOW_RATING:
            winding = scene.net.windings[core.secondary]
            ends = run.flow.ac[[winding.a, winding.b]] - run.flow.ac[reference]
            joined = run.flow.paths[winding.a] == run.flow.paths[reference]
            yield Hazard("LINE_ON_SIGNAL", (core.name,), joined & (np.abs(ends).max(axis=0) >= LIFTED_VOLTS))


def _data(scene: Scene) -> Iterator[Hazard]:
    net = scene.net
    pairs = [
        (name, int(net.a[branch]), int(net.b[branch])) for name, branch in net.of(Load)
        if isinstance(element := net.element[name], Load) and element.is_data
    ]  # fmt: skip
    points = scene.points
    for i, (one, a, b) in enumerate(pairs):
        for two, other_a, other_b in pairs[i + 1 :]:
            crossed = (points[a] == points[other_b]) | (points[b] == points[other_a])
            straight = (points[a] == points[other_a]) | (points[b] == points[other_b])
            yield Hazard("DATA_CROSSED", (one, two), crossed & ~straight)


def _dry(scene: Scene) -> Iterator[Hazard]:
    """A dry contact with one source's live side on one end and another's on the other, the contact itself left out."""
    net = scene.net
    for name, branch in net.of(Contact):
        element = net.element[name]
        if not (isinstance(element, Contact) and element.dry):
            continue
        ends = int(net.a[branch]), int(net.b[branch])
        points = _points_without(scene, branch, ends[0])
        sides = [[points[end] == points[plus] for _, plus, _ in scene.sources] for end in ends]
        found = np.zeros(len(scene.run.at), dtype=bool)
        for i in range(len(scene.sources)):
            for j in range(len(scene.sources)):
                if i != j:
                    found |= scene.alive[i] & scene.alive[j] & sides[0][i] & sides[1][j] & ~sides[0][j] & ~sides[1][i]
        yield Hazard("DRY_CONTACT_FED_TWICE", (name,), found)


def _points_without(scene: Scene, branch: int, end: int) -> Ints:
    """The points with one branch open, where that can matter: it is closed, and two live sides meet behind it."""
    live = np.zeros(len(scene.run.at), dtype=np.int64)
    for row, (_, plus, _) in enumerate(scene.sources):
        live += scene.alive[row] & (scene.points[plus] == scene.points[end])
    closed = np.flatnonzero(scene.run.present[branch] & (live > 1))
    if not len(closed):
        return scene.points
    present = scene.run.present[:, closed]
    present[branch] = False
    points = scene.points.copy()
    points[:, closed] = scene.net.points(present)
    return points


def _series(scene: Scene) -> Iterator[Hazard]:
    """Loads that carry current and meet at a point that is no side of any source."""
    net, loads = scene.net, loads_of(scene.net)
    amps = np.abs(branch_amps(net, scene.run.flow.ac, scene.run.present)[loads.branches]) > CARRIES_A
    low = scene.volts < loads.pull_in[:, None]
    ends = [(int(net.a[branch]), int(net.b[branch])) for branch in loads.branches]
    nodes = sorted({node for pair in ends for node in pair})
    loose = {node: ~scene.at_source(node) for node in nodes}
    for i, one in enumerate(loads.names):
        for j in range(i + 1, len(loads.names)):
            both = amps[i] & amps[j] & (low[i] | low[j])
            if both.any():
                meet = np.zeros_like(both)
                for x in ends[i]:
                    for y in ends[j]:
                        meet |= (scene.points[x] == scene.points[y]) & loose[x]
                yield Hazard("SERIES_LOADS", (one, loads.names[j]), both & meet)


def _chatter(scene: Scene) -> Iterator[Hazard]:
    yield Hazard("CHATTER", (), scene.run.chatter)


def _interlocks(scene: Scene) -> Iterator[Hazard]:
    facts, rows = scene.facts(), {name: row for row, name in enumerate(loads_of(scene.net).names)}
    for interlock in scene.net.network.interlocks:
        active = read_expression(interlock.when).holds(facts)
        for name in interlock.must_stop:
            yield Hazard("INTERLOCK_INEFFECTIVE", (name, interlock.when), active & scene.run.energised[rows[name]])


RULES: tuple[Callable[[Scene], Iterator[Hazard]], ...] = (
    _shorted, _tied, _calls, _both, _overload, _low, _tap, _line_on_low, _data, _dry, _series, _chatter, _interlocks,
)  # fmt: skip
