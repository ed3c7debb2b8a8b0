"""A device by itself: fed at its supply terminals, each call made in turn, and what it then does.

So a description of a device of one's own is proved before anything is planned with it: not by how it reads, but by
how it solves.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ConfigDict

from leitung_core.catalogue.device import DeviceType, function_of, kind_of
from leitung_core.catalogue.functions import functions
from leitung_core.control.hazards import OVERLOAD
from leitung_core.control.network import build
from leitung_core.control.solved import StateAnswer, answer_all
from leitung_core.control.supply import legs_of
from leitung_core.control.trials import say_on
from leitung_core.elements.signals import signals
from leitung_core.elements.vocabulary import Coil, Contact, Load, Transformer, nodes_of
from leitung_core.plan.model import read_plan
from leitung_core.plan.sources import Source
from leitung_core.plant.plant import Plant
from leitung_core.solver.network import read_network
from leitung_core.units import say, sentence

SETTLED_S = 900.0
LIVE = 0.5  # of 24 V: from there a terminal counts as live
FEEDS = {1: Source(volts=240, phase=1, volts_to_ground=120), 3: Source(volts=208, phase=3, volts_to_ground=120)}
LINES = {"line-1": 0, "pair-1": 0, "line-2": 1, "pair-2": 1, "line-3": 2}
DEVICE, SUPPLY = "D", "S"
Named = Mapping[str, Sequence[str]]


class Part(BaseModel):
    """A part of a proof."""

    model_config = ConfigDict(frozen=True)


class ProofLoad(Part):
    """A coil or load that is on: its volts and amperes."""

    name: str
    volts: float
    amps: float


class ProofTrial(Part):
    """What was done, and what is then on, which control terminals are live, which contacts have moved, and what
    stands against it; `does` says the first three in words."""

    says: str
    on: list[ProofLoad]
    live: list[str]
    moved: list[str]
    does: str
    against: list[str]


class Proof(Part):
    """How the device was fed, its trials, and the coils, loads and contacts that none of them moved."""

    fed: str
    trials: list[ProofTrial]
    never: list[str]


@dataclass(frozen=True)
class _Tried:
    """A trial: its words, what is pressed for it, and the call that it makes at the device's own terminal."""

    says: str
    on: tuple[str, ...] = ()
    function: str | None = None


def prove(kind: DeviceType) -> Proof:
    """Solve a device alone: idle, with each call at its terminals, with each signal that its contacts know."""
    named = _by_function(kind)
    calls = [name for name in named if functions()[name].call]
    tried = [_Tried("Nothing called")]
    tried += [_Tried(f"{sentence(functions()[name].says)} called", (f"hand:{name}",), name) for name in calls]
    tried += [_Tried(sentence(say_on({name})), (name,)) for name in _signals(kind)]
    answers = _answers(kind, named, calls, tried)
    idle = answers[0]
    trials = [_trial(kind, named, entry, answer, idle) for entry, answer in zip(tried, answers, strict=True)]
    return Proof(fed=_fed(kind, named), trials=trials, never=_never(kind, answers))


def _by_function(kind: DeviceType) -> dict[str, list[str]]:
    """The terminals of each function, as the device leaves the factory."""
    found: dict[str, list[str]] = {}
    for ref, terminal in kind.terminals().items():
        function = function_of(terminal, kind, {})
        if function is not None:
            found.setdefault(function, []).append(ref)
    return found


def _signals(kind: DeviceType) -> list[str]:
    """What moves its contacts from without."""
    by = {part.operated_by for part in kind.inside if isinstance(part, Contact) and part.operated_by}
    for part in kind.inside:
        for values in ((part.operated_by_setting or {}) if isinstance(part, Contact) else {}).values():
            by |= {*values.values()}
    return [name for name in signals() if name in by] + ([f"hand:{DEVICE}"] if "hand" in by else [])


def _answers(kind: DeviceType, named: Named, calls: Sequence[str], tried: Sequence[_Tried]) -> list[StateAnswer]:
    data = kind.model_dump(mode="json", exclude_none=True)
    plan = {"format": "leitung-plan", "format_version": 2, "name": "one device",
            "device_types": {kind.id: data}, "devices": {DEVICE: {"type": kind.id}}}  # fmt: skip
    (piece,) = build(Plant(read_plan(plan)), [DEVICE]).pieces
    lines = legs_of(_feed(named)) or []
    inside: list[dict[str, Any]] = [
        {"type": "ac_source", "id": f"V{leg}", "plus": f"L{leg}", "minus": "N", "volts": volts, "phase_deg": angle}
        for leg, (volts, angle) in enumerate(lines)
    ]
    joined = {ref: f"L{leg}" for name, leg in LINES.items() for ref in named.get(name, ()) if leg < len(lines)}
    joined |= dict.fromkeys(named.get("neutral", ()), "N") | dict.fromkeys(named.get("ground", ()), "N")
    if _from_without(kind):
        inside.append({"type": "ac_source", "id": "V24", "plus": "R", "minus": "C", "volts": 24, "ohms": 0.5})
        joined |= dict.fromkeys(named.get("hot", ()), "R") | dict.fromkeys(named.get("common", ()), "C")
    hot = next(iter(named.get("hot", ())), None)
    feed = {"id": "feed", "from": f"{DEVICE}.{hot}" if hot else f"{SUPPLY}.R", "to": f"{SUPPLY}.K"}
    for name in calls:
        inside.append(
            {"type": "contact", "id": f"key-{name}", "a": "K", "b": f"X-{name}", "operated_by": f"hand:{name}"}
        )
        joined |= dict.fromkeys(named[name], f"X-{name}")
    terminals = [*(f"L{leg}" for leg in range(len(lines))), "N", "R", "C", "K", *(f"X-{name}" for name in calls)]
    back = _back(kind, named)
    probes = [{"from": f"{DEVICE}.{ref}", "to": back} for ref in _control(kind)]
    return answer_all(read_network({
        "reference": f"{SUPPLY}.N",
        "devices": [piece, {"id": SUPPLY, "terminals": terminals, "inside": inside}],
        "conductors": [feed] + [
            {"id": f"w{number}", "from": f"{DEVICE}.{ref}", "to": f"{SUPPLY}.{port}", "ohms": 0.01}
            for number, (ref, port) in enumerate(joined.items())
        ],
        "states": [{"name": f"t{number}", "on": [*entry.on], "at_s": SETTLED_S, "probes": probes}
                   for number, entry in enumerate(tried)],
    }))  # fmt: skip


def _feed(named: Named) -> Source:
    """What a device is fed from: three phases only where it has terminals for them."""
    return FEEDS[3 if "line-3" in named else 1]


def _from_without(kind: DeviceType) -> bool:
    """Whether its 24 V comes from elsewhere: it has no transformer of its own."""
    return not any(isinstance(part, Transformer) for part in kind.inside)


def _back(kind: DeviceType, named: Named) -> str:
    """Against what its control terminals are read: its own common, else the supply's."""
    return f"{DEVICE}.{named['common'][0]}" if named.get("common") else f"{SUPPLY}.C"


def _control(kind: DeviceType) -> list[str]:
    return [ref for ref, terminal in kind.terminals().items()
            if (function := function_of(terminal, kind, {})) not in ("hot", "common")
            and kind_of(terminal, function) in ("low", "dry")]  # fmt: skip


def _fed(kind: DeviceType, named: Named) -> str:
    legs = [name for name in named if name in LINES]
    parts = []
    if legs:
        feed = _feed(named)
        volts = feed.volts if len(legs) > 1 else feed.volts_to_ground
        parts.append(f"{volts:g} V{', three phase' if feed.phase == 3 else ''} at its line terminals")
    if _from_without(kind) and named.get("hot"):
        parts.append("24 V at its own terminals")
    return f"Fed with {' and '.join(parts)}." if parts else "It has no supply terminals: nothing feeds it."


def _trial(kind: DeviceType, named: Named, entry: _Tried, answer: StateAnswer, idle: StateAnswer) -> ProofTrial:
    names = {part.id: getattr(part, "name", None) or part.id for part in kind.inside}
    labels = {ref: terminal.label or terminal.id for ref, terminal in kind.terminals().items()}
    ours = [load for load in answer.loads if load.device == DEVICE]
    on = [ProofLoad(name=names[load.element], volts=round(load.volts_dc or load.volts, 1), amps=round(load.amps, 3))
          for load in ours if load.energised]  # fmt: skip
    own = set(named.get(entry.function or "", ()))
    live = [labels[ref] for ref, probe in zip(_control(kind), answer.probes, strict=True)
            if ref not in own and (probe.volts or 0) > LIVE * 24]  # fmt: skip
    rest = {row.element: row.closed for row in idle.contacts if row.device == DEVICE}
    moved = [f"{names[row.element]} {'closes' if row.closed else 'opens'}" for row in answer.contacts
             if row.device == DEVICE and row.closed != rest[row.element]]  # fmt: skip
    does = [f"{load.name} on, {load.volts:g} V" for load in on] + moved + [f"{name} live" for name in live]
    against = _against(kind, entry, answer, idle, own)
    return ProofTrial(
        says=entry.says, on=on, live=live, moved=moved, does="; ".join(does) or "nothing", against=against
    )


def _against(kind: DeviceType, entry: _Tried, answer: StateAnswer, idle: StateAnswer, own: set[str]) -> list[str]:
    """What does not work as a device should."""
    found = []
    if any(load.device == DEVICE and load.energised is None for load in answer.loads):
        found.append("Whether something is on hangs on a figure that is not known: give its VA.")
    if "SHORTED_SECONDARY" in answer.hazards:
        found.append("Its transformer is shorted.")
    found += [f"{row.element} carries {say(row.amps, 1)} A and opens." for row in answer.fuses if row.opens]
    most = 100 * OVERLOAD
    found += [f"Its transformer is asked for {say(row.percent_of_rating, 0)} % of its rating."
              for row in answer.transformers if (row.percent_of_rating or 0) > most and not found]  # fmt: skip
    if "CHATTER" in answer.hazards:
        found.append("A relay never comes to rest.")
    gives = any(isinstance(part, Contact) and own & set(nodes_of(part)) for part in kind.inside)
    same = [load.energised for load in answer.loads] == [load.energised for load in idle.loads]
    if entry.function is not None and same and not gives and not found:
        found.append("Nothing inside answers: it passes the call on, or an element is missing.")
    return found


def _never(kind: DeviceType, answers: Sequence[StateAnswer]) -> list[str]:
    """Coils, loads and contacts that no trial moved; what takes a signal of a device beside it is not asked."""
    moved = {load.element for answer in answers for load in answer.loads if load.energised}
    first = {row.element: row.closed for row in answers[0].contacts}
    moved |= {row.element for answer in answers for row in answer.contacts if row.closed != first.get(row.element)}
    return [
        part.name or part.id if isinstance(part, Coil | Load) else part.id
        for part in kind.inside
        if part.id not in moved and (isinstance(part, Contact) or (isinstance(part, Coil | Load) and not part.on_dc))
    ]
