"""What is looked up in an index is what a search through the whole plan finds, over plans made worse at random."""

from __future__ import annotations

from typing import Any

from hypothesis import given, settings
from leitung_core.findings import Finding, finding
from leitung_core.plan.model import read_plan
from leitung_core.plant.lines import is_origin, units_devices
from leitung_core.plant.plant import ENDS, Plant
from leitung_core.result import check_plan
from leitung_core.result.lines import PartOfLine, drawn_lines

from tests.core.result.plans import plans


@settings(max_examples=30)
@given(plans())
def test_the_index_finds_what_a_search_finds(plan: dict[str, Any]) -> None:
    plant = Plant(read_plan(plan))
    devices, cables, index = plant.plan.devices, plant.plan.cables, plant.index
    for unit in plant.plan.equipment:
        assert index.devices_of_unit.get(unit, []) == [k for k, device in devices.items() if device.equipment == unit]
    for line in plant.plan.circuits:
        assert index.devices_of_line.get(line, []) == [k for k, device in devices.items() if device.circuit == line]
        assert index.cables_of_line.get(line, []) == [k for k, cable in cables.items() if cable.circuit == line]
    for source in plant.plan.sources:
        assert index.devices_in_panel.get(source, []) == [k for k, device in devices.items() if device.source == source]
        fed_by = [k for k, circuit in plant.plan.circuits.items() if circuit.feeds == source]
        assert index.fed_by.get(source) == (fed_by[-1] if fed_by else None)
    for device in devices:
        ends = [k for k, cable in cables.items() if device in (cable.a.device, cable.b.device)]
        assert index.cables_at.get(device, []) == ends


@settings(max_examples=30)
@given(plans())
def test_a_conductor_knows_its_terminals_and_its_kind_is_the_gravest_of_them(plan: dict[str, Any]) -> None:
    plant = Plant(read_plan(plan))
    order = ("line", "signal", "low", "data", "sense", "ground", "dry")
    for wire in plant.every_wire():
        for end in ENDS:
            assert plant.post(wire, end) is plant.posts.get(wire.end(end).terminal or "")
        kinds = {post.kind for post in wire.posts if post is not None and not post.through}
        told = plant.kind(wire)
        assert told is None or not kinds or order.index(told) <= min(order.index(kind) for kind in kinds)


@settings(max_examples=30)
@given(plans())
def test_a_run_feeds_the_first_device_of_a_line_that_begins_at_no_breaker(plan: dict[str, Any]) -> None:
    plant = Plant(read_plan(plan))
    for device in plant.plan.devices:
        feeding = [
            line.id for line in plant.lines.values()
            if line.source is not None and not (line.path and is_origin(plant, line.path[0]))
            and device in (line.path[:1] or units_devices(plant, line.circuit))
        ]  # fmt: skip
        found = plant.fed_by_run.get(device)
        assert (found.id if found else None) == (feeding[0] if feeding else None)


def where(plant: Plant, key: str, parts: tuple[PartOfLine, ...], row: Finding) -> str | None:
    """Where a finding stands on a line, by asking each rule in turn: the part's own address, the line's fields, its
    cables and devices, what lies above."""
    line, about = plant.lines[key], row.about

    def under(at: str) -> bool:
        return about == at or about.startswith(f"{at}/")

    exact = [part for part in parts if not part.about.endswith("/") and under(part.about)]
    if exact:
        return max(exact, key=lambda part: len(part.about)).id
    ids = [part.id for part in parts]
    if under(f"circuits/{key}"):
        field = about.split("/")[2] if about.count("/") > 1 else ""
        segment = next((part.id for part in parts if part.kind == "segment"), "ocpd")
        switch = "disconnect" if "disconnect" in ids else "unit"
        places = {"run": segment, "egc": segment, "source": "source", "poles": "ocpd",
                  "receptacle_a": switch, "other_outlets": switch}  # fmt: skip
        return places.get(field, "unit")
    above = []
    source = line.circuit.source
    while source is not None:
        feeder = plant.index.fed_by.get(source)
        if feeder is None or feeder in above:
            break
        above.append(feeder)
        source = plant.plan.circuits[feeder].source
    things = [f"circuits/{f}" for f in above] + [f"equipment/{plant.plan.circuits[f].equipment}" for f in above]
    things += [f"sources/{plant.plan.circuits[f].source}" for f in above]
    things += [f"cables/{cable}" for f in above for cable in plant.lines[f].cables]
    things += [f"devices/{device}" for f in above for device in plant.lines[f].path]
    return "source" if row.severity == "stop" and any(under(thing) for thing in things) else None


@settings(max_examples=30)
@given(plans())
def test_a_finding_stands_where_the_rules_in_turn_put_it(plan: dict[str, Any]) -> None:
    """Cables and devices apart, which a line takes in by what is landed: see the tests of where they stand."""
    model = read_plan(plan)
    plant, result = Plant(model), check_plan(model)
    rows = [row for row in result.findings if row.about.split("/")[0] in ("circuits", "equipment", "sources")]
    rows += [
        finding("ocpd-above-max", f"circuits/{key}/{field}", "It is wrong.", fact="made")
        for key in plant.lines for field in ("egc", "source", "poles", "receptacle_a", "name", "run")
    ]  # fmt: skip
    rows.sort(key=lambda row: ("stop", "warning", "note").index(row.severity))
    for key, line in drawn_lines(plant, rows).items():
        for part in line.parts:
            expected = tuple(row.key for row in rows if where(plant, key, line.parts, row) == part.id)
            assert part.findings == expected, (key, part.id)
