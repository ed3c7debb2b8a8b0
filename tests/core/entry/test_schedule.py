"""Engineers' schedules: titles, two header rows, merged cells, lists of tags, notes, separators, odd encodings."""

from __future__ import annotations

import io
from typing import Any

import openpyxl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from leitung_core.entry.schedule import Schedule, read_schedule
from leitung_core.errors import InputError

ROOFTOPS = """"ROOFTOP UNIT SCHEDULE",,,,,,

MARK,VOLTS,PH,MCA,MOCP,CFM,REMARKS
,(V),,(A),(A),,
RTU-1,208,3,41.2,50,2400,see note 1
RTU-2 THRU 4,460,3,22.0,30,"1,600",
RTU-5,208,3,38,see note 3,2000,
,,,,,,
NOTES:,,,,,,
1. PROVIDE DISCONNECT,,,,,,
"""
HEATERS = 'TAG;TYPE;V/PH/HZ;HEAT KW;QTY\r\nEUH-1,2,3;Electric unit heater;240/1/60;5;1\r\n"EUH-4";;208-3-60;7,5;2\r\n'


def read(text: str, encoding: str = "utf-8") -> Schedule:
    return read_schedule(text.encode(encoding), "a.csv")


def test_a_title_units_in_a_second_row_a_range_of_tags_and_notes() -> None:
    found = read(ROOFTOPS)
    assert found.header_row == 3
    assert found.columns == {
        "MARK": "id",
        "VOLTS (V)": "volts",
        "PH": "phase",
        "MCA (A)": "mca_a",
        "MOCP (A)": "max_ocpd_a",
        "CFM": "supply_cfm",
    }
    assert found.ignored == ["REMARKS"]
    assert [(unit.id, unit.row) for unit in found.units] == [
        ("RTU-1", 5),
        ("RTU-2", 6),
        ("RTU-3", 6),
        ("RTU-4", 6),
        ("RTU-5", 7),
    ]
    assert {unit.kind for unit in found.units} == {"packaged_rooftop"}
    assert found.units[1].nameplate == {"volts": "460", "phase": 3, "mca_a": 22, "max_ocpd_a": 30, "supply_cfm": 1600}
    (error,) = found.errors
    assert (error.row, error.column, error.value) == (7, "MOCP (A)", "see note 3")
    assert found.units[4].nameplate["mca_a"] == 38, "an error keeps everything else"


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "cp1252", "utf-16"])
@pytest.mark.parametrize("separator", [";", "\t"])
def test_separators_and_encodings(encoding: str, separator: str) -> None:
    found = read(HEATERS.replace(";", separator), encoding)
    assert [(unit.id, unit.quantity, unit.nameplate["heat"]["watts"]) for unit in found.units] == [
        ("EUH-1", 1, 5000),
        ("EUH-2", 1, 5000),
        ("EUH-3", 1, 5000),
        ("EUH-4", 2, 7500),
    ]
    assert (found.units[3].nameplate["volts"], found.units[3].nameplate["phase"]) == ("208", 3)
    assert {unit.kind for unit in found.units} == {"unit_heater"}


def workbook(rows: list[list[Any]], *merged: str) -> bytes:
    book = openpyxl.Workbook()
    book.active.title = "Cover"
    book.active["A1"] = "Made-up project"
    sheet = book.create_sheet("M-601")
    for row in rows:
        sheet.append(row)
    for cells in merged:
        sheet.merge_cells(cells)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_a_workbook_with_groups_of_headings_and_merged_cells() -> None:
    raw = workbook(
        [
            ["CONDENSING UNIT SCHEDULE"],
            [],
            ["UNIT", "SERVES", "ELECTRICAL"],
            ["", "", "VOLTS", "PHASE", "MCA", "MAX FUSE/BKR"],
            ["CU-1", "Office", "208/230", 1, 22.3, 35],
            ["CU-2", "Shop", None, None, 18, 30],
            ["HP-1", "Lab", 460, 3, 4120, 50],
            ["TOTAL", None, None, None, 99, None],
        ],
        "A1:F1",
        "C3:F3",
        "C5:C6",
        "D5:D6",
    )
    found = read_schedule(raw, "a.xlsx")
    assert (found.sheet, found.header_row) == ("M-601", 3)
    assert [(unit.id, unit.kind, unit.place) for unit in found.units] == [
        ("CU-1", "condensing_unit", "Office"),
        ("CU-2", "condensing_unit", "Shop"),
        ("HP-1", "heat_pump_outdoor", "Lab"),
    ]
    assert (found.units[1].nameplate["volts"], found.units[1].nameplate["phase"]) == ("208/230", 1), (
        "merged: holds for both"
    )
    assert found.units[0].nameplate["max_ocpd_type"] == "fuse_or_breaker"
    (error,) = found.errors
    assert (error.row, error.column, error.value) == (7, "ELECTRICAL MCA", "4120"), "not likely, so not taken"


@pytest.mark.parametrize(
    "raw", [b"", b"a,b\n1,2\n", b"PK\x03\x04nonsense", b"\x00\x01\x02" * 50, b"MARK,COLOR\nRTU-1,red\n"]
)
def test_what_is_no_schedule_is_refused(raw: bytes) -> None:
    with pytest.raises(InputError) as refused:
        read_schedule(raw, "a.csv")
    assert refused.value.problems[0].remedy


@settings(max_examples=60)
@given(st.binary(max_size=300), st.booleans())
def test_nonsense_below_the_headings_never_breaks(junk: bytes, ahead: bool) -> None:
    raw = b"MARK,VOLTS,MCA\nRTU-1,208,30\n"
    try:
        found = read_schedule(junk + b"\n" + raw if ahead else raw + junk, "a.csv")
    except InputError:
        return
    assert found.header_row >= 1
