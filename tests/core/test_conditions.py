"""Conditions of the open form: what they say is what the same words say as Python; what cannot be read is refused."""

from __future__ import annotations

import re
from itertools import product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from leitung_core.elements.conditions import Facts, read_expression
from leitung_core.errors import InputError

NAMES = ("call:cool", "cause:smoke", "hand:D-1", "FB.GV", "CU.CC")
TIMES = (0.0, 29.5, 30.0, 600.0)
STATES = [(dict(zip(NAMES, truths, strict=True)), t) for truths in product((False, True), repeat=5) for t in TIMES]


def facts() -> Facts:
    def of(name: str) -> np.ndarray:
        return np.array([truths[name] for truths, _ in STATES])

    return Facts(of, of, np.array([t for _, t in STATES]))


def by_python(text: str) -> list[bool]:
    """The same words, each name put as its truth, read by Python itself."""
    found = []
    for truths, t in STATES:
        words = text.replace("true", "True").replace("false", "False")
        for name, value in truths.items():
            words = words.replace(name, str(value))
        found.append(bool(eval(words, {"t": t})))
    return found


def comparisons() -> st.SearchStrategy[str]:
    return st.builds(
        "t {} {}".format, st.sampled_from(["<", ">", "<=", ">=", "=="]), st.sampled_from(["0", "30", "29.5"])
    )


def expressions() -> st.SearchStrategy[str]:
    leaves = st.sampled_from([*NAMES, "true", "false"]) | comparisons()
    return st.recursive(
        leaves,
        lambda inner: st.builds("{} and {}".format, inner, inner) | st.builds("{} or {}".format, inner, inner)
        | st.builds("not {}".format, inner.map("({})".format)) | inner.map("({})".format),
        max_leaves=12,
    )  # fmt: skip


@settings(max_examples=150)
@given(expressions())
def test_a_condition_says_what_its_words_say(text: str) -> None:
    """`and` binds before `or`, `not` before both."""
    found = read_expression(text)
    assert found.holds(facts()).tolist() == by_python(text)
    assert found.loads == {name for name in NAMES if "." in name and name in text}


@pytest.mark.parametrize(
    "text",
    ["", "call:cool and", "and call:cool", "(call:cool", "call:cool)", "cool", "t > fast", "t 30", "t => 30",
     "call:cool call:heat", "1 < t", "call:cool & call:heat", "not"],
)  # fmt: skip
def test_what_cannot_be_read_is_refused_with_its_words(text: str) -> None:
    with pytest.raises(InputError, match=rf"expression: cannot be read .*\('{re.escape(text)}'\)"):
        read_expression(text)
