"""The ways out of a start that fails or may trip, each proved by running it, the cheapest for the crew first.

A way is a merge patch (RFC 7386) on the trial's document. Where a figure must be found (a delay, a peak, watts), the
one that asks for least is looked for.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from typing import Any

from leitung_core.errors import InputError
from leitung_core.plan.patch import joined, merge
from leitung_core.rulebook import rulebook
from leitung_core.rulebook.editions import NEWEST
from leitung_core.starting.document import Trial, read_trial
from leitung_core.starting.verdict import starts

Doc = dict[str, Any]
DELAYS_S = (*range(1, 31), 45, 60, 90, 120, 180, 300, 600)
SHARES = (0.7, 0.6, 0.5, 0.45, 0.4, 0.35, 0.3, 0.25)  # of the locked rotor, as a soft starter's peak
USUAL_SHARE = 0.35
RAMP_S = 1.0
MOST_TOGETHER = 4
LARGEST_BREAKER_A = 100
OHMS_SHARES = (0.75, 0.5, 0.35, 0.25)
TIMES = tuple(1 + step / 10 for step in range(1, 41))


@dataclass(frozen=True)
class WayOut:
    """What to do in words, and the change of the document that does it."""

    says: str
    change: Doc


def ways_out(document: Doc, trial: Trial) -> list[WayOut]:
    """Every way out of a trial that does not start.

    Where no single change does, two together are tried: a load left off or soft starters, and one change more.
    """
    single = [way for way in _offered(document, trial) if way is not None]
    return single or list(islice(_together(document, trial), MOST_TOGETHER))


def _offered(document: Doc, trial: Trial) -> Iterator[WayOut | None]:
    yield from _other_leg(document, trial)
    yield _stagger(document, trial)
    yield from _shed(document, trial)
    yield _soft_starters(document, trial)
    yield _ohms(document, trial)
    yield _breaker(document, trial)
    yield _bigger(document, trial)


def _together(document: Doc, trial: Trial) -> Iterator[WayOut]:
    firsts = [WayOut(f"Leave {load_id} off.", change) for load_id, change in _less(document, trial)]
    softening = _softening(document, trial)
    if softening:
        softened, says = softening
        firsts.append(WayOut(says(USUAL_SHARE), softened(USUAL_SHARE)))
    for first in firsts:
        changed = merge(document, first.change)
        after = read_trial(changed)
        for second in (_stagger, _soft_starters, _breaker, _bigger):
            way = second(changed, after)
            if way:
                yield WayOut(f"{first.says} {way.says}", joined(first.change, way.change))
                break


def _starts(document: Doc, change: Doc) -> bool:
    try:
        return starts(read_trial(merge(document, change)))
    except InputError:
        return False


def _first(document: Doc, changes: Iterator[tuple[Any, Doc]], says: Callable[[Any], str]) -> WayOut | None:
    """The first of the changes that starts."""
    for figure, change in changes:
        if _starts(document, change):
            return WayOut(says(figure), change)
    return None


def _other_leg(document: Doc, trial: Trial) -> Iterator[WayOut | None]:
    if trial.supply.legs == 1:
        return
    for index, load in enumerate(trial.loads):
        if load.leg == "both":
            continue
        other = 2 if load.leg == 1 else 1
        change = {"loads": _with(document["loads"], index, {"leg": other})}
        if _starts(document, change):
            yield WayOut(f"Put {load.id} on leg {other}.", change)


def _with(rows: Sequence[Doc], index: int, change: Doc) -> list[Doc]:
    return [merge(row, change) if at == index else row for at, row in enumerate(rows)]


def _motors(trial: Trial) -> list[str]:
    return [load.id for load in trial.loads if load.fan or load.compressor]


def _stagger(document: Doc, trial: Trial) -> WayOut | None:
    motors = _motors(trial)
    called = sorted((call.at_s, index) for index, call in enumerate(trial.calls) if call.load in motors)
    if len(called) < 2:
        return None

    def later(delay: int) -> Doc:
        rows = list(document["calls"])
        for number, (_, index) in enumerate(called):
            shift = number * delay
            moved = {"at_s": rows[index]["at_s"] + shift}
            if rows[index].get("until_s") is not None:
                moved["until_s"] = rows[index]["until_s"] + shift
            rows[index] = rows[index] | moved
        return {"calls": rows}

    said = ", then ".join(dict.fromkeys(trial.calls[index].load for _, index in called))
    return _first(document, ((delay, later(delay)) for delay in DELAYS_S),
                  lambda delay: f"One after the other, {delay} s apart: {said}.")  # fmt: skip


def _shed(document: Doc, trial: Trial) -> Iterator[WayOut | None]:
    for load_id, change in _less(document, trial):
        if _starts(document, change):
            yield WayOut(f"Leave {load_id} off.", change)


def _less(document: Doc, trial: Trial) -> Iterator[tuple[str, Doc]]:
    """Each load that can be left off, those without a motor first."""
    motors = _motors(trial)
    for load in sorted(trial.loads, key=lambda load: load.id in motors):
        left = [row for row in document["calls"] if row["load"] != load.id]
        if left and len(left) < len(document["calls"]):
            yield load.id, {"calls": left}


def _soft_starters(document: Doc, trial: Trial) -> WayOut | None:
    softening = _softening(document, trial)
    if softening is None:
        return None
    softened, says = softening
    return _first(document, ((share, softened(share)) for share in SHARES), says)


def _softening(document: Doc, trial: Trial) -> tuple[Callable[[float], Doc], Callable[[float], str]] | None:
    """Soft starters on every compressor that has none, by their peak's share of the locked rotor; and in words."""
    open_to = [
        index for index, load in enumerate(trial.loads)
        if load.compressor and load.compressor.locked_rotor_a and not (load.aid and load.aid.kind == "soft_starter")
    ]  # fmt: skip
    if not open_to:
        return None

    def softened(share: float) -> Doc:
        rows = list(document["loads"])
        for index in open_to:
            part = trial.loads[index].compressor
            locked = part.locked_rotor_a if part else None
            peak = round((locked.high if locked else 0) * share, 1)
            rows[index] = rows[index] | {"aid": {"kind": "soft_starter", "peak_a": peak, "ramp_s": RAMP_S}}
        return {"loads": rows}

    def says(share: float) -> str:
        rows = softened(share)["loads"]
        peaks = [f"{rows[index]['id']} at {rows[index]['aid']['peak_a']:g} A" for index in open_to]
        return f"A soft starter that holds the compressor of {' and '.join(peaks)} or less, for {RAMP_S:g} s or less."

    return softened, says


def _ohms(document: Doc, trial: Trial) -> WayOut | None:
    ohms = trial.supply.source_ohms
    if not ohms or not ohms.high:
        return None
    changes = ((value, {"supply": {"source_ohms": value}}) for value in (round(ohms.high * x, 4) for x in OHMS_SHARES))
    return _first(document, changes, lambda value: f"Thicker or shorter conductors: {value:g} ohm there and back.")


def _breaker(document: Doc, trial: Trial) -> WayOut | None:
    rating = trial.supply.breaker_a
    if rating is None:
        return None
    made = [int(size) for size in rulebook(NEWEST).standard_ratings_a if rating.low < size <= LARGEST_BREAKER_A]
    changes = ((size, {"supply": {"breaker_a": size}}) for size in made)
    return _first(document, changes, lambda size: f"A supply of {size} A, where its conductors and its unit allow it.")


def _bigger(document: Doc, trial: Trial) -> WayOut | None:
    """The least source of the same kind, its watts and its battery in the same proportion."""
    kind = trial.supply.kind
    found = document["supply"].get(kind) if kind in ("generator", "inverter") else None
    if not found:
        return None

    def grown(times: float) -> Doc:
        change = {name: _times(found[name], times) for name in ("running_w", "surge_w", "max_a") if name in found}
        battery = found.get("battery") or {}
        if battery.get("ohms") is not None:
            change["battery"] = {"ohms": _times(battery["ohms"], 1 / times)}
            if battery.get("energy_wh") is not None:
                change["battery"]["energy_wh"] = _times(battery["energy_wh"], times)
        return {"supply": {kind: change}}

    def says(times: float) -> str:
        watts = grown(times)["supply"][kind]
        surge = f", {_said(watts['surge_w'])} W for a start" if "surge_w" in watts else ""
        battery = f", with {times:.1f} times the battery" if "battery" in watts else ""
        return f"A larger {kind}: {_said(watts.get('running_w'))} W running{surge}{battery}."

    return _first(document, ((times, grown(times)) for times in TIMES), says)


def _times(value: Any, times: float) -> Any:
    return [_times(part, times) for part in value] if isinstance(value, list) else round(value * times, 6)


def _said(value: Any) -> str:
    return " to ".join(_said(part) for part in value) if isinstance(value, list) else f"{value or 0:.0f}"
