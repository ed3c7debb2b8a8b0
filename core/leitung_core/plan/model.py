"""The plan document, format version 1. The one definition: it validates, and gives the JSON and API schemas.

Every group is a map from a short stable id to an element; references are ids; a terminal is `device.strip.terminal`.
Absent means not known yet.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field

from leitung_core.circuits.spec import Kind, Nameplate, Occupancy, OcpdType, Phase, Segment, Size
from leitung_core.errors import InputError, Problem
from leitung_core.validation import Entered, Id, NotNegative, Positive, Text, read, shorten

FORMAT: Literal["leitung-plan"] = "leitung-plan"
FORMAT_VERSION: Literal[1] = 1


class Site(Entered):
    """Where the install stands."""

    name: Text | None = None
    place: Text | None = Field(None, description="the room or area on that site")
    occupancy: Occupancy | None = None
    permit_date: date | None = None


class Source(Entered):
    """Where circuits begin. `volts` and `phase` are those a circuit of this source gets."""

    kind: Literal["panel"] = "panel"
    name: Text | None = None
    volts: Positive | None = None
    phase: Phase | None = None
    volts_to_ground: Positive | None = None
    bus_a: Positive | None = None
    spaces: Annotated[int, Field(strict=True, ge=1, le=84)] | None = Field(None, description="numbered spaces")


class Strip(Entered):
    """Terminals in the order in which the installer sees them, left to right."""

    name: Text | None = None
    terminals: Annotated[list[Id], Field(max_length=60)] = []


class Unit(Entered):
    """One unit and its plate."""

    kind: Kind
    name: Text | None = None
    place: Text | None = None
    nameplate: Nameplate | None = None
    strips: Annotated[dict[Id, Strip], Field(max_length=20)] = {}


class Ocpd(Entered):
    """The breaker or fuse at the source."""

    rating_a: Positive | None = None
    type: OcpdType | None = None
    spaces: Annotated[list[Annotated[int, Field(strict=True, ge=1, le=84)]], Field(max_length=3)] | None = None


class Disconnect(Entered):
    """The disconnect at the unit."""

    rating_a: Positive | None = None
    type: Literal["nonfused", "fused", "breaker"] | None = None
    in_sight: bool | None = None
    distance_ft: NotNegative | None = None
    working_depth_in: NotNegative | None = None
    working_width_in: NotNegative | None = None


class RunSegment(Segment):
    """A stretch of the run; `order` counts from the source to the unit."""

    order: Annotated[int, Field(strict=True, ge=0, le=100_000)]
    name: Text | None = None


class Circuit(Entered):
    """One line: from its source to its unit."""

    name: Text | None = None
    source: Id | None = None
    equipment: Id | None = None
    ocpd: Ocpd | None = None
    run: Annotated[dict[Id, RunSegment], Field(max_length=40)] = {}
    egc: Size | None = None
    disconnect: Disconnect | None = None
    gfci: bool | None = None
    receptacle_distance_ft: NotNegative | None = None
    voltage_drop_limit_pct: Annotated[float, Field(strict=True, gt=0, le=20)] | None = None

    def segments(self) -> list[tuple[str, RunSegment]]:
        """The run from source to unit."""
        return sorted(self.run.items(), key=lambda item: (item[1].order, item[0]))


class Plan(Entered):
    """An install's electrical package."""

    format: Literal["leitung-plan"] = FORMAT
    format_version: Literal[1] = FORMAT_VERSION
    rulebook: Literal["us-2017", "us-2020", "us-2023"] = "us-2023"
    name: Text
    site: Site = Site()
    sources: Annotated[dict[Id, Source], Field(max_length=50)] = {}
    equipment: Annotated[dict[Id, Unit], Field(max_length=500)] = {}
    circuits: Annotated[dict[Id, Circuit], Field(max_length=500)] = {}


def read_plan(data: Any) -> Plan:
    """The plan in `data`. Raises InputError naming field, value and remedy for everything that does not fit."""
    if not isinstance(data, Mapping):
        raise InputError(Problem("document", type(data).__name__, "a plan is a JSON object", "Give a plan file."))
    if data.get("format") != FORMAT:
        raise InputError(
            Problem("format", shorten(data.get("format")), "this is not a Leitung plan", f'It must read "{FORMAT}".')
        )
    if data.get("format_version") != FORMAT_VERSION or isinstance(data["format_version"], bool):
        raise InputError(
            Problem(
                "format_version",
                shorten(data.get("format_version")),
                "this version of the plan format is not known here",
                f"This release reads version {FORMAT_VERSION}: export the plan again, or update Leitung.",
            )
        )
    plan = read(Plan, data)
    _references(plan)
    return plan


def _references(plan: Plan) -> None:
    """Every reference must lead to an element that is there."""
    problems = []
    for circuit_id, circuit in plan.circuits.items():
        for field, group in (("source", plan.sources), ("equipment", plan.equipment)):
            target = getattr(circuit, field)
            if target is not None and target not in group:
                known = ", ".join(list(group)[:5]) or "none yet"
                problems.append(
                    Problem(f"circuits.{circuit_id}.{field}", target, "there is no such element", f"Known: {known}.")
                )
    if problems:
        raise InputError(*problems[:20])


def dump_plan(plan: Plan) -> dict[str, Any]:
    """The plan as JSON data: what is not known is absent, never null."""
    return plan.model_dump(mode="json", exclude_none=True)


def plan_json_schema() -> dict[str, Any]:
    """The JSON Schema of the plan format."""
    schema = Plan.model_json_schema()
    _close(schema)
    return schema


def _close(schema: Any) -> None:
    """Refuse ids that do not fit, as the reader does: a pattern alone lets every other name pass."""
    if isinstance(schema, dict):
        if "patternProperties" in schema:
            schema["additionalProperties"] = False
        for inner in schema.values():
            _close(inner)
    elif isinstance(schema, list):
        for inner in schema:
            _close(inner)
