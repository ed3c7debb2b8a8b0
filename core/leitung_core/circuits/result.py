"""The result of sizing one circuit: frozen, apart from its inputs, explained field by field."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from leitung_core.explain import Step
from leitung_core.findings import Finding


class Frozen(BaseModel):
    model_config = ConfigDict(frozen=True)


class SegmentResult(Frozen):
    """One stretch of the run, as proposed or as chosen."""

    about: str
    conductor: str | None
    column_c: int | None
    ampacity_a: float | None
    factors: dict[str, float]
    drop_v: float | None
    raceway_size: str | None
    fill_pct: float | None
    area_cmil: float | None
    decides: bool


class Alternative(Frozen):
    """A lawful way to do it: what it takes, what it leaves in hand, and the merge patch that makes the line so.

    `material` says the stuff in words, waste not counted; `metal_lb` weighs the bare conductors, lb.
    """

    title: Literal["least", "matched", "roomy"]
    ocpd_a: float
    conductor: str
    egc: str
    ampacity_a: float
    margin_a: float
    drop_pct: float | None
    material: list[str]
    metal_lb: float | None
    chosen: bool
    patch: dict[str, Any]


class CircuitResult(Frozen):
    """Figures in A, V, % as named. None: not known; a finding says why.

    `conductor` and `egc` are the least that will do, drop included; `proposed_ampacity_a`, `proposed_egc`,
    `margin_a` and the drop belong to the conductors in use: the proposed ones, else the least. `start_a` flows while
    the largest compressor starts and everything else runs. `sort` is how a feeder counts the load.
    """

    supply_v: float | None
    supply_phase: int | None
    sort: Literal["motor", "continuous", "other"]
    running_a: float | None
    min_ampacity_a: float | None
    max_ocpd_a: float | None
    ocpd_choices_a: list[float]
    ocpd_a: float | None
    conductor: str | None
    conductor_column_c: int | None
    conductor_ampacity_a: float | None
    conductor_before_drop: str | None
    proposed_ampacity_a: float | None
    margin_a: float | None
    egc: str | None
    proposed_egc: str | None
    cord: str | None
    disconnect_min_a: float | None
    disconnect_a: float | None
    voltage_drop_v: float | None
    voltage_drop_pct: float | None
    start_a: float | None
    start_drop_v: float | None
    start_drop_pct: float | None
    segments: list[SegmentResult]
    alternatives: list[Alternative]
    findings: list[Finding]
    steps: list[Step]
