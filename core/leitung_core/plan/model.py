"""The plan document, format version 2. The one definition: it validates, and gives the JSON and API schemas.

Every group is a map from a short stable id to an element; references are ids; a terminal is `device.strip.terminal`.
Absent means not known yet.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field

from leitung_core.catalogue.device import DeviceType
from leitung_core.circuits.impossible import impossible_supply
from leitung_core.circuits.spec import Kind, Nameplate, Occupancy, OcpdType, Receptacle, Segment, Size, Supply
from leitung_core.elements.vocabulary import Effect
from leitung_core.errors import InputError, Problem
from leitung_core.plan.feeds import UnitStart
from leitung_core.plan.references import missing, wiring_references
from leitung_core.plan.sources import Leg, Source, Space
from leitung_core.plan.versions import newest
from leitung_core.plan.wired import Cable, Device
from leitung_core.plan.work import TaskKey, Work
from leitung_core.rulebook.editions import NEWEST, EditionId
from leitung_core.rulebook.schools import AmendmentOrId, known_amendments
from leitung_core.suit import BranchQuestion, HeatQuestion, SteamQuestion
from leitung_core.validation import Count, Entered, Id, NotNegative, Positive, Text, closed_schema, read, shorten

FORMAT: Literal["leitung-plan"] = "leitung-plan"
FORMAT_VERSION: Literal[2] = 2


class OwnSlack(Entered):
    """Slack at the ends of cable as this crew leaves it, where it is not the usual."""

    panel_ft: Annotated[float, Field(ge=0, le=30)] | None = Field(None, description="in a panel, ft")
    board_ft: Annotated[float, Field(ge=0, le=30)] | None = Field(None, description="at a board or an outdoor unit, ft")
    other_ft: Annotated[float, Field(ge=0, le=30)] | None = Field(None, description="at every other end, ft")


class Site(Entered):
    """Where the install stands."""

    name: Text | None = None
    place: Text | None = Field(None, description="the room or area on that site")
    address: Text | None = Field(None, description="street and town, by which it is found again")
    occupancy: Occupancy | None = None
    permit_date: date | None = None
    permit: Text | None = Field(None, description="its number")
    licence: Text | None = Field(None, description="the licence under which the work is done")
    inspections: Annotated[list[Literal["rough-in", "final"]], Field(max_length=2)] | None = None
    measured: Annotated[list[Literal["insulation", "power"]], Field(max_length=2)] | None = Field(
        None, description="what the job asks to be measured beside the usual"
    )
    slack: OwnSlack | None = None


class Unit(Entered):
    """One unit and its plate."""

    kind: Kind
    maker: Text | None = None
    model: Text | None = None
    serial: Text | None = Field(None, description="the serial number on its plate")
    quantity: Count | None = Field(None, description="like units on the one circuit; left out: one")
    heat_with_cooling: bool | None = None
    cord_connected: bool | None = None
    name: Text | None = None
    place: Text | None = None
    nameplate: Nameplate | None = None
    start: UnitStart | None = None


class Ocpd(Entered):
    """The breaker or fuse at the source."""

    rating_a: Positive | None = None
    type: OcpdType | None = None
    reason: Text | None = Field(None, description="why up to 225 % is needed (440.22(A))")
    spaces: Annotated[list[Space], Field(max_length=3)] | None = None


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
    raceway_id: Id | None = Field(None, description="segments with the same id lie in one raceway")


class Circuit(Entered):
    """One line: from its source to its unit, or to the panel that it feeds."""

    name: Text | None = None
    source: Id | None = None
    equipment: Id | None = None
    feeds: Id | None = Field(None, description="the source at the far end, where the line is a feeder")
    poles: Annotated[int, Field(strict=True, ge=1, le=3)] | None = Field(
        None, description="poles of the device; left out: as many as the source has lines"
    )
    leg: Leg | None = Field(None, description="where it lies on a source without numbered spaces")
    ocpd: Ocpd | None = None
    run: Annotated[dict[Id, RunSegment], Field(max_length=40)] = {}
    egc: Size | None = None
    disconnect: Disconnect | None = None
    gfci: bool | None = None
    receptacle_a: Positive | None = None
    receptacle: Receptacle | None = Field(None, description="its configuration; its rating goes with it")
    receptacle_distance_ft: NotNegative | None = None
    other_outlets: bool | None = Field(None, description="whether the branch also serves other outlets")
    voltage_drop_limit_pct: Annotated[float, Field(strict=True, gt=0, le=20)] | None = None

    def segments(self) -> list[tuple[str, RunSegment]]:
        """The run from source to unit."""
        return sorted(self.run.items(), key=lambda item: (item[1].order, item[0]))


class Interlock(Entered):
    """A cell of the cause-and-effect matrix, where the plan asks for other than the rules do."""

    system: Id = Field(description="the device at the head of the system")
    cause: Text
    effect: Effect
    stops: bool = Field(description="whether the cause is to stop the effect")
    reason: Text | None = None


class Pattern(Entered):
    """A pattern that was placed: which, and the devices that take its parts."""

    pattern: Id
    parts: Annotated[dict[Id, Id], Field(max_length=20)] = {}


Question = Annotated[HeatQuestion | SteamQuestion | BranchQuestion, Field(discriminator="ask")]


class Plan(Entered):
    """An install's electrical package."""

    format: Literal["leitung-plan"] = FORMAT
    format_version: Literal[2] = FORMAT_VERSION
    rulebook: EditionId = NEWEST
    amendments: Annotated[dict[Id, AmendmentOrId], Field(max_length=50)] = Field(
        {}, description='local amendments in force: their text, or "shipped" for one that comes with Leitung'
    )
    name: Text
    site: Site = Site()
    sources: Annotated[dict[Id, Source], Field(max_length=50)] = {}
    equipment: Annotated[dict[Id, Unit], Field(max_length=500)] = {}
    circuits: Annotated[dict[Id, Circuit], Field(max_length=500)] = {}
    questions: Annotated[dict[Id, Question], Field(max_length=60)] = Field(
        {}, description="whether the units suit the job: rooms, air, shared branches"
    )
    devices: Annotated[dict[Id, Device], Field(max_length=500)] = {}
    device_types: Annotated[dict[Id, DeviceType], Field(max_length=200)] = Field(
        {}, description="devices of this plan's own, written as those of the catalogue"
    )
    cables: Annotated[dict[Id, Cable], Field(max_length=500)] = {}
    interlocks: Annotated[dict[Id, Interlock], Field(max_length=200)] = {}
    patterns: Annotated[dict[Id, Pattern], Field(max_length=200)] = {}
    work: Annotated[dict[TaskKey, Work], Field(max_length=300)] = Field(
        {}, description="tasks that differ from the work list, and tasks of its own"
    )


def read_plan(data: Any) -> Plan:
    """The plan in `data`. Raises InputError naming field, value and remedy for everything that does not fit."""
    if not isinstance(data, Mapping):
        raise InputError(Problem("document", type(data).__name__, "a plan is a JSON object", "Give a plan file."))
    if data.get("format") != FORMAT:
        raise InputError(
            Problem("format", shorten(data.get("format")), "this is not a Leitung plan", f'It must read "{FORMAT}".')
        )
    data = newest(dict(data))
    if data.get("format_version") != FORMAT_VERSION or isinstance(data["format_version"], bool):
        raise InputError(
            Problem(
                "format_version",
                shorten(data.get("format_version")),
                "this version of the plan format is not known here",
                f"This release reads versions 1 to {FORMAT_VERSION}: export the plan again, or update Leitung.",
            )
        )
    plan = read(Plan, data)
    _references(plan)
    return plan


def _references(plan: Plan) -> None:
    """Every reference must lead to an element that is there."""
    problems: list[Problem] = []
    for circuit_id, circuit in plan.circuits.items():
        for field, group in (("source", plan.sources), ("equipment", plan.equipment), ("feeds", plan.sources)):
            problems += missing(f"circuits.{circuit_id}.{field}", getattr(circuit, field), group)
        if circuit.equipment is not None and circuit.feeds is not None:
            message, remedy = "a line ends at a unit or at a panel, not at both", "Take one of the two out."
            problems.append(Problem(f"circuits.{circuit_id}.feeds", circuit.feeds, message, remedy))
    for source_id, source in plan.sources.items():
        problems += impossible_supply(
            Supply(volts=source.volts, phase=source.phase, volts_to_ground=source.volts_to_ground),
            f"sources.{source_id}",
        )
        problems += _stands_in(plan, source_id, source)
        if feeds_itself(plan, source_id):
            message, remedy = "feeds itself, directly or through another panel", "Let it begin at another panel."
            problems.append(Problem(f"sources.{source_id}", source.name, message, remedy))
    for question_id, question in plan.questions.items():
        unit = None if isinstance(question, BranchQuestion) else question.equipment
        problems += missing(f"questions.{question_id}.equipment", unit, plan.equipment)
    for amendment_id, amendment in plan.amendments.items():
        if isinstance(amendment, str) and (amendment != "shipped" or amendment_id not in known_amendments()):
            known = ", ".join(known_amendments())
            message = "no such amendment comes with Leitung"
            problems.append(Problem(f"amendments.{amendment_id}", amendment, message, f"Use one of: {known}."))
    problems += wiring_references(plan)
    if problems:
        raise InputError(*problems[:20])


def _stands_in(plan: Plan, source_id: str, source: Source) -> Iterator[Problem]:
    """A source stands in for another that has lines of its own.

    A call, or a load of its manager, that is no longer there means nothing: no line is kept for its sake.
    """
    field, other = f"sources.{source_id}.in_place_of", source.in_place_of
    yield from missing(field, other, plan.sources)
    if other is not None and other in plan.sources and (other == source_id or plan.sources[other].in_place_of):
        message = "stands in for another one itself" if other != source_id else "is that source itself"
        yield Problem(field, other, message, "Name the panel or pedestal whose lines it takes over.")


def feeding(plan: Plan) -> dict[str, str]:
    """For each source that is fed, the line that feeds it."""
    return {circuit.feeds: circuit_id for circuit_id, circuit in plan.circuits.items() if circuit.feeds}


def feeders_above(plan: Plan, source_id: str | None, fed_by: Mapping[str, str]) -> Iterator[str]:
    """The feeders between a source and the supply, nearest first; `fed_by` is `feeding(plan)`."""
    seen: set[str] = set()
    while source_id is not None and source_id in fed_by and source_id not in seen:
        seen.add(source_id)
        feeder = fed_by[source_id]
        yield feeder
        source_id = plan.circuits[feeder].source


def feeds_itself(plan: Plan, source_id: str) -> bool:
    """Whether a source lies downstream of itself."""
    return any(plan.circuits[feeder].source == source_id for feeder in feeders_above(plan, source_id, feeding(plan)))


def found_by(plan: Plan) -> str:
    """The words by which an install is found again: where it is, and what its plates and labels say."""
    site = plan.site
    words = [plan.name, site.name, site.address, site.place, site.permit]
    for key, unit in plan.equipment.items():
        words += [key, unit.name, unit.place, unit.maker, unit.model, unit.serial]
    words += [*plan.circuits, *plan.devices]
    return "\n".join(dict.fromkeys(word for word in words if word))


def dump_plan(plan: Plan) -> dict[str, Any]:
    """The plan as JSON data: what is not known is absent, never null."""
    return plan.model_dump(mode="json", exclude_none=True)


def plan_json_schema() -> dict[str, Any]:
    """The JSON Schema of the plan format."""
    return closed_schema(Plan)
