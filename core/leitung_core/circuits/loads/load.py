"""What a load asks for: currents, device bounds, and what led to them."""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal
from typing import Literal

from leitung_core.circuits.plate import PLATE as PLATE
from leitung_core.circuits.spec import Nameplate, Spec
from leitung_core.explain import Step
from leitung_core.findings import Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say

# The article by which a load is judged: cooling, motors, electric heat, other branch loads, feeders.
Article = Literal["440", "430", "424", "210", "215"]
COOLING = (
    "mini_split_outdoor",
    "condensing_unit",
    "heat_pump_outdoor",
    "packaged_rooftop",
    "packaged_heat_pump",
    "roof_unit_120v",
)
OUTDOOR = COOLING


@dataclass(frozen=True)
class Load:
    """Currents in A; None: not known, a remark says why.

    `device_floor_a` is what the device must at least be rated, `device_ceiling_a` the exact limit of a computed
    motor circuit before it is brought to a standard rating. `heat_floor_a` is the part of the floor that the heating
    mode asks for. `start_a` flows while the largest compressor starts and everything else runs.
    """

    article: Article
    min_ampacity_a: Decimal | None = None
    running_a: Decimal | None = None
    running_formula: str = "not known"
    device_floor_a: Decimal | None = None
    device_ceiling_a: Decimal | None = None
    heat_floor_a: Decimal | None = None
    disconnect_min_a: Decimal | None = None
    disconnect_formula: str = ""
    disconnect_article: str = "440.12"
    start_a: Decimal | None = None
    remarks: tuple[Remark, ...] = ()
    share_in_it: bool = False
    steps: tuple[Step, ...] = field(default=())

    @property
    def device_follows_conductor(self) -> bool:
        """Whether 240.4(B) and (D) tie the device to the conductor: not under Articles 440 and 430 (240.4(G))."""
        return self.article not in ("440", "430")

    @property
    def sort(self) -> Literal["motor", "continuous", "other"]:
        """How a feeder counts this load: its largest motor and its continuous loads count 125 %."""
        if self.share_in_it:
            return "other"
        if self.starts:
            return "motor"
        return "continuous" if self.min_ampacity_a != self.running_a else "other"

    @property
    def starts(self) -> bool:
        """Whether a motor or compressor starts on this circuit: a larger lawful device then leaves more room."""
        return not self.device_follows_conductor


def count(spec: Spec) -> int:
    """Units on this circuit."""
    return spec.equipment.quantity or 1


def compressor_currents(plate: Nameplate) -> list[Decimal]:
    """The governing current of each compressor, A: the larger of RLA and BCSC (440.2, 440.32)."""
    marks = [[c.rla_a, c.bcsc_a] for c in plate.compressors or []]
    return [max(exact(mark) for mark in pair if mark) for pair in marks if any(pair)]


def motor_currents(plate: Nameplate, *uses: str) -> list[Decimal]:
    """The FLA of each motor, A; of the named uses only, where some are named."""
    return [exact(motor.fla_a) for motor in plate.motors or [] if not uses or motor.use in uses]


def running_currents(plate: Nameplate) -> list[Decimal]:
    """The marked running current of every compressor and motor, A."""
    return [*compressor_currents(plate), *motor_currents(plate)]


def with_largest(currents: list[Decimal], book: Rulebook) -> Decimal:
    """Sum plus a part of the largest, A (440.33, 430.24: 25 %); 0 for none."""
    return sum(currents, Decimal(0)) + (max(currents) * book.factor("largest-motor") if currents else Decimal(0))


def locked_rotor_a(plate: Nameplate, peak_a: float | None = None) -> Decimal | None:
    """What flows while the compressor with the largest marked LRA starts and the others run, A; None without a mark.

    peak_a: what a soft starter holds it to, in place of its locked rotor.
    """
    compressors = plate.compressors or []
    if peak_a is not None and compressors:
        largest = max(compressor_currents(plate), default=Decimal(0))
        return exact(peak_a) + sum(running_currents(plate), Decimal(0)) - largest
    marked = [(exact(c.lra_a), index) for index, c in enumerate(compressors) if c.lra_a]
    if not marked:
        return None
    lra, starting = max(marked)
    others = plate.model_copy(update={"compressors": [c for i, c in enumerate(compressors) if i != starting]})
    return lra + sum(running_currents(others), Decimal(0))


def listed(currents: list[Decimal]) -> str:
    """Currents as a sum in words."""
    return " + ".join(say(current, 2) for current in currents)
