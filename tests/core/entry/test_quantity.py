"""Quantities as people write them: the values by hand, what is asked back, what is refused and left as it was."""

from __future__ import annotations

import json
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.entry.dates import read_date
from leitung_core.entry.fields import FIELDS
from leitung_core.entry.quantity import read_quantity
from leitung_core.errors import InputError

CASES = json.loads((Path(__file__).parents[2] / "published" / "quantities.json").read_text("utf-8"))
OTHERS = ("size", "cable", "trade_size", "plate_volts", "date")


@pytest.mark.parametrize(("field", "text", "units", "value"), CASES)
def test_it_reads_what_people_write(field: str, text: str, units: Any, value: Any) -> None:
    """1 ft is 0.3048 m, 1 Btu/h 0.29307107 W, 1 cfm 1.69901 m³/h; °F = 1.8 °C + 32."""
    found = read_quantity(field, text, units)
    assert found.asked_back is None
    assert found.value == (pytest.approx(value, abs=1e-4) if isinstance(value, int | float) else value)


@pytest.mark.parametrize(
    ("field", "text", "units", "value", "meant"),
    [
        ("heat", "7.5 W", "us", 7.5, 7500),
        ("heat", "7.5", "us", 7.5, 7500),
        ("heat", "249", "us", 249, None),
        ("heat", "160 kW", "us", 160_000, None),
        ("ambient", "95", "metric", 95, 35),
        ("ambient", "95 C", "us", 95, 35),
        ("ambient", "60.1 C", "us", 60.1, 15.6111),
        ("temperature", "68 C", "metric", 154.4, 68),
        ("length", "2001", "us", 2001, None),
        ("length", "0.4 ft", "us", 0.4, None),
        ("length", "1,200", "metric", 3.937, 3937.0079),
        ("amps", "1201", "us", 1201, None),
        ("volts", "4.9", "us", 4.9, None),
        ("airflow", "19", "us", 19, None),
        ("date", "25/11/2026", "us", "2026-11-25", "2026-11-25"),
        ("date", "11/25/2026", "metric", "2026-11-25", "2026-11-25"),
        ("date", "11/25/1926", "us", "1926-11-25", "2026-11-25"),
    ],
)
def test_what_is_not_likely_is_asked_back(field: str, text: str, units: Any, value: Any, meant: Any) -> None:
    found = read_quantity(field, text, units)
    assert found.value == (pytest.approx(value, abs=1e-3) if isinstance(value, int | float) else value)
    assert found.asked_back is not None
    assert found.asked_back.value == (pytest.approx(meant, abs=1e-3) if isinstance(meant, int | float) else meant)


@pytest.mark.parametrize(
    ("field", "text"),
    [
        ("amps", "15-20 A"),
        ("amps", "15 to 20"),
        ("amps", "15 V"),
        ("volts", "208/230"),
        ("length", "80 ft of wire"),
        ("length", "3 kg"),
        ("size", "13 AWG"),
        ("size", "2.5 mm²"),
        ("size", "250 AWG"),
        ("size", "12 kcmil"),
        ("cable", "14"),
        ("cable", "13-2"),
        ("cable", "14-0"),
        ("cable", "12-2 in pipe"),
        ("trade_size", "7/16"),
        ("trade_size", "5"),
        ("plate_volts", "60-1-208"),
        ("plate_volts", "230-5-60"),
        ("plate_volts", "hot"),
        ("date", "2026-02-30"),
        ("date", "soon"),
        ("date", "13/13/2026"),
        ("heat", "{0.__class__}"),
        ("heat", ""),
        ("heat", "kW"),
        ("nonsense", "5"),
    ],
)
def test_what_is_no_quantity_is_refused_with_field_text_and_remedy(field: str, text: str) -> None:
    with pytest.raises(InputError) as refused:
        read_quantity(field, text)
    (problem,) = refused.value.problems
    assert problem.value == (field if field == "nonsense" else text)
    assert problem.remedy


@given(st.sampled_from([*FIELDS, *OTHERS]), st.text(max_size=40), st.sampled_from(["us", "metric"]))
def test_nonsense_is_read_or_refused_untouched(field: str, text: str, units: Any) -> None:
    kept: object = None
    try:
        kept = read_quantity(field, text, units).shown and text
    except InputError as error:
        kept = error.problems[0].value
    assert kept == text


@given(st.sampled_from([*FIELDS]), st.floats(-40, 3000), st.sampled_from(["us", "metric"]))
def test_what_it_prints_it_reads(field: str, figure: float, units: Any) -> None:
    first = read_quantity(field, f"{round(figure, 2):g}" if abs(figure) >= 0.01 else "0", units)
    again = read_quantity(field, first.shown, units)
    assert again.value == pytest.approx(first.value, rel=1e-3, abs=1e-3)


@pytest.mark.parametrize(
    ("text", "day"), [("Nov 25", date(2031, 11, 25)), ("25 nov", date(2031, 11, 25)), ("11/25/31", date(2031, 11, 25))]
)
def test_a_day_without_its_year_is_this_years(text: str, day: date) -> None:
    assert read_date(text, "us", date(2031, 3, 1)).day == day
