"""When the backup of the day is due."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

import pytest

from launch import backup


@pytest.mark.parametrize(
    ("there", "now", "due"),
    [
        ([], "2026-12-07T00:10", True),  # none at all: at once
        (["2026-12-06"], "2026-12-07T01:59", False), (["2026-12-06"], "2026-12-07T02:00", True),
        (["2026-12-05"], "2026-12-07T00:10", True),  # the machine was off at night
        (["2026-12-06", "2026-12-07"], "2026-12-07T09:00", False),
    ],
)  # fmt: skip
def test_it_is_due_once_a_day(
    there: list[str], now: str, due: bool, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(backup, "FOLDER", tmp_path)
    for day in there:
        (tmp_path / f"leitung-{day}.zip").touch()
    found = backup.due(datetime.fromisoformat(now))
    assert (found is not None) == due
    assert found is None or found.name == f"leitung-{now[:10]}.zip"
