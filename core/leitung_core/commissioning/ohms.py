"""Before power, the control wiring of a system by the ohmmeter: what copper joins and what it must not."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

from leitung_core.commissioning.judge import OPEN_OHMS
from leitung_core.commissioning.steps import ReadingPoint, StartStep
from leitung_core.control.system import System
from leitung_core.elements.vocabulary import Fuse
from leitung_core.slips.dead_tests import JOINED_OHMS, SHORT_OHMS, DeadTest, dead_tests, neutrals
from leitung_core.slips.mistakes import mistakes

MINUTES_EACH = 0.25
MAY_BE = 3


def ohm_readings(system: System) -> list[ReadingPoint]:
    """The fewest that show every mistake which power would not forgive; none where nothing of that kind can be made,
    or where the system has too many terminals for them to be chosen.
    """
    tests = dead_tests(system)
    if not tests:
        return []
    says = [mistake.says for mistake in mistakes(system)]
    often = Counter(number for test in tests for number in test.exposes)
    return [
        # What shows in few other tests is likelier than what had shown in one of those.
        _reading(system, test, [says[n] for n in sorted(test.exposes, key=lambda n: (often[n], n))[:MAY_BE]])
        for test in tests
    ]


def _reading(system: System, test: DeadTest, if_wrong: list[str]) -> ReadingPoint:
    low, high = (0.0, JOINED_OHMS) if test.joined else (SHORT_OHMS, OPEN_OHMS)
    far = _at(system, test.b)
    return ReadingPoint(
        key=f"{test.a}-{test.b}.ohms", about=f"devices/{system.key}", text=f"{_at(system, test.a)} to {far}",
        terminal_from=test.a, terminal_to=_terminal(system, test.b), unit="Ω", state="no_load",
        expected=0.0 if test.joined else OPEN_OHMS if test.apart else None, low=low, high=high,
        basis="joined by copper" if test.joined else "nothing between" if test.apart else "a load between, no copper",
        if_wrong=if_wrong,
    )  # fmt: skip


def _at(system: System, node: str) -> str:
    post = system.plant.posts.get(node)
    return f"{post.label} of {post.device_id}" if post else f"the ground bar of {node.partition('.')[0]}"


def _terminal(system: System, node: str) -> str:
    return node if node in system.plant.posts else f"{node.partition('.')[0]}.bar.G"


def ohmed_out(system: System, reads: Sequence[str], after: Sequence[str]) -> Iterator[StartStep]:
    """A system's tests with everything dead; what is taken off for them is put back before any cover goes on."""
    about = f"devices/{system.key}"
    if not reads:
        if dead_tests(system) is None:
            yield _by_hand(system, after)
        return
    off = _taken_off(system)
    before = list(after)
    if off:
        yield StartStep(
            key=f"{about}.off-for-ohms", about=about, phase="before_power", needs=before,
            text=f"For the ohmmeter, {'; '.join(off)}.", minutes=0.5 * len(off),
        )  # fmt: skip
        before = [f"{about}.off-for-ohms"]
    yield StartStep(
        key=f"{about}.ohms", about=about, phase="before_power", needs=before, hold=True, does="read", reads=list(reads),
        text="Ohms between terminals, every breaker off: joined, "
        f"at most {JOINED_OHMS:g} Ω; apart, over {SHORT_OHMS:g} Ω or no reading.",
        minutes=max(1.0, MINUTES_EACH * len(reads)),
    )  # fmt: skip
    if off:
        yield StartStep(
            key=f"{about}.back-on", about=about, phase="before_power", needs=[f"{about}.ohms"], hold=True, does="hold",
            text="Back as it was before the ohmmeter, tugged and tightened: fuses and neutrals.",
            minutes=0.5 * len(off),
        )  # fmt: skip


def _by_hand(system: System, after: Sequence[str]) -> StartStep:
    about = f"devices/{system.key}"
    return StartStep(
        key=f"{about}.ohms-by-hand", about=about, phase="before_power", needs=list(after), hold=True, does="hold",
        text="Too many terminals for pairs to be chosen: ohms of every conductor from end to end, of every terminal to "
        "ground and to its common, every breaker off.", minutes=MINUTES_EACH * len(system.built_ends),
    )  # fmt: skip


def _taken_off(system: System) -> list[str]:
    """What would lead around a test: control fuses, and each neutral at its bar."""
    types = system.plant.types
    found = [f"fuse of {key} out" for key in system.devices
             if types[key].group != "panel" and any(isinstance(part, Fuse) for part in types[key].inside)]  # fmt: skip
    for name in neutrals(system):
        cable, _, conductor = name.partition("/")
        wire = next((wire for wire in system.plant.wires.get(cable, ()) if wire.id == conductor), None)
        found.append(f"{wire.colour if wire else conductor} of {cable} off the neutral bar")
    return list(dict.fromkeys(found))
