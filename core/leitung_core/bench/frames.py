"""The bench: a system carried through what is pressed, frame by frame, and why each load is on or off in each."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict

from leitung_core.bench.ladder import Ladder, Rung, StepOf, ladder
from leitung_core.control.hazards import ALIVE
from leitung_core.control.probes import not_live
from leitung_core.control.simulate import Said, said_in
from leitung_core.control.solved import (
    FuseAnswer,
    TransformerAnswer,
    after_fuses,
    contact_answers,
    fed_nodes,
    fuse_answers,
    load_answers,
    transformer_answers,
)
from leitung_core.control.system import System
from leitung_core.elements.signals import signals
from leitung_core.findings import Finding
from leitung_core.solver.arrays import Bools
from leitung_core.solver.compiled import Compiled, Extra
from leitung_core.solver.contacts import Frame, Solution, Stretch, loads_of, settle, usual

HORIZON_S = 900.0
MOST_FRAMES = 60


class Shown(BaseModel):
    """A part of what the bench shows."""

    model_config = ConfigDict(frozen=True)


class NodeVolts(Shown):
    """A node: phasor (rms volts, real and imaginary), direct volts, its part of the network, whether that is fed.

    not_live: why no reading is taken there with the power on.
    """

    re: float
    im: float
    dc: float | None
    part: int
    fed: bool
    not_live: str | None = None


class LoadShown(Shown):
    """A load in a frame: on or off, how that is said, its volts and amperes, and why."""

    on: bool
    says: str
    volts: float
    amps: float
    why: str


class FrameShown(Shown):
    """The system at one moment: when, what has just moved, and where everything stands."""

    at_s: float
    moved: list[str]
    closed: dict[str, bool]
    loads: dict[str, LoadShown]
    nodes: dict[str, NodeVolts]
    transformers: list[TransformerAnswer]
    fuses: list[FuseAnswer]
    opened: list[str]
    findings: list[Said]
    chatter: bool


class BenchRun(Shown):
    """What happens after the last press: frames until nothing more is to come."""

    on: list[str]
    frames: list[FrameShown]


class SignalShown(Shown):
    """Something that can be pressed."""

    name: str
    short: str
    says: str


class SystemShown(Shown):
    """A system and its drawing."""

    key: str
    title: str
    devices: list[str]
    calls: list[SignalShown]
    causes: list[SignalShown]
    hands: list[SignalShown]
    ladder: Ladder
    notes: list[str]
    assumed: list[str]
    findings: list[Finding]


def system_shown(system: System, findings: Sequence[Finding], assumed: Sequence[str]) -> SystemShown:
    """A system with what can be pressed in it and its drawing."""
    plan = system.plant.plan
    hands = [
        SignalShown(name=name, short=f"{device} off", says=f"{plan.devices[device].name or device} is off")
        for name in system.hands for device in [name.removeprefix("hand:")]
    ]  # fmt: skip
    return SystemShown(
        key=system.key, title=system.title, devices=system.devices, calls=_signals(system.calls),
        causes=_signals(system.causes), hands=hands, ladder=ladder(system),
        notes=[note.says for note in system.built.notes], assumed=list(assumed), findings=list(findings),
    )  # fmt: skip


def _signals(names: Sequence[str]) -> list[SignalShown]:
    return [SignalShown(name=name, short=signals()[name].short, says=signals()[name].says) for name in names]


def bench_run(
    system: System, course: Sequence[Stretch], gone: Sequence[str] = (), extra: Sequence[Extra] = ()
) -> BenchRun:
    """Carry a system through what was pressed, in order; the last stretch is followed until nothing more is to come.

    gone, extra: branches that a mistake takes out and puts in.
    """
    net = Compiled(system.network, extras=tuple(extra))
    present = usual(net, 1)
    present[[net.branch[name] for name in gone]] = False
    present[[net.branch[branch.name] for branch in extra]] = True
    last = course[-1] if course else Stretch(frozenset(), 0)
    before = tuple(course[:-1])
    start = sum(stretch.for_s for stretch in before)
    state = settle(net, [(*before, Stretch(last.on, HORIZON_S))], present, watched=True)
    drawn = ladder(system)
    rungs = {rung.load: rung for rail in drawn.rails for rung in rail.rungs} | {rung.load: rung for rung in drawn.loose}
    taken = [frame for frame in state.frames if frame.stretch == len(before)][:MOST_FRAMES]
    shown = [_frame(system, rungs, frame, start, last.on) for frame in taken]
    return BenchRun(on=sorted(last.on), frames=shown)


def _frame(system: System, rungs: dict[str, Rung], frame: Frame, start: float, on: frozenset[str]) -> FrameShown:
    opened = after_fuses(frame.run) if frame.settled else None
    state, gone = (opened.run, set(opened.names)) if opened else (frame.run, set[str]())
    closed = {f"{entry.device}.{entry.element}": entry.closed for entry in contact_answers(state)}
    loads = {}
    for entry, rated in zip(load_answers(state), loads_of(state.net).rated, strict=True):
        name, on_now = f"{entry.device}.{entry.element}", bool(entry.energised)
        volts = entry.volts_dc if entry.volts_dc is not None else entry.volts
        why = _why(rungs.get(name), closed, on_now, volts, gone)
        starved = entry.amps > 0 and volts > ALIVE * rated
        says = "on" if on_now else "not on, and carries current" if starved else "off"
        loads[name] = LoadShown(on=on_now, says=says, volts=volts, amps=entry.amps, why=why)
    return FrameShown(
        at_s=frame.at_s - start, moved=frame.moved, closed=closed, loads=loads,
        nodes=_nodes(system, state, fed_nodes(state)),
        transformers=transformer_answers(state), fuses=fuse_answers(frame.run),
        opened=list(opened.names) if opened else [],
        findings=said_in(system, frame.run, on) if frame.settled else [], chatter=bool(state.chatter[0]),
    )  # fmt: skip


def _nodes(system: System, state: Solution, fed: Bools) -> dict[str, NodeVolts]:
    posts = system.plant.posts
    ac, dc, parts = state.flow.ac[:, 0], state.flow.dc, state.flow.paths[:, 0]
    return {
        name: NodeVolts(
            re=round(float(ac[i].real), 4), im=round(float(ac[i].imag), 4), part=int(parts[i]), fed=bool(fed[i]),
            dc=round(float(dc[i, 0]), 4) if dc is not None else None,
            not_live=not_live(posts[name]) if name in posts else None,
        )
        for i, name in enumerate(state.net.names)
    }  # fmt: skip


def _why(rung: Rung | None, closed: dict[str, bool], on: bool, volts: float, gone: set[str]) -> str:
    """Which way energises a load, or what on its ways is open."""
    if rung is None or not rung.lanes:
        return "No supply reaches it."
    if rung.back is None:
        return "It has no way back to its supply."
    whole = [lane.steps for lane in rung.lanes if not _open_in(lane.steps, closed, gone)]
    back = _open_in(rung.back, closed, gone)
    if whole and not back:
        way = _told(whole[0])
        if on:
            return f"Through {way}." if way else "Straight from its supply."
        return f"Its way is closed{f', through {way}' if way else ''}, and it gets {volts:z.1f} V: not enough."
    if on:
        return f"Holds at {volts:z.1f} V, by a way that is not its own."
    if back:
        return f"Its way back is open at {back[0].says}."
    opens = list(dict.fromkeys(_open_in(lane.steps, closed, gone)[0].says for lane in rung.lanes if not lane.sneaks))
    return f"Open at {'; at '.join(opens[:3])}."


def _open_in(steps: Sequence[StepOf], closed: dict[str, bool], gone: set[str]) -> list[StepOf]:
    return [step for step in steps if (step.kind == "contact" and not closed.get(step.name, True)) or step.name in gone]


def _told(steps: Sequence[StepOf]) -> str:
    return ", then ".join(step.says for step in steps if step.kind == "contact")
