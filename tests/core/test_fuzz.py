"""Every reader against what is almost right: taken or refused in words, and nothing else (scripts/fuzz.py)."""

from __future__ import annotations

from itertools import islice
from pathlib import Path

import pytest

from scripts.fuzz import TARGETS, tried, tries

CORPUS = Path(__file__).parent.parent / "fuzz"
KEPT = [file for file in CORPUS.glob("*/*") if file.is_file()]


@pytest.mark.parametrize("name", TARGETS)
def test_a_reader_takes_or_refuses_in_words(name: str) -> None:
    for raw in islice(tries(name, 1), 200):
        assert tried(name, raw) is None, raw[:2000]
    for seed in TARGETS[name].seeds():
        assert tried(name, seed) is None


@pytest.mark.parametrize("file", KEPT, ids=lambda file: f"{file.parent.name}-{file.name}")
def test_what_broke_one_once_breaks_none_again(file: Path) -> None:
    name = next(name for name in TARGETS if name.replace(" ", "-") == file.parent.name)
    assert tried(name, file.read_bytes()) is None
