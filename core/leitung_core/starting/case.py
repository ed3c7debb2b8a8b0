"""A trial with every figure settled: one corner of its ranges, ready to be run."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from itertools import product

from leitung_core.plan import feeds
from leitung_core.ranges import Range
from leitung_core.starting import document as doc
from leitung_core.starting.document import Trial, wide_figures
from leitung_core.starting.drops import SOURCE
from leitung_core.starting.figures import figure

Pick = Callable[[Range | None], float | None]


@dataclass(frozen=True)
class Fan:
    """A, A, s; power factor."""

    running_a: float | None
    inrush_a: float | None
    inrush_s: float | None
    power_factor: float


@dataclass(frozen=True)
class Compressor:
    """A compressor as it starts here: locked, or in a soft starter's ramp."""

    running_a: float | None
    start_a: float | None
    start_s: float | None
    locked: bool
    power_factor: float | None
    start_power_factor: float
    lockout_s: float


@dataclass(frozen=True)
class Load:
    """A load; `legs` are the legs it lies on, `branch_ohms` those of its own conductors."""

    id: str
    legs: tuple[int, ...]
    steady_a: float | None
    power_factor: float
    fan: Fan | None
    compressor: Compressor | None
    after_s: float
    steady_unknown: bool = False
    branch_ohms: float = 0.0
    branch_unknown: bool = False
    behind: str = SOURCE


@dataclass(frozen=True)
class Battery:
    """V, V, ohm, Wh, share."""

    full_v: float | None
    cutoff_v: float | None
    ohms: float | None
    energy_wh: float | None
    usable: float | None


@dataclass(frozen=True)
class Limits:
    """What a generator or an inverter gives: watts for ever, watts for a while; amperes of an alternator."""

    running_w: float | None
    surge_w: float | None
    surge_s: float | None
    power_factor: float | None
    max_a: float | None = None
    economy: bool = False
    efficiency: float | None = None
    idle_w: float | None = None
    battery: Battery | None = None


@dataclass(frozen=True)
class Manager:
    """Loads that are shed above so many A of a leg for so long; or of which one is on at a time."""

    sheds: bool
    loads: tuple[str, ...]
    above_a: float | None
    after_s: float | None


@dataclass(frozen=True)
class Feeder:
    """Conductors that several loads share: ohm of a leg, whether they are known; what feeds them."""

    ohms: float
    unknown: bool
    behind: str = SOURCE


@dataclass(frozen=True)
class Supply:
    """V leg to neutral; A; times the rating; ohm of a leg; the feeders on it."""

    kind: str
    volts: float
    legs: int
    breaker_a: float | None
    magnetic: tuple[float, float]
    ohms: float | None
    limits: Limits | None
    manager: Manager | None = None
    feeders: Mapping[str, Feeder] = field(default_factory=dict)


@dataclass(frozen=True)
class Case:
    """One corner of a trial."""

    supply: Supply
    loads: tuple[Load, ...]
    calls: tuple[doc.Call, ...]


def cases(trial: Trial) -> Iterator[Case]:
    """Every corner of a trial's ranges; the trial itself where it has none."""
    for corner in product((0, 1), repeat=len(wide_figures(trial))):
        choice = iter(corner)

        def pick(figure: Range | None, choice: Iterator[int] = choice) -> float | None:
            if figure is None:
                return None
            return figure[next(choice)] if figure.wide else figure.low

        # In the order in which the ranges stand in the document, so that each takes its own side.
        supply = _supply(trial.supply, pick)
        yield Case(supply, tuple(_load(load, pick) for load in trial.loads), tuple(trial.calls))


def magnetic(supply: doc.Supply) -> tuple[float, float]:
    """Between how many times the rating the magnetic trip begins: as it is known, else as breakers are made."""
    known = supply.instant_x
    return (known.low, known.high) if known else (figure("magnetic-low"), figure("magnetic-high"))


def _supply(supply: doc.Supply, pick: Pick) -> Supply:
    volts, breaker = pick(supply.volts) or 0.0, pick(supply.breaker_a)
    pick(supply.instant_x)
    ohms = pick(supply.source_ohms)
    manager = _manager(supply.manager, pick)
    generator, inverter = _generator(supply.generator, pick), _inverter(supply.inverter, pick)
    limits = {"generator": generator, "inverter": inverter}.get(supply.kind)
    feeders = {key: Feeder(pick(row.ohms) or 0.0, row.ohms is None, row.behind or SOURCE)
               for key, row in (supply.feeders or {}).items()}  # fmt: skip
    return Supply(supply.kind, volts, supply.legs, breaker, magnetic(supply), ohms, limits, manager, feeders)


def _manager(found: feeds.Manager | None, pick: Pick) -> Manager | None:
    if found is None:
        return None
    return Manager(found.kind == "sheds", tuple(found.loads), pick(found.above_a), pick(found.after_s))


def _generator(found: feeds.Generator | None, pick: Pick) -> Limits | None:
    if found is None:
        return None
    running, surge, surge_s = pick(found.running_w), pick(found.surge_w), pick(found.surge_s)
    return Limits(running, surge, surge_s, pick(found.power_factor), pick(found.max_a), bool(found.economy))


def _inverter(found: feeds.Inverter | None, pick: Pick) -> Limits | None:
    if found is None:
        return None
    running, surge, surge_s = pick(found.running_w), pick(found.surge_w), pick(found.surge_s)
    efficiency, idle, row = pick(found.efficiency), pick(found.idle_w), found.battery
    battery = None
    if row is not None:
        pick(row.nominal_v)
        full, cutoff, ohms = pick(row.full_v), pick(row.cutoff_v), pick(row.ohms)
        battery = Battery(full, cutoff, ohms, pick(row.energy_wh), pick(row.usable))
    # An inverter's volt-amperes count like its watts.
    return Limits(running, surge, surge_s, 1.0, efficiency=efficiency, idle_w=idle, battery=battery)


def _load(load: doc.Load, pick: Pick) -> Load:
    steady = pick(load.steady_a)
    fan = _fan(load.fan, pick)
    compressor = _compressor(load, pick)
    after = pick(load.compressor_after_s) or 0.0
    legs = (1, 2) if load.leg == "both" else (load.leg,)
    unknown = steady is None and "steady_a" in load.model_fields_set
    factor, branch = pick(load.power_factor) or 1.0, pick(load.branch_ohms) or 0.0
    blind = load.branch_ohms is None and "branch_ohms" in load.model_fields_set
    behind = load.behind or SOURCE
    return Load(load.id, legs, steady, factor, fan, compressor, after, unknown, branch, blind, behind)


def _fan(fan: doc.Fan | None, pick: Pick) -> Fan | None:
    if fan is None:
        return None
    return Fan(pick(fan.running_a), pick(fan.inrush_a), pick(fan.inrush_s), pick(fan.power_factor) or 1.0)


def _compressor(load: doc.Load, pick: Pick) -> Compressor | None:
    found, aid = load.compressor, load.aid or feeds.Aid()
    whole = found or doc.Compressor()
    running, locked, start = pick(whole.running_a), pick(whole.locked_rotor_a), pick(whole.start_s)
    factor = pick(whole.power_factor)
    shortened, peak, ramp, lockout = pick(aid.start_s), pick(aid.peak_a), pick(aid.ramp_s), pick(aid.lockout_s)
    own = pick(aid.power_factor)
    if found is None:
        return None
    if aid.kind == "soft_starter":
        return Compressor(running, peak, ramp, False, factor, own or 1.0, lockout or 0.0)
    return Compressor(running, locked, shortened if aid.kind == "hard_start" else start, True, factor, 1.0, 0.0)
