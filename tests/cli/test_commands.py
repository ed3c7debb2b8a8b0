"""The command line as a user meets it: results, exit codes, messages."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from leitung_demo import kiosk, workshop

from tests.core.documents import document
from tests.core.wiring.plans import changed, ends, on, split_pair

LEITUNG = [sys.executable, str(settings.ROOT / "leitung")]


def run(*arguments: str, stdin: str = "") -> subprocess.CompletedProcess[str]:
    return subprocess.run([*LEITUNG, *arguments], input=stdin, capture_output=True, text=True, check=False)


@pytest.fixture
def file(tmp_path: Path) -> Path:
    return tmp_path / "plan.json"


@pytest.mark.parametrize(
    ("command", "data", "code"),
    [
        ("check", kiosk(), 0), ("check", workshop(), 1), ("check", {"format": "x"}, 2),
        ("size", document(), 0), ("size", document(proposed={"ocpd_a": 20}), 1),
        ("size", document(supply={"volts": 0}), 2), ("size", {}, 2),
    ],
)  # fmt: skip
def test_exit_codes(file: Path, command: str, data: dict[str, Any], code: int) -> None:
    file.write_text(json.dumps(data))
    done = run(command, str(file), "--json")
    assert done.returncode == code
    if code == 2:
        assert (done.stdout, "Traceback" in done.stderr) == ("", False)
        assert done.stderr.strip()
    else:
        findings = json.loads(done.stdout)["findings"]
        assert any(f["severity"] == "stop" for f in findings) == (code == 1)


def test_a_document_on_standard_input_in_words() -> None:
    done = run("size", "-", stdin=json.dumps(document()))
    assert done.returncode == 0
    for words in (
        "15 A, at most 15 A",
        "14 AWG, carries 15 A",
        "20 A, in hand 9 A",
        "440.4(B)",
        "Qualified and licensed",
    ):
        assert words in done.stdout


def test_a_plan_with_cables_is_told_in_words(file: Path) -> None:
    file.write_text(json.dumps(changed(split_pair(), ends(black={"b": on("B.unit.3")}, red={"b": on("B.unit.1")}))))
    done = run("check", str(file))
    assert done.returncode == 1
    assert "T  A to B: 14 AWG, 4 conductors, stranded, tray cable, 40 ft; 4 landed" in done.stdout
    assert "stop: Black leaves 1 at A and arrives on 3 at B" in done.stdout


def test_a_device_file_is_shown_or_refused(file: Path) -> None:
    strip = {"id": "base", "name": "base", "terminals": [{"id": "R", "function": "hot", "required": True}]}
    own = {"id": "own", "name": "own thermostat", "group": "thermostat", "strips": [strip]}
    file.write_text(json.dumps(own))
    done = run("device", str(file))
    assert done.returncode == 0
    assert "24 V hot, may not stay open" in done.stdout
    file.write_text(json.dumps(own | {"group": "toaster"}))
    done = run("device", str(file))
    assert (done.returncode, "device.group" in done.stderr) == (2, True)


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["check", "nowhere.json"], "no such file"),
        (["check", "/"], "is a directory"),
        (["check"], "Missing argument"),
        (["fly"], "There is no command 'fly'"),
        (["start", "--port", "80"], "choose a port"),
        (["start", "--fast"], "Use: ./leitung start"),
    ],
)
def test_a_wrong_call_is_told(arguments: list[str], words: str) -> None:
    done = run(*arguments)
    assert done.returncode in (2, 3)
    assert words in done.stderr
    assert "Traceback" not in done.stderr
