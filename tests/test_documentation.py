"""What the documents say is there, is there."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from django.conf import settings
from leitung_core.circuits.spec import SIZES_IN_ORDER
from leitung_core.plan.model import read_plan
from leitung_core.rulebook import rulebook

from launch.main import COMMANDS

ROOT = settings.ROOT
PAGES = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *(ROOT / "docs").rglob("*.md")]


@pytest.mark.parametrize("page", PAGES, ids=[str(page.relative_to(ROOT)) for page in PAGES])
def test_every_link_leads_somewhere(page: Path) -> None:
    links = re.findall(r"\]\(([^)#]+)\)", page.read_text("utf-8"))
    assert [link for link in links if not link.startswith("http") and not (page.parent / link).exists()] == []


def test_every_command_is_explained_and_every_explained_command_exists() -> None:
    named = set(re.findall(r"\./leitung ([\w-]+)", (ROOT / "README.md").read_text("utf-8")))
    assert named - {"help"} == set(COMMANDS)


def test_every_picture_is_shown_and_they_are_few() -> None:
    pictures = {picture.name for picture in (ROOT / "docs" / "screenshots").iterdir()}
    shown = set(re.findall(r"screenshots/([\w-]+\.png)", (ROOT / "README.md").read_text("utf-8")))
    assert pictures == shown
    assert len(pictures) < 20


def test_the_example_in_the_format_page_is_a_plan() -> None:
    text = (ROOT / "docs" / "plan-format.md").read_text("utf-8")
    example = re.search(r"```jsonc\n(.*?)```", text, re.DOTALL)
    assert example
    assert read_plan(json.loads(example[1])).name == "Bindery workshop"


def test_the_lock_files_name_no_address() -> None:
    """Where packages come from is the machine's affair."""
    for name in ("base", "dev"):
        assert "://" not in (ROOT / "requirements" / f"{name}.txt").read_text("utf-8")
    packages = json.loads((ROOT / "web" / "package-lock.json").read_text("utf-8"))["packages"]
    assert [name for name, entry in packages.items() if "resolved" in entry] == []


def test_sizes_are_those_of_the_table() -> None:
    """The format's sizes and the table's are entered apart; the smaller two have no ampacity in it."""
    assert SIZES_IN_ORDER[:2] == ("18", "16")
    assert SIZES_IN_ORDER[2:] == rulebook("us-2023").sizes
