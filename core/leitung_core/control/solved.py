"""The answer to one state of a network, in the open form; with the range that unknown figures leave."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from leitung_core.control.hazards import hazards
from leitung_core.elements.vocabulary import Coil, Fuse, Load, Transformer
from leitung_core.solver.arrays import Bools
from leitung_core.solver.assumed import SIDES, Side
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Course, Solution, Stretch, contacts_of, loads_of, settle, without
from leitung_core.solver.flow import across, branch_amps, fed_primary, winding_amps, winding_volts
from leitung_core.solver.network import Conductor, Network, Probe, State

PLACES = 6


class Answer(BaseModel):
    """A part of the answer."""

    model_config = ConfigDict(frozen=True, populate_by_name=True)


class ProbeAnswer(Answer):
    """What a meter reads between two terminals; `low` and `high` where it hangs on a figure that is not known."""

    a: str = Field(serialization_alias="from")
    b: str = Field(serialization_alias="to")
    volts: float | None
    volts_dc: float | None = None
    floating: bool
    low: float | None = None
    high: float | None = None


class LoadAnswer(Answer):
    """A load or coil; `energised` is None where it hangs on a figure that is not known."""

    device: str
    element: str
    energised: bool | None
    volts: float
    amps: float
    volts_dc: float | None = None
    va_known: bool = True
    low: float | None = None
    high: float | None = None


class ContactAnswer(Answer):
    device: str
    element: str
    closed: bool


class TransformerAnswer(Answer):
    device: str
    element: str
    secondary_terminal_volts: float
    secondary_amps: float
    va_out: float
    percent_of_rating: float | None
    primary_volts: float
    low: float | None = None
    high: float | None = None


class FuseAnswer(Answer):
    device: str
    element: str
    amps: float
    opens: bool


class HazardAnswer(Answer):
    code: str
    about: list[str]


class Moment(Answer):
    """One solved moment."""

    probes: list[ProbeAnswer]
    loads: list[LoadAnswer]
    contacts: list[ContactAnswer]
    transformers: list[TransformerAnswer]
    fuses: list[FuseAnswer]
    chatter: bool
    floating_conductors: list[str]
    hazards: list[str]
    hazard_details: list[HazardAnswer]


class AfterFuse(Moment):
    """The moment after one or more fuses opened."""

    opened: list[str]


class StateAnswer(Moment):
    """A state's answer."""

    name: str
    assumed: list[str]
    after_fuse: AfterFuse | None


def course_of(state: State) -> Course:
    """The stretches of time of a state: its history, then what is on until the answer."""
    history = tuple(Stretch(frozenset(phase.on), phase.for_s) for phase in state.history)
    return (*history, Stretch(frozenset(state.on), state.at_s))


def answer_all(network: Network) -> list[StateAnswer]:
    """Every state of the network, in order."""
    return answer(network, network.states)


def answer(network: Network, states: Sequence[State]) -> list[StateAnswer]:
    """The states' answers. Where a figure is not known, the network is solved at both ends of its range as well."""
    unknown = unknown_figures(network)
    sides: tuple[Side, ...] = SIDES if unknown else ("between",)
    nets = {side: Compiled(network, side) for side in sides}
    courses = [course_of(state) for state in states]
    runs = {side: settle(net, courses) for side, net in nets.items()}
    found = []
    for column, state in enumerate(states):
        main = one(runs["between"], column)
        moment = moment_of(main, state.probes)
        others = [moment_of(one(runs[side], column), state.probes) for side in sides if side != "between"]
        ranged = _ranged(moment, others)
        found.append(
            StateAnswer(
                name=state.name, assumed=unknown, after_fuse=_after(main, state.probes),
                **{name: getattr(ranged, name) for name in Moment.model_fields},
            )
        )  # fmt: skip
    return found


def unknown_figures(network: Network) -> list[str]:
    """The elements whose VA or regulation is not known, as `DEV.ID`."""
    found = []
    for device in network.devices:
        for part in device.inside:
            unrated = isinstance(part, Coil | Load | Transformer) and part.va is None
            if unrated or (isinstance(part, Transformer) and part.regulation_pct is None):
                found.append(f"{device.id}.{part.id}")
    return found


def one(whole: Solution, column: int) -> Solution:
    """One variant of a run by itself."""
    pick = np.array([column])
    return Solution(
        whole.net, whole.present[:, pick], whole.energised[:, pick], whole.since[:, pick], whole.due[:, pick],
        whole.at[pick],
        whole.begun[pick], whole.chatter[pick], whole.flow.take(pick),
        {name: on[pick] for name, on in whole.signals.items()},
    )  # fmt: skip


def moment_of(state: Solution, probes: Sequence[Probe]) -> Moment:
    """A run of one variant, put into words."""
    found = hazards(state)
    return Moment(
        probes=[probe_answer(state, probe.a, probe.b) for probe in probes],
        loads=load_answers(state),
        contacts=contact_answers(state),
        transformers=transformer_answers(state),
        fuses=fuse_answers(state),
        chatter=bool(state.chatter[0]),
        floating_conductors=floating_conductors(state),
        hazards=sorted({hazard.code for hazard in found}),
        hazard_details=[HazardAnswer(code=hazard.code, about=list(hazard.about)) for hazard in found],
    )


def probe_answer(state: Solution, a: str, b: str) -> ProbeAnswer:
    """What a meter reads from a to b: rms volts, DC where there is any; nothing where no path joins them."""
    net, flow = state.net, state.flow
    one_end, other = net.index[a], net.index[b]
    if flow.paths[one_end, 0] != flow.paths[other, 0]:
        return ProbeAnswer(a=a, b=b, volts=None, floating=True)
    volts = abs(flow.ac[one_end, 0] - flow.ac[other, 0])
    direct = None
    if flow.dc is not None:
        figure = float(flow.dc[one_end, 0] - flow.dc[other, 0])
        direct = _round(figure) if _has_dc(state, one_end) else None
    return ProbeAnswer(a=a, b=b, volts=_round(volts), volts_dc=direct, floating=False)


def _has_dc(state: Solution, node: int) -> bool:
    """Whether a DC source lies in the node's part of the network."""
    net, paths = state.net, state.flow.paths
    return any(paths[net.a[branch], 0] == paths[node, 0] for branch in net.dc)


def _round(figure: float) -> float:
    return round(float(figure), PLACES) + 0.0


def split(name: str) -> tuple[str, str]:
    """Device and element of `DEV.ID`."""
    device, _, element = name.rpartition(".")
    return device, element


def load_answers(state: Solution) -> list[LoadAnswer]:
    """Every load and coil of a run of one variant."""
    loads = loads_of(state.net)
    amps = np.abs(branch_amps(state.net, state.flow.ac, state.present)[:, 0])
    direct = across(state.net, state.flow.dc)[:, 0] if state.flow.dc is not None else None
    found = []
    for row, (name, branch) in enumerate(zip(loads.names, loads.branches, strict=True)):
        device, element = split(name)
        part = state.net.element[name]
        volts_dc = float(direct[branch].real) if direct is not None and loads.on_dc[row] else None
        on_dc = volts_dc is not None
        found.append(
            LoadAnswer(
                device=device, element=element, energised=bool(state.energised[row, 0]),
                volts=_round(state.volts_ac[row, 0]),
                amps=_round(abs(volts_dc or 0) * state.net.g_dc[branch] if on_dc else amps[branch]),
                volts_dc=_round(volts_dc) if volts_dc is not None else None,
                va_known=isinstance(part, Coil | Load) and part.va is not None,
            )
        )  # fmt: skip
    return found


def contact_answers(state: Solution) -> list[ContactAnswer]:
    """Every contact of a run of one variant."""
    contacts = contacts_of(state.net)
    found = []
    for name, branch in zip(contacts.names, contacts.branches, strict=True):
        device, element = split(name)
        found.append(ContactAnswer(device=device, element=element, closed=bool(state.present[branch, 0])))
    return found


def transformer_answers(state: Solution) -> list[TransformerAnswer]:
    """Every transformer of a run of one variant."""
    volts, amps = winding_volts(state.net, state.flow.ac)[:, 0], np.abs(winding_amps(state.net, state.flow.ac))[:, 0]
    found = []
    for core in state.net.cores:
        device, element = split(core.name)
        given, current = volts[core.secondary], amps[core.secondary]
        found.append(
            TransformerAnswer(
                device=device, element=element,
                secondary_terminal_volts=_round(given), secondary_amps=_round(current), va_out=_round(given * current),
                # Amperes heat the winding; volts that sag do not relieve it.
                percent_of_rating=_round(current * core.element.secondary_volts / core.va * 100)
                if core.va_known
                else None,
                primary_volts=_round(volts[fed_primary(core, amps)]),
            )
        )  # fmt: skip
    return found


def fuse_amps(state: Solution) -> list[tuple[str, int, float, float]]:
    """Every fuse that is there: name, branch, its amperes, its rating."""
    amps = np.abs(branch_amps(state.net, state.flow.ac, state.present)[:, 0])
    return [
        (name, branch, float(amps[branch]), part.amps) for name, branch in state.net.of(Fuse)
        if isinstance(part := state.net.element[name], Fuse) and state.present[branch, 0]
    ]  # fmt: skip


def fuse_answers(state: Solution) -> list[FuseAnswer]:
    """Every fuse that is there, in a run of one variant."""
    found = []
    for name, _, amps, rating in fuse_amps(state):
        device, element = split(name)
        found.append(FuseAnswer(device=device, element=element, amps=_round(amps), opens=amps > rating))
    return found


def floating_conductors(state: Solution) -> list[str]:
    """Conductors in a part of the network that nothing feeds."""
    fed = fed_nodes(state)
    return [
        name for name, branch in state.net.of(Conductor)
        if not fed[state.net.a[branch]] or not fed[state.net.b[branch]]
    ]  # fmt: skip


def fed_nodes(state: Solution) -> Bools:
    """Which nodes lie in a part with a source, or with a winding that has volts, (nodes,)."""
    net, paths = state.net, state.flow.paths[:, 0]
    fed = {int(paths[net.a[branch]]) for branch in (*net.ac, *net.dc)}
    for winding in net.windings:
        if abs(state.flow.ac[net.nodes + winding.transformer, 0]) > 1e-3:
            fed.add(int(paths[winding.a]))
    return np.isin(paths, list(fed))


@dataclass(frozen=True)
class Opened:
    """A run after its fuses opened, and which."""

    run: Solution
    names: tuple[str, ...]


def after_fuses(state: Solution) -> Opened | None:
    """What is left when the fuse furthest above its rating opens, and the next, until none is above its own."""
    names: tuple[str, ...] = ()
    while True:
        above = [(amps / rating, name, branch) for name, branch, amps, rating in fuse_amps(state) if amps > rating]
        if not above:
            return Opened(state, names) if names else None
        _, name, branch = max(above)
        state, names = without(state, [branch]), (*names, name)


def _after(state: Solution, probes: Sequence[Probe]) -> AfterFuse | None:
    opened = after_fuses(state)
    if opened is None:
        return None
    moment = moment_of(opened.run, probes)
    return AfterFuse(opened=list(opened.names), **{name: getattr(moment, name) for name in Moment.model_fields})


def _ranged(moment: Moment, others: Sequence[Moment]) -> Moment:
    """The moment with the lowest and the highest that unknown figures leave; what they do not decide is None."""
    if not others:
        return moment
    every = (moment, *others)
    probes = []
    for number, probe in enumerate(moment.probes):
        volts = [v for m in every if (v := m.probes[number].volts) is not None]
        probes.append(probe.model_copy(update=_span(volts)))
    loads = []
    for number, load in enumerate(moment.loads):
        on = {m.loads[number].energised for m in every}
        span = _span([m.loads[number].volts for m in every])
        loads.append(load.model_copy(update=span | {"energised": load.energised if len(on) == 1 else None}))
    transformers = [
        found.model_copy(update=_span([m.transformers[number].va_out for m in every]))
        for number, found in enumerate(moment.transformers)
    ]
    details = {(d.code, tuple(d.about)): d for m in every for d in m.hazard_details}
    return moment.model_copy(
        update={
            "probes": probes, "loads": loads, "transformers": transformers,
            "hazards": sorted({code for m in every for code in m.hazards}), "hazard_details": list(details.values()),
        }
    )  # fmt: skip


def _span(figures: Sequence[float]) -> dict[str, float]:
    if not figures or max(figures) - min(figures) < 10**-PLACES:
        return {}
    return {"low": min(figures), "high": max(figures)}
