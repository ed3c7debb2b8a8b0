"""A reading against an earlier one of the same place."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.commissioning.judge import OPEN_OHMS
from leitung_core.instruments.classes import MeterClass, both_right
from leitung_core.instruments.trend import Taken, against

CLAMP = MeterClass(share=0.02, digits=0.3)


@pytest.mark.parametrize(
    ("now", "before", "says", "grave"),
    [
        # 18.2 A and 18.9 A: two clamps of 2 % and 0.3 A may be 0.66 A and 0.68 A off.
        (Taken(18.9, "A", CLAMP), Taken(18.2, "A", CLAMP), "as the 18.2 A at start-up, as far as the meters can tell",
         False),
        # 24.2 A is 6 A above 18.2 A: 32.97 %.
        (Taken(24.2, "A", CLAMP), Taken(18.2, "A", CLAMP), "33 % above the 18.2 A at start-up", False),
        # 5 MΩ of 20 MΩ: a quarter, under the half.
        (Taken(5, "MΩ"), Taken(20, "MΩ"), "25 % of the 20 MΩ at start-up: find out why", True),
        (Taken(12, "MΩ"), Taken(20, "MΩ"), "60 % of the 20 MΩ at start-up", False),
        (Taken(26, "°F"), Taken(20, "°F"), "6 °F above the 20 °F at start-up", False),
        (Taken(21.5, "°F"), Taken(20, "°F"), "as the 20 °F at start-up, as far as the meters can tell", False),
        (Taken(OPEN_OHMS, "Ω"), Taken(0.3, "Ω"), "0.3 Ω at start-up, now OL", True),
        (Taken(OPEN_OHMS, "Ω"), Taken(OPEN_OHMS, "Ω"), "as at start-up", False),
        (Taken(3, "A"), Taken(0, "A"), "3 A above the 0 A at start-up", False),
    ],
)  # fmt: skip
def test_what_has_changed_is_said(now: Taken, before: Taken, says: str, grave: bool) -> None:
    found = against(now, before, "at start-up")
    assert (found.says, found.grave) == (says, grave)


VALUES = st.floats(0, 1000, allow_nan=False)
CLASSES = st.none() | st.builds(MeterClass, share=st.floats(0, 0.2), digits=st.floats(0, 10))


@given(VALUES, VALUES, st.sampled_from(["V", "A", "MΩ", "kW", "°F"]), CLASSES, CLASSES)
def test_what_the_meters_cannot_tell_is_no_change_and_either_way_round(
    one: float, other: float, unit: str, of_one: MeterClass | None, of_other: MeterClass | None
) -> None:
    now, before = Taken(one, unit, of_one), Taken(other, unit, of_other)
    there, back = against(now, before, "then"), against(before, now, "then")
    same = both_right(one, now.read_by, other, before.read_by)
    assert ("as far as" in there.says) == ("as far as" in back.says) == same
    assert not (there.grave and back.grave)
    assert not (there.grave and unit != "MΩ")
