"""A stretch that is drawn on its line and landed as a cable: both say the same, or a finding says that they differ."""

from __future__ import annotations

from collections.abc import Iterator

from leitung_core.findings import Finding, Way, finding
from leitung_core.plant.lines import Line
from leitung_core.plant.plant import Plant
from leitung_core.units import say_size


def judge_drawing(plant: Plant, line: Line) -> Iterator[Finding]:
    """Where a line and its cables say two things."""
    for stretch in line.stretches:
        cable = plant.plan.cables.get(stretch.cable or "")
        planned = line.circuit.run[stretch.key].conductor if stretch.key in line.circuit.run else None
        if cable is None or planned is None or cable.awg is None or cable.awg == planned:
            continue
        message = (
            f"{stretch.cable} is {say_size(cable.awg)} where it is landed and {say_size(planned)} on {line.id}; "
            "the thinner of the two was judged."
        )
        ways = [
            Way(label=f"It is {say_size(planned)}", message="as on the line",
                fix={"cables": {stretch.cable: {"awg": None}}}),
            Way(label=f"It is {say_size(cable.awg)}", message="as it is landed",
                fix={"circuits": {line.id: {"run": {stretch.key: {"conductor": cable.awg}}}}}),
        ]  # fmt: skip
        yield finding("drawn-differently", stretch.about, message, ways=ways)
    if line.other is not None:
        unit = line.circuit.equipment or line.id
        message = f"The cable to {unit} comes from the breaker of {line.other}, and its line is {line.id}."
        yield finding("fed-otherwise", f"circuits/{line.id}", message)
