"""A unit in one sentence: what it says, and what is left; nothing guessed."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.entry.sentence import read_unit
from leitung_core.errors import InputError

Said = dict[str, Any]


def said(text: str) -> Said:
    found = read_unit(text)
    named = {"id": found.id, "kind": found.kind, **found.nameplate, "source": found.source, "run": found.run,
             "quantity": found.quantity, "left": found.left}  # fmt: skip
    return {name: value for name, value in named.items() if value not in (None, [])}


MINI = {"kind": "mini_split_outdoor"}
CASES: list[tuple[str, Said]] = [
    (
        "MS-1 mini-split 208/230 1ph MCA 22 max 35, 60 ft from Panel A, roof",
        {
            "id": "MS-1",
            **MINI,
            "volts": "208/230",
            "phase": 1,
            "mca_a": 22,
            "max_ocpd_a": 35,
            "source": "Panel A",
            "run": [{"length_ft": 60, "place": "roof"}],
        },
    ),
    (
        "EUH-2 unit heater 7.5 kW at 240 V 1 phase, 40 ft run NM-B",
        {
            "id": "EUH-2",
            "kind": "unit_heater",
            "heat": {"watts": 7500, "rated_volts": 240},
            "phase": 1,
            "run": [{"length_ft": 40, "method": "NM-B"}],
        },
    ),
    (
        "RTU-4 208-3-60 MCA 41.2 MOCP 50",
        {"id": "RTU-4", "kind": "packaged_rooftop", "volts": "208", "phase": 3, "mca_a": 41.2, "max_ocpd_a": 50},
    ),
    (
        "CU-3, 22.3 MCA, 35 A max fuse, 100 ft",
        {
            "id": "CU-3",
            "kind": "condensing_unit",
            "mca_a": 22.3,
            "max_ocpd_a": 35,
            "max_ocpd_type": "fuse",
            "left": ["100 ft"],
        },
    ),
    (
        "mini split max fuse or HACR breaker 40 existing 60 A breaker",
        {**MINI, "max_ocpd_a": 40, "max_ocpd_type": "fuse_or_breaker", "left": ["existing 60 A breaker"]},
    ),
    (
        "unit heater 5kW mounted at 10 ft",
        {"kind": "unit_heater", "heat": {"watts": 5000}, "left": ["mounted at 10 ft"]},
    ),
    # A word outranks the tag's prefix.
    ("AH-1 unit heater 3 kW", {"id": "AH-1", "kind": "unit_heater", "heat": {"watts": 3000}}),
    ("XX-9 MCA 12", {"id": "XX-9", "mca_a": 12}),
    ("RTU-1 x 6 MCA 24", {"id": "RTU-1", "kind": "packaged_rooftop", "mca_a": 24, "quantity": 6}),
    (
        "RTU-1 (2) compressors 12.8 RLA, 2 fans",
        {
            "id": "RTU-1",
            "kind": "packaged_rooftop",
            "left": ["2 fans"],
            "compressors": [{"rla_a": 12.8}, {"rla_a": 12.8}],
        },
    ),
    (
        "steam humidifier 208V 16A continuous",
        {"kind": "steam_humidifier", "volts": "208", "amps": 16, "continuous": True},
    ),
    (
        "condensing unit RLA 18 LRA 96 fan FLA 1.4",
        {
            "kind": "condensing_unit",
            "compressors": [{"rla_a": 18, "lra_a": 96}],
            "motors": [{"fla_a": 1.4, "use": "condenser_fan"}],
        },
    ),
    (
        "mini split 30 ft interior then 20 ft attic",
        {**MINI, "run": [{"length_ft": 30, "place": "interior"}, {"length_ft": 20, "place": "attic"}]},
    ),
    (
        "HP-2 230V MCA 18 flux capacitor from subpanel B",
        {
            "id": "HP-2",
            "kind": "heat_pump_outdoor",
            "volts": "230",
            "mca_a": 18,
            "source": "subpanel B",
            "left": ["flux capacitor"],
        },
    ),
    (
        "24 m roof MS-2 MCA 12,5",
        {"id": "MS-2", **MINI, "mca_a": 12.5, "run": [{"length_ft": 78.7402, "place": "roof"}]},
    ),
]


@pytest.mark.parametrize(("text", "expected"), CASES, ids=[text[:40] for text, _ in CASES])
def test_a_sentence(text: str, expected: Said) -> None:
    assert said(text) == expected


def test_nothing_understood_is_refused() -> None:
    with pytest.raises(InputError, match="names no unit"):
        read_unit("please call Bob")


@given(st.text(max_size=200))
def test_nonsense_never_breaks_and_nothing_is_lost(text: str) -> None:
    try:
        found = read_unit(text)
    except InputError:
        return
    assert found.understood


@given(st.sampled_from([text for text, _ in CASES]), st.text("abcxyz ", min_size=3, max_size=12))
def test_what_is_not_understood_is_left(text: str, more: str) -> None:
    word = more.replace(" ", "") or "zzz"
    odd = f"zq{word}"
    assert any(odd in piece for piece in read_unit(f"{text}, {odd}").left)
