"""Leaving it in order: settings made, what was put in for a while out again, labels, papers, the user shown."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from leitung_core.commissioning.steps import StartStep
from leitung_core.control.system import System
from leitung_core.plant.plant import Plant

PAPERS = "Manual, this record and the lid's diagram left at the unit; its disconnect and breaker labelled."
SHOWN = ("Shown to the user: how it is called, what clicks and starts late, what a first heat smells of, what to do "
         "when it stops.")  # fmt: skip


def taken_out(plant: Plant, about: str, devices: Sequence[str], after: Sequence[str]) -> Iterator[StartStep]:
    """Cables that were put in for a test, out again."""
    for key, cable in plant.plan.cables.items():
        if cable.for_test and cable.state != "removed" and {cable.a.device, cable.b.device} & set(devices):
            yield StartStep(
                key=f"cables/{key}.out", about=about, phase="running", hold=True, does="hold", needs=list(after),
                text=f"{cable.name or key}, put in for a test, is out again. Nothing is bridged.",
                caution="A bridge left in makes an interlock that looks proved and is not.", minutes=2,
            )  # fmt: skip


def set_as_planned(system: System, settings: Sequence[str], after: Sequence[str]) -> Iterator[StartStep]:
    """The set-up sheet of a system."""
    if settings:
        yield StartStep(
            key=f"devices/{system.key}.set-up", about=f"devices/{system.key}", phase="energise",
            settings=list(settings), text="Everything set as the set-up sheet has it.", needs=list(after),
            minutes=max(2.0, len(settings)),
        )  # fmt: skip


def line_left(line: str, after: Sequence[str]) -> StartStep:
    """A unit left with its papers."""
    return StartStep(
        key=f"{line}.papers", about=f"circuits/{line}", phase="leave", text=PAPERS, needs=list(after), minutes=3
    )


def system_left(about: str, after: Sequence[str]) -> StartStep:
    """The user shown what they will meet."""
    return StartStep(key=f"{about}.shown", about=about, phase="leave", text=SHOWN, needs=list(after), minutes=5)


def source_left(source_id: str, after: Sequence[str]) -> StartStep:
    """The directory of a panel."""
    key = f"sources/{source_id}"
    return StartStep(
        key=f"{key}.directory", about=key, phase="leave", text="Directory of the panel written from the plan.",
        needs=list(after), minutes=3,
    )  # fmt: skip
