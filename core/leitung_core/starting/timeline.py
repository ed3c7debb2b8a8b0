"""What flows from one event to the next: the pieces of every load, and the currents and volts of each stretch.

Currents of a leg add as plain numbers, the safe side. A locked rotor draws in proportion to the volts that are left;
all else is a constant current.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace

from leitung_core.starting.case import Case, Load
from leitung_core.starting.drops import SOURCE, Drawn, Legs, volts_at
from leitung_core.starting.episodes import Episodes, episodes
from leitung_core.starting.figures import figure

NO_TIME_S = 1e-9


@dataclass(frozen=True)
class Piece:
    """What one part of a load takes from one moment to another. `amps` are at plate volts where the rotor is locked."""

    start_s: float
    end_s: float
    load: str
    part: str
    starting: bool
    legs: tuple[int, ...]
    amps: float
    locked: bool
    power_factor: float | None


@dataclass(frozen=True)
class Stretch:
    """Between two events: A and V of each leg, W and VA of the whole, what starts and with which share of its volts.

    `at`: the volts of each leg where loads hang: at the source, and at the end of every feeder.
    """

    start_s: float
    end_s: float
    amps: tuple[float, ...]
    volts: tuple[float, ...]
    watts: float
    volt_amps: float
    starting: tuple[tuple[Piece, float], ...]
    at: dict[str, Legs]


@dataclass(frozen=True)
class Course:
    """Every stretch of a case, the last one for ever; what was not known, by name, with when it mattered first;
    what a manager shed, and when.
    """

    stretches: tuple[Stretch, ...]
    unknown: dict[str, float]
    pieces: tuple[Piece, ...] = ()
    shed: dict[str, float] = field(default_factory=dict)

    @property
    def last(self) -> Stretch:
        return self.stretches[-1]


class _Pieces:
    """The pieces of every load, in the order of the calls."""

    def __init__(self, case: Case, on: Episodes) -> None:
        self.case, self.on = case, on
        self.found: list[Piece] = []
        self.unknown: dict[str, float] = {}
        self.blind: list[float] = []  # when motors start of which nothing is known
        for load in case.loads:
            self._load(load)

    def _known(self, amount: float | None, name: str, at: float) -> float:
        if amount is None:
            self.unknown.setdefault(name, at)
            return 0.0
        return amount

    def _load(self, load: Load) -> None:
        stopped = -math.inf
        for on, off in self.on[load.id]:
            if load.steady_unknown:
                self._known(None, f"{load.id}: its current", on)
            self._add(on, off, load, "steady", load.steady_a, load.power_factor)
            if load.branch_unknown and (load.fan or load.compressor):
                self._known(None, f"{load.id}: ohms of its own conductors", on)
            if load.fan or load.compressor:
                self._feeders(load.behind, on)
            if load.fan:
                self._fan(on, off, load)
            begins = max(on + load.after_s, stopped + (load.compressor.lockout_s if load.compressor else 0))
            if load.compressor and begins < off:
                self._compressor(begins, off, load)
                stopped = off

    def _feeders(self, behind: str, at: float) -> None:
        while behind != SOURCE:
            feeder = self.case.supply.feeders[behind]
            self._known(None if feeder.unknown else feeder.ohms, f"ohms of the conductors of {behind}", at)
            behind = feeder.behind

    def _add(
        self, start: float, end: float, load: Load, part: str, amps: float | None, factor: float | None, *,
        starting: bool = False, locked: bool = False,
    ) -> None:  # fmt: skip
        if amps is not None and end > start:
            self.found.append(Piece(start, end, load.id, part, starting, load.legs, amps, locked, factor))

    def _fan(self, on: float, off: float, load: Load) -> None:
        fan = load.fan
        if fan is None:
            return
        inrush = self._known(fan.inrush_a, f"{load.id}: inrush of the fan", on)
        self.blind += [on] if fan.inrush_a is None else []
        takes = self._known(fan.inrush_s, f"{load.id}: how long the fan's inrush takes", on)
        running = self._known(fan.running_a, f"{load.id}: running current of the fan", on)
        up = min(on + takes, off)
        self._add(on, up, load, "fan", inrush, fan.power_factor, starting=True)
        self._add(up, off, load, "fan", running, fan.power_factor)

    def _compressor(self, begins: float, off: float, load: Load) -> None:
        part = load.compressor
        if part is None:
            return
        what = "locked-rotor current" if part.locked else "soft starter's peak"
        takes_what = "how long the compressor takes to start" if part.locked else "length of the soft starter's ramp"
        starts = self._known(part.start_a, f"{load.id}: {what}", begins)
        self.blind += [begins] if part.start_a is None else []
        takes = self._known(part.start_s, f"{load.id}: {takes_what}", begins)
        running = self._known(part.running_a, f"{load.id}: running current of the compressor", begins)
        up = min(begins + takes, off)
        factor = figure("locked-rotor-pf-high") if part.locked else part.start_power_factor
        self._add(begins, up, load, "compressor", starts, factor, starting=True, locked=part.locked)
        self._add(up, off, load, "compressor", running, part.power_factor)


def course_of(case: Case) -> Course:
    """What flows, as if no breaker opened. What is not known is named, and counted as nothing."""
    on = episodes(case)
    course = _course(case, on)
    manager = case.supply.manager
    since = 0.0
    for load in manager.loads if manager and manager.sheds else ():
        at = shed_at(case, course, load, since)
        if at is not None:
            since = at  # it waits anew before the next
            on[load] = [(start, min(end, at)) for start, end in on[load] if start < at]
            course = replace(_course(case, on), shed={**course.shed, load: at})
    return course


def _course(case: Case, on: Episodes) -> Course:
    pieces = _Pieces(case, on)
    unknown = dict(pieces.unknown)
    starts = [piece.start_s for piece in pieces.found if piece.starting] + [*pieces.blind]
    if case.supply.ohms is None and starts:
        unknown["ohms of the source and its conductors"] = min(starts)
    edges = sorted({0.0, *(edge for piece in pieces.found for edge in (piece.start_s, piece.end_s) if edge < math.inf)})
    edges = [edge for index, edge in enumerate(edges) if not index or edge - edges[index - 1] > NO_TIME_S]
    stretches = [
        _stretch(
            case, start, end, [piece for piece in pieces.found if piece.start_s <= start + NO_TIME_S < piece.end_s]
        )
        for start, end in zip(edges, [*edges[1:], math.inf], strict=True)
    ]
    return Course(tuple(stretches), unknown, tuple(pieces.found))


def _stretch(case: Case, start: float, end: float, pieces: list[Piece]) -> Stretch:
    supply = case.supply
    # Without its ohms nothing is known of a locked rotor: not how far its volts fall, nor what it draws.
    taken = [piece for piece in pieces if not (piece.locked and supply.ohms is None)]
    loads = {load.id: _Draw(load, supply.volts, [piece for piece in taken if piece.load == load.id])
             for load in case.loads if any(piece.load == load.id for piece in pieces)}  # fmt: skip
    drawn: dict[str, list[Drawn]] = {}
    for draw in loads.values():
        drawn.setdefault(draw.behind, []).append(draw.drawn)
    at = volts_at(supply.volts, supply.ohms or 0.0, supply.feeders, drawn)
    volts = at[SOURCE][: supply.legs]
    left = {key: draw.left(at[draw.behind]) for key, draw in loads.items()}
    now = {id(piece): piece.amps * left[piece.load] if piece.locked else piece.amps for piece in taken}
    amps = tuple(sum(now[id(piece)] for piece in taken if leg in piece.legs) for leg in range(1, supply.legs + 1))
    watts = sum(
        now[id(piece)] * supply.volts * len(piece.legs) * (1.0 if piece.power_factor is None else piece.power_factor)
        for piece in taken
    )
    starting = tuple((piece, left[piece.load]) for piece in pieces if piece.starting)
    return Stretch(start, end, amps, volts, watts, supply.volts * sum(amps), starting, at)


def unknown_of_manager(case: Case) -> dict[str, float]:
    """What a manager that sheds would have to say."""
    manager = case.supply.manager
    if manager is None or not manager.sheds:
        return {}
    names = {"above how many A the manager sheds": manager.above_a, "after how long the manager sheds": manager.after_s}
    return {name: 0.0 for name, value in names.items() if value is None}


def shed_at(case: Case, course: Course, load: str, since: float) -> float | None:
    """When a manager sheds a load: a leg on which it lies has been above its bound for long enough while it is on.

    since: when the one before was shed.
    """
    manager = case.supply.manager
    if manager is None or manager.above_a is None or manager.after_s is None:
        return None
    legs = next(entry.legs for entry in case.loads if entry.id == load)
    above_since: float | None = None
    for row in course.stretches:
        on = any(piece.load == load and piece.start_s <= row.start_s + NO_TIME_S < piece.end_s
                 for piece in course.pieces)  # fmt: skip
        if not on or max(row.amps[leg - 1] for leg in legs) <= manager.above_a:
            above_since = None
            continue
        if row.end_s <= since:
            continue
        above_since = max(row.start_s, since) if above_since is None else above_since
        if row.end_s - above_since > manager.after_s:
            return above_since + manager.after_s
    return None


class _Draw:
    """What a load draws at the volts of its legs, S: constant amperes and mhos, its own conductors within.

    With R of its conductors, c constant and g locked, u = S - R x (c + g u) is left at the load: it draws
    c / (1 + R g) amperes whatever the volts are, and g / (1 + R g) amperes a volt.
    """

    def __init__(self, load: Load, nominal: float, pieces: list[Piece]) -> None:
        self.legs, self.behind, self._nominal = load.legs, load.behind, nominal * len(load.legs)
        constant = sum(piece.amps for piece in pieces if not piece.locked)
        mhos = sum(piece.amps for piece in pieces if piece.locked) / self._nominal
        self._drop, self._whole = load.branch_ohms * constant, 1 + load.branch_ohms * mhos
        amps, mhos = constant / self._whole, mhos / self._whole
        if len(self.legs) == 2:
            self.drawn = Drawn((amps, amps), between=mhos)
        else:
            on = tuple(1.0 if leg in self.legs else 0.0 for leg in (1, 2))
            self.drawn = Drawn((amps * on[0], amps * on[1]), (mhos * on[0], mhos * on[1]))

    def left(self, volts: Legs) -> float:
        """The share of its volts that it has left: of a leg, or of both legs together."""
        across = sum(volts[leg - 1] for leg in self.legs)
        return max(0.0, (across - self._drop) / self._whole) / self._nominal
