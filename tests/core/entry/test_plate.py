"""Plates drawn by the tests and read back: what is right, what is left open, and nothing wrong that is marked sure."""

from __future__ import annotations

import json
import subprocess
import sys
from itertools import product
from pathlib import Path
from typing import Any

import pytest
from leitung_cli.main import app
from leitung_core.entry.plate.picture import LARGEST_BYTES
from leitung_core.entry.plate.read import SURE, PlateRead, read_plate
from leitung_core.entry.plate.values import value_of
from leitung_core.errors import InputError
from PIL import Image
from typer.testing import CliRunner

from tests.core.entry.plates import LAYOUTS, PLATES, WEATHER, Plate, draw, raw, weathered

CLEAN = [(name, LAYOUTS[(number + more) % 4]) for number, name in enumerate(PLATES) for more in (0, 2)]
BAD = [(name, LAYOUTS[number % 4], how)
       for number, (name, how) in enumerate(product(PLATES, WEATHER)) if number % 2 == 0]  # fmt: skip


def of(rows: dict[str, str]) -> Plate:
    return Plate("CALLOWAY AIR", tuple(rows.items()))


def tally(found: PlateRead, plate: Plate) -> tuple[int, int, list[str]]:
    """Fields right or left open, fields right and sure, and what is sure and wrong."""
    fair = certain = 0
    wrong = [f"{name}: {entry.value}" for name, entry in found.fields.items()
             if entry.sure >= SURE and plate.fields.get(name) != entry.value]  # fmt: skip
    for name, value in plate.fields.items():
        entry = found.fields.get(name)
        fair += entry is None or entry.value == value
        certain += entry is not None and entry.value == value and entry.sure >= SURE
    return fair, certain, wrong


@pytest.mark.parametrize(("name", "layout"), CLEAN)
def test_a_clean_plate_is_read(name: str, layout: str) -> None:
    plate = PLATES[name]
    fair, certain, wrong = tally(read_plate(raw(draw(plate, layout))), plate)
    assert not wrong
    assert fair >= 0.95 * len(plate.fields)
    assert certain >= 0.5 * len(plate.fields)


@pytest.mark.parametrize(("name", "layout", "how"), BAD)
def test_a_bad_picture_is_read_in_part_and_never_wrong_for_sure(name: str, layout: str, how: str) -> None:
    plate = PLATES[name]
    fair, _, wrong = tally(read_plate(raw(weathered(draw(plate, layout), how))), plate)
    assert not wrong
    assert fair >= len(plate.fields) - 1


def test_a_picture_is_read_as_it_was_held_and_boxes_lie_where_the_figures_stand() -> None:
    """Turned by its note, and lying on its side without one; in a HEIC too. The value stands from 19 letters on."""
    upright = draw(PLATES["rooftop"], "rows")
    exif = Image.Exif()
    exif[0x0112] = 6  # to be turned a quarter to the right
    noted = raw(upright.transpose(Image.Transpose.ROTATE_90), "JPEG", quality=92, exif=exif)
    for file in (raw(upright, "HEIF"), noted):
        entry = read_plate(file).fields["mca_a"]
        x, y, wide, tall = entry.box
        assert entry.value == 30.9
        assert abs(x - (34 * 2 + 34 * 19)) < 12
        assert abs(y + tall / 2 - (34 * 4.5 + 3 * round(34 * 1.75) + 20)) < 18, "the fourth row"
        assert 60 < wide < 140
    aside = read_plate(raw(upright.transpose(Image.Transpose.ROTATE_90))).fields["mca_a"]
    assert aside.value == 30.9
    assert aside.box[3] > aside.box[2], "in the picture as it is seen it runs upwards"


def test_figures_that_cannot_both_be_right_are_told_and_neither_is_sure() -> None:
    """440.33: the ampacity is no less than 125 % of the largest; a device is no less than the ampacity."""
    rows = {"MODEL": "CR-041", "VOLTS": "230", "MCA": "10.9", "COMPRESSOR RLA": "19.6", "MAX FUSE": "40 A"}
    found = read_plate(raw(draw(of(rows), "rows")))
    assert ["mca_a", "rla_a"] in [entry.fields for entry in found.contradictions]
    assert max(found.fields[name].sure for name in ("mca_a", "rla_a")) < SURE
    assert found.fields["max_ocpd_a"].sure >= SURE


def test_several_of_a_kind_and_figures_for_two_voltages() -> None:
    rows = {"MODEL": "CR-144", "VOLTS": "208/230", "PHASE": "3", "MCA": "44.1/41.3", "MOCP": "60/50",
            "COMPRESSOR RLA": "19.6", "COMPR RLA": "15.2", "INDOOR BLOWER FLA": "4.9",
            "OUTDOOR FAN FLA": "1.5"}  # fmt: skip
    fields = read_plate(raw(draw(of(rows), "colons"))).fields
    assert (fields["mca_a"].value, fields["mca_a"].more["by_volts"]) == (44.1, {"208": 44.1, "230": 41.3})
    assert fields["max_ocpd_a"].value == 60
    assert (fields["rla_a"].value, fields["rla_a"].more["all"]) == (19.6, [19.6, 15.2])
    assert (fields["fan_fla_a"].value, fields["fan_fla_a"].more["all"]) == (1.5, [4.9, 1.5])


@pytest.mark.parametrize(
    ("name", "text", "value", "sure"),
    [
        ("mca_a", "17.8A", 17.8, True), ("mca_a", "17,8 A", 17.8, True), ("mca_a", "l7.8", 17.8, False),
        ("mca_a", "SEE MANUAL", None, None), ("max_ocpd_a", "40 A FUSE", 40, True), ("heat_w", "7.5 KW", 7500, True),
        ("heat_w", "7.5", 7500, True), ("watts", "3840", 3840, True), ("watts", "1.2KW", 1200, True),
        ("volts", "208/230", "208/230", True), ("volts", "460-3-60", "460", True), ("volts", "R-410A", None, None),
        ("phase", "3", 3, True), ("phase", "2", None, None), ("hz", "60Hz", 60, True), ("hz", "600", None, None),
        ("refrigerant", "R454B 5.1 LB", "R-454B", True), ("refrigerant", "NITROGEN", None, None),
        ("model", "TW-O9L", "TW-09L", False), ("model", "CR-072H", "CR-072H", True), ("model", "NONE", None, None),
        ("serial", "447 12", "447", False),
    ],
)  # fmt: skip
def test_what_may_stand_behind_a_label(name: str, text: str, value: Any, sure: bool | None) -> None:
    """Letters put right, and what looks alike, are never sure."""
    found = value_of(name, text)
    assert (found.value if found else None) == value
    if found is not None:
        assert (not found.mended and not found.doubtful) is sure


@pytest.mark.parametrize(
    ("file", "says"),
    [
        (b"no picture", "is no picture that can be opened"), (b"", "is no picture"), (b"\x89PNG\r\n", "is no picture"),
        (b"x" * (LARGEST_BYTES + 1), "is too large"),
    ],
)  # fmt: skip
def test_what_is_no_picture_is_refused(file: bytes, says: str) -> None:
    with pytest.raises(InputError, match=says):
        read_plate(file)


def test_the_command_tells_what_is_sure_what_is_asked_and_what_is_nothing(tmp_path: Path) -> None:
    """Exit 0 all sure, 1 something asked or nothing readable, 2 no picture."""
    files = {
        "heater.png": raw(draw(PLATES["humidifier"], "colons")), "blank.png": raw(Image.new("L", (900, 600), 200)),
        "asked.png": raw(draw(PLATES["small"], "colons")),
    }  # fmt: skip
    codes = {}
    for name, content in files.items():
        (tmp_path / name).write_bytes(content)
        done = CliRunner().invoke(app, ["plate", str(tmp_path / name), "--json"])
        codes[name] = done.exit_code
        if name == "heater.png":
            told = json.loads(done.stdout)
            assert told["fields"]["watts"]["value"] == 3840
            assert told["contradictions"] == []
            assert "MERE VAPOUR" in told["text"]
        if name == "blank.png":
            assert json.loads(done.stdout)["fields"] == {}
    assert codes == {"heater.png": 0, "blank.png": 1, "asked.png": 1}
    (tmp_path / "odd.png").write_bytes(b"odd")
    odd = subprocess.run([sys.executable, "leitung", "plate", tmp_path / "odd.png"], capture_output=True, text=True)
    assert (odd.returncode, odd.stdout) == (2, "")
    assert "Send a PNG, a JPEG or a HEIC." in odd.stderr
