"""Conditions in the words of the open form: `call:cool and not cause:smoke`, `call:G and t >= 30`, `FB.GV and CU.CC`.

Read once into a tree; judged for many states at a time, each name being an array of truths.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import NoReturn

import numpy as np
import numpy.typing as npt

from leitung_core.errors import InputError, Problem
from leitung_core.validation import shorten

Truth = npt.NDArray[np.bool_]
_TOKEN = re.compile(r"\s*(\(|\)|>=|<=|==|>|<|[A-Za-z_][^\s()<>=]*|\d+(?:\.\d+)?)")
_COMPARE: dict[str, Callable[[npt.NDArray[np.float64], float], Truth]] = {
    ">=": lambda t, x: t >= x, "<=": lambda t, x: t <= x, ">": lambda t, x: t > x, "<": lambda t, x: t < x,
    "==": lambda t, x: t == x,
}  # fmt: skip


@dataclass(frozen=True)
class Facts:
    """What holds in each of many states: `on` for calls, causes and hands, `energised` for loads, `t` in seconds."""

    on: Callable[[str], Truth]
    energised: Callable[[str], Truth]
    t: npt.NDArray[np.float64]


@dataclass(frozen=True)
class Expression:
    """A condition: `holds(facts)` for each state; the loads that it names."""

    holds: Callable[[Facts], Truth]
    loads: frozenset[str]


@lru_cache(maxsize=4096)
def read_expression(text: str) -> Expression:
    """The condition in `text`. Raises InputError where it cannot be read."""
    reader = _Reader(text)
    holds = reader.either()
    if reader.at < len(reader.tokens):
        reader.fail(reader.tokens[reader.at])
    return Expression(holds, frozenset(reader.loads))


class _Reader:
    """Recursive descent: or, and, not, then a name, a comparison of t, or parentheses."""

    def __init__(self, text: str) -> None:
        self.text, self.tokens, self.at = text, self._split(text), 0
        self.loads: set[str] = set()

    def _split(self, text: str) -> list[str]:
        tokens, at = [], 0
        while at < len(text.rstrip()):
            found = _TOKEN.match(text, at)
            if found is None:
                self.text = text
                self.fail(text[at:].strip()[:20])
            tokens.append(found[1])
            at = found.end()
        return tokens

    def fail(self, at: str) -> NoReturn:
        raise InputError(
            Problem("expression", shorten(self.text), f"cannot be read at {shorten(at)!r}",
                    "Join calls, causes, loads and t with and, or, not and parentheses.")
        )  # fmt: skip

    def _next(self) -> str:
        if self.at >= len(self.tokens):
            self.fail("its end")
        self.at += 1
        return self.tokens[self.at - 1]

    def _takes(self, word: str) -> bool:
        if self.at < len(self.tokens) and self.tokens[self.at].lower() == word:
            self.at += 1
            return True
        return False

    def either(self) -> Callable[[Facts], Truth]:
        parts = [self._both()]
        while self._takes("or"):
            parts.append(self._both())
        return parts[0] if len(parts) == 1 else lambda facts: np.logical_or.reduce([part(facts) for part in parts])

    def _both(self) -> Callable[[Facts], Truth]:
        parts = [self._one()]
        while self._takes("and"):
            parts.append(self._one())
        return parts[0] if len(parts) == 1 else lambda facts: np.logical_and.reduce([part(facts) for part in parts])

    def _one(self) -> Callable[[Facts], Truth]:
        if self._takes("not"):
            inner = self._one()
            return lambda facts: ~inner(facts)
        if self._takes("("):
            inner = self.either()
            if not self._takes(")"):
                self.fail("a parenthesis that is not closed")
            return inner
        return self._name(self._next())

    def _name(self, word: str) -> Callable[[Facts], Truth]:
        if word in ("true", "false"):
            value = word == "true"
            return lambda facts: np.full(facts.t.shape, value)
        if word == "t":
            compare, figure = self._next(), self._next()
            if compare not in _COMPARE or not re.fullmatch(r"\d+(\.\d+)?", figure):
                self.fail(f"{compare} {figure}")
            seconds = float(figure)
            return lambda facts: _COMPARE[compare](facts.t, seconds)
        if ":" in word:
            return lambda facts: facts.on(word)
        if "." in word and not word[0].isdigit():
            self.loads.add(word)
            return lambda facts: facts.energised(word)
        self.fail(word)
