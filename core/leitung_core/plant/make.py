"""What a cable is made of: as entered, or taken from the line's run of which it is a stretch."""

from __future__ import annotations

import re
from dataclasses import dataclass

from leitung_core.catalogue.cables import FAMILY_OF_METHOD, CableFamily, cable_families
from leitung_core.circuits.spec import SIZES_IN_ORDER
from leitung_core.plan.model import Plan, RunSegment
from leitung_core.plan.wired import Cable
from leitung_core.units import say, say_size

# A jumper between two terminals of one device, where its length is not given.
JUMPER_FT = 0.5
THIN_FIRST = ("24", "22", "20", *SIZES_IN_ORDER)


@dataclass(frozen=True)
class Make:
    """A cable's construction; what is not known is None."""

    family_id: str | None
    family: CableFamily | None
    awg: str | None
    strands: str | None
    count: int | None
    length_ft: float | None
    wet: bool | None
    sunlight: bool | None

    @property
    def class_2(self) -> bool:
        return self.family is not None and self.family.class_2

    def says(self) -> str:
        """`18 AWG, 5 conductors, solid, thermostat cable`."""
        parts = [say_size(self.awg) if self.awg else "gauge not known"]
        parts.append(f"{self.count} conductors" if self.count else "conductors not known")
        parts += [self.strands] if self.strands else []
        parts.append(self.family.name if self.family else "construction not known")
        return ", ".join(parts)

    def length_says(self) -> str:
        return f"{say(self.length_ft)} ft" if self.length_ft is not None else "length not known"


def make_of(plan: Plan, cable: Cable) -> Make:
    """The construction of a cable."""
    run = run_of(plan, cable)
    segment = run[0] if run else None
    family_id = cable.family or (FAMILY_OF_METHOD.get(segment.method or "") if segment else None)
    family = cable_families().get(family_id or "")
    only = family.strands[0] if family and len(family.strands) == 1 else None
    stretches = [part.length_ft for part in run] + [part.length_ft for part in cable.route.values()]
    if cable.segments == [] and run:
        # The end of the line's last stretch: its length is counted there.
        stretches = [0.0]
    length = cable.length_ft
    if length is None and cable.a.device == cable.b.device:
        length = JUMPER_FT
    if length is None and stretches and None not in stretches:
        length = sum(part for part in stretches if part is not None)
    return Make(
        family_id=family_id,
        family=family,
        awg=cable.awg or (segment.conductor if segment else None),
        strands=cable.strands or (segment.construction if segment else None) or only,
        count=len(cable.colours) if cable.colours else cable.count,
        length_ft=length,
        wet=cable.wet if cable.wet is not None else family.wet if family else None,
        sunlight=cable.sunlight if cable.sunlight is not None else family.sunlight if family else None,
    )


def run_of(plan: Plan, cable: Cable) -> list[RunSegment]:
    """The stretches of a line's run that the cable is, where it is one."""
    circuit = plan.circuits.get(cable.circuit or "")
    if circuit is None:
        return []
    if cable.segments == []:
        return [segment for _, segment in circuit.segments()][-1:]
    return [circuit.run[name] for name in cable.segments or [] if name in circuit.run]


def thinner(one: str, other: str) -> bool:
    """Whether the first gauge is thinner than the second."""
    return THIN_FIRST.index(one) < THIN_FIRST.index(other)


def conductor_ids(cable: Cable, make: Make) -> list[str]:
    """The conductors of a cable in their order: those of its construction, then any further ones by name."""
    built = cable.colours or (make.family.colours_of(make.count) if make.family and make.count else [])
    more = [name for name in cable.conductors if name not in built]
    return [*built, *sorted(more, key=_natural)]


def _natural(name: str) -> tuple[int, int, str]:
    number = re.match(r"\d+", name)
    return (0, int(number[0]), name) if number else (1, 0, name)
