"""What feeds the lines of a plan, and what hangs on it already."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leitung_core.circuits.spec import Phase
from leitung_core.plan.feeds import Generator, Inverter, Manager
from leitung_core.plan.work import OffWindow
from leitung_core.ranges import Moment, Ohms, Times
from leitung_core.validation import Entered, Id, NotNegative, Positive, Text

SourceKind = Literal["panel", "subpanel", "receptacle", "pedestal", "generator", "inverter"]
Leg = Literal[1, 2, "both"]
Space = Annotated[int, Field(strict=True, ge=1, le=84)]


class ExistingCircuit(Entered):
    """A circuit that is in the panel already and is no part of this install."""

    name: Text | None = None
    rating_a: Positive | None = None
    spaces: Annotated[list[Space], Field(min_length=1, max_length=3)] | None = Field(
        None, description="left out where the source has no numbered spaces: then it counts on every leg"
    )
    existing_a: NotNegative | None = Field(None, description="its load, A")
    leg: Leg | None = Field(None, description="where it lies on a source without numbered spaces")
    often: Literal["always", "often", "seldom"] | None = Field(None, description="how often it is on")


class PlannedCall(Entered):
    """When a load is called in a start, s from the first; or that it is left off."""

    at_s: Moment | None = None
    off: bool | None = None


class Source(Entered):
    """Where circuits begin: a panel, a subpanel, a receptacle's branch, a pedestal, a generator, an inverter.

    `volts` lie between two line conductors, `phase` is the system's; a circuit takes one, two or three poles of it.
    A source that stands in for another feeds that one's lines, and what hangs on it already.
    """

    kind: SourceKind = "panel"
    name: Text | None = None
    volts: Positive | None = None
    phase: Phase | None = None
    volts_to_ground: Positive | None = None
    bus_a: Positive | None = None
    main_a: Positive | None = Field(None, description="rating of the main breaker; a main-lug panel has none")
    place: Text | None = None
    power_off: Annotated[list[OffWindow], Field(max_length=50)] | None = Field(
        None, description="when the house can do without it; left out: at any time"
    )
    load_sharing: bool | None = Field(None, description="whether a device keeps its loads from running at once")
    measured_peak_a: NotNegative | None = Field(None, description="highest measured demand, A (220.87)")
    measured_days: Annotated[int, Field(strict=True, ge=0, le=3660)] | None = Field(
        None, description="days over which it was measured: a year, or 30 days of recording"
    )
    existing: Annotated[dict[Id, ExistingCircuit], Field(max_length=84)] = {}
    spaces: Annotated[int, Field(strict=True, ge=1, le=84)] | None = Field(None, description="numbered spaces")
    in_place_of: Id | None = Field(None, description="the source for which it stands in")
    over_by: Literal["transfer_switch", "cord"] | None = Field(None, description="how the lines are brought over to it")
    starts_itself: bool | None = Field(None, description="whether it can start by itself")
    ohms: Ohms | None = Field(None, description="of a leg up to where its lines begin, there and back")
    instant_x: Times | None = Field(None, description="where its breaker's magnetic trip begins, times its rating")
    manager: Manager | None = Field(None, description="the device between it and its loads")
    generator: Generator | None = None
    inverter: Inverter | None = None
    calls: Annotated[dict[Id, PlannedCall], Field(max_length=100)] = Field(
        {}, description="by line, or by what is there already, when it is called in a start; left out: with the first"
    )
