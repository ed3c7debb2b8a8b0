"""From what was said or brought to lines of a plan."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.entry.into_plan import line_of, lines_of_schedule
from leitung_core.entry.schedule import read_schedule
from leitung_core.entry.sentence import read_unit
from leitung_core.errors import InputError
from leitung_core.plan.model import Plan, dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_plan

from tests.core.entry.test_sentence import CASES

EMPTY = {"format": "leitung-plan", "format_version": 2, "name": "new"}
PANEL = EMPTY | {"sources": {"A": {"name": "Panel A", "volts": 240, "phase": 1, "volts_to_ground": 120}}}


def after(plan: dict[str, Any], text: str) -> Plan:
    return read_plan(merge(plan, line_of(read_plan(plan), read_unit(text)).patch))


def test_a_sentence_is_a_line_that_is_sized() -> None:
    plan = after(PANEL, "MS-1 mini-split 208/230 1ph MCA 22 max 35, 60 ft NM-B from Panel A, attic")
    assert plan.circuits["MS-1"].source == "A"
    assert plan.circuits["MS-1"].run["s1"].length_ft == 60
    assert check_plan(plan).circuits["MS-1"].ocpd_a == 35


def test_a_panel_that_is_not_there_is_made_and_one_that_is_is_found() -> None:
    assert {source.name for source in after(EMPTY, "UH-1 heater 5 kW from Panel Q").sources.values()} == {"Panel Q"}
    assert set(after(PANEL, "UH-1 heater 5 kW from panel a").sources) == {"A"}
    assert set(after(PANEL, "UH-1 heater 5 kW").sources) == {"A"}
    assert {source.name for source in after(EMPTY, "UH-1 heater 5 kW").sources.values()} == {"New panel"}


def test_six_like_units_are_six_lines_and_a_taken_name_gives_way() -> None:
    plan = after(EMPTY, "RT-1 x 6 rooftop unit 460/3/60 MCA 24 max fuse 35")
    assert set(plan.circuits) == {f"RT-{number}" for number in range(1, 7)}
    again = after(dump_plan(plan), "RT-3 rooftop unit MCA 30")
    assert len(again.circuits) == 7
    assert again.equipment["RT-3"].nameplate == plan.equipment["RT-3"].nameplate


def test_a_unit_of_no_known_kind_is_named_and_not_drawn() -> None:
    found = line_of(read_plan(EMPTY), read_unit("XX-9 MCA 12"))
    assert (found.patch, found.of_no_kind) == ({}, ["XX-9"])


def test_a_schedule_draws_what_is_new_and_updates_what_is_there() -> None:
    rows = "MARK,VOLTS,PH,MCA,MOCP\nRT-1,208,3,41,50\nRT-2,208,3,22,30\n"
    plan = after(PANEL, "RT-1 rooftop unit MCA 30, 80 ft attic run")
    found = lines_of_schedule(plan, read_schedule(f"ROOFTOP UNITS,,,,\n{rows}".encode(), "s.csv"))
    assert (found.drawn, found.updated) == (["RT-2"], ["RT-1"])
    merged = read_plan(merge(dump_plan(plan), found.patch))
    plate = merged.equipment["RT-1"].nameplate
    assert plate is not None
    assert (plate.mca_a, plate.max_ocpd_a) == (41, 50)
    assert merged.circuits["RT-1"].run["s1"].length_ft == 80, "what was drawn stays"


@given(st.sampled_from([text for text, _ in CASES]), st.text(max_size=30))
def test_whatever_is_read_makes_a_plan(text: str, more: str) -> None:
    try:
        said = read_unit(f"{text} {more}")
        read_plan(merge(PANEL, line_of(read_plan(PANEL), said).patch))
    except InputError as error:
        pytest.fail(f"{text} {more}: {error}")
