"""Every reader of the core against what is almost right: seeds are broken in their structure and in their bytes.

A reader may take what it is given or refuse it with a message; nothing else, and within its bound of time. What breaks
one is written to var/fuzz, and belongs into tests/fuzz then: the tests read every file of it each time.
"""

from __future__ import annotations

import hashlib
import io
import json
import random
import sys
import time
import traceback
from collections.abc import Callable, Iterator
from copy import deepcopy
from dataclasses import dataclass
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT), str(ROOT / "core"), str(ROOT / "server")]

import openpyxl  # noqa: E402
from leitung_core.bench.alone import prove  # noqa: E402
from leitung_core.catalogue.device import read_device_type, shipped_devices  # noqa: E402
from leitung_core.catalogue.plates import COLUMNS, read_plates  # noqa: E402
from leitung_core.circuits import size_document  # noqa: E402
from leitung_core.control.system import systems_of  # noqa: E402
from leitung_core.entry.plate.picture import open_picture  # noqa: E402
from leitung_core.entry.quantity import read_quantity  # noqa: E402
from leitung_core.entry.schedule import read_schedule  # noqa: E402
from leitung_core.entry.sentence import read_unit  # noqa: E402
from leitung_core.errors import InputError  # noqa: E402
from leitung_core.loadout.prices import read_prices  # noqa: E402
from leitung_core.plan.model import read_plan  # noqa: E402
from leitung_core.plant.plant import Plant  # noqa: E402
from leitung_core.result import check_and_brief, check_plan  # noqa: E402
from leitung_core.solver.network import read_network  # noqa: E402
from leitung_core.starting.document import read_trial  # noqa: E402
from leitung_core.starting.log import read_events  # noqa: E402
from leitung_core.starting.log_file import read_log  # noqa: E402
from leitung_core.starting.verdict import judge  # noqa: E402
from leitung_core.validation import parse_json  # noqa: E402
from leitung_core.week.document import read_week  # noqa: E402
from leitung_core.wiring.lists import read_list, write_list  # noqa: E402
from leitung_core.worklist.written import read_work, write_work  # noqa: E402
from leitung_demo import kiosk, loft, museum, workshop  # noqa: E402
from photos.cleaning import clean  # noqa: E402
from PIL import Image  # noqa: E402

# No reader may take longer for what a seed has become, s; a machine that is busy takes its time.
SLOWEST_S = 20.0
NASTY: tuple[Any, ...] = (
    None, True, -1, 0, 1e308, -1e-308, 10**30, "", " ", "0", "-0", "NaN", "1e400", "{0}", "{tag:>20000000}", "%s%n",
    "=1+1", "'", '"', "\\", "../../x", "\x00", "\u202e", "\u200b", "ß", "１２", "𝟙", "a" * 5000, [], {}, [[]], {"": {}},
    [None], "2026-13-40", "25:61", "</script>", "${x}", "inf", "½", "1,5", "12-2", "208/230",
)  # fmt: skip
BYTES = (b"", b"\x00", b"\xff\xfe", b"\r", b'"', b",,,,", b"\n\n", b"\xef\xbb\xbf", b"{", b"'=", b"1e999", b"\xc3\x28")


@dataclass(frozen=True)
class Target:
    """A reader with what it takes."""

    seeds: Callable[[], list[bytes]]
    read: Callable[[bytes], object]


def _text(raw: bytes) -> str:
    return raw.decode(errors="replace")


def _json(*documents: Any) -> list[bytes]:
    return [json.dumps(document).encode() for document in documents]


def _network() -> list[bytes]:
    network = systems_of(Plant(read_plan(museum())))[0].network
    return _json(network.model_dump(mode="json", exclude_none=True, by_alias=True))


def _trial() -> list[bytes]:
    motor = {"id": "M", "leg": "both", "compressor": {"rla_a": 12, "lra_a": [60, 70]}, "compressor_after_s": 3}
    kettle = {"id": "K", "leg": 1, "steady_a": 10}
    calls = [{"at_s": 0, "load": "M"}, {"at_s": 5, "load": "K", "until_s": 60}]
    return _json({"supply": {"kind": "panel", "volts": 240, "legs": 2}, "loads": [motor, kettle], "calls": calls})


def _week() -> list[bytes]:
    task = {"id": "a.1", "site": "a", "skills": ["licensed"], "minutes": 60}
    return _json({"days": ["2026-12-07"], "from": "07:00", "to": "16:00",
                  "people": [{"id": "odo", "skills": ["licensed"], "off": []}],
                  "travel_min": [{"a": "shop", "b": "a", "min": 20}],
                  "tasks": [task, task | {"id": "a.2", "after": [{"task": "a.1", "wait_min": 5}]}]})  # fmt: skip


def _book() -> list[bytes]:
    book = openpyxl.Workbook()
    for row in (["MARK", "MCA", "MOP", "VOLTS"], ["RTU-1", 38, 45, "208/230-3-60"], ["UH-1", "24 A", 30, 240]):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return [out.getvalue()]


def _pictures() -> list[bytes]:
    """One of each kind, with marks that are to be taken out; and a paper."""
    picture, marks, found = Image.effect_mandelbrot((64, 48), (-2, -1, 1, 1), 30).convert("RGB"), Image.Exif(), []
    marks[0x010E], marks[0x0112] = "where it was", 6
    for kind in ("PNG", "JPEG", "WEBP", "HEIF"):
        out = io.BytesIO()
        picture.save(out, kind, exif=marks)
        found.append(out.getvalue())
    return [*found, b"%PDF-1.7\n1 0 obj\n<<>>\nendobj\ntrailer\n<<>>\n%%EOF"]


def _work(raw: bytes) -> object:
    found = check_and_brief(read_plan(kiosk()))[1].work
    return read_work(_text(raw), found, {})


def _quantity(field: str, text: str) -> object:
    try:
        return read_quantity(field, text)
    except InputError:
        return None


TARGETS: dict[str, Target] = {
    "plan": Target(lambda: _json(kiosk(), loft(), workshop()), lambda raw: check_plan(read_plan(parse_json(raw, "x")))),
    "museum": Target(lambda: _json(museum()), lambda raw: read_plan(parse_json(raw, "x"))),
    "size": Target(lambda: _json({"equipment": {"kind": "mini_split_outdoor", "nameplate": {"mca_a": 18}},
                                  "run": [{"method": "NM-B", "length_ft": 40}]}),
                   lambda raw: size_document(parse_json(raw, "x"))),
    "network": Target(_network, lambda raw: read_network(parse_json(raw, "x"))),
    "starting": Target(_trial, lambda raw: judge(read_trial(parse_json(raw, "x")))),
    "week": Target(_week, lambda raw: read_week(parse_json(raw, "x"))),
    "device": Target(lambda: _json(*(kind.model_dump(mode="json", exclude_none=True)
                                     for kind in list(shipped_devices().values())[:6])),
                     lambda raw: prove(read_device_type(parse_json(raw, "x")))),
    "log": Target(lambda: [b"\n".join((ROOT / "docs/examples" / name).read_bytes().splitlines()[:1500])
                           for name in ("trailer-before.csv", "trailer-after.csv")],
                  lambda raw: read_events(read_log(raw, "x"))),
    "schedule": Target(_book, lambda raw: read_schedule(raw, "x.xlsx")),
    "schedule as text": Target(lambda: [b"MARK,MCA,MOP\nRTU-1,38,45\nUH-1,24 A,30\n"],
                               lambda raw: read_schedule(raw, "x.csv")),
    "plates": Target(lambda: [f"{','.join(COLUMNS[:6])}\nTarnwick,Z-1,unit_heater,,240,1\n".encode()],
                     lambda raw: read_plates(_text(raw))),
    "prices": Target(lambda: [b"item,price\nrope,1.20\n'=x,3\n"], lambda raw: read_prices(_text(raw))),
    "landings": Target(lambda: [write_list(Plant(read_plan(museum()))).encode()[:6000]],
                       lambda raw: read_list(Plant(read_plan(museum())), _text(raw))),
    "work list": Target(lambda: [write_work(check_and_brief(read_plan(kiosk()))[1].work, {}).encode()], _work),
    "photo": Target(_pictures, lambda raw: clean(raw, "x.jpg")),
    "plate": Target(_pictures, lambda raw: open_picture(raw, "x.jpg")),
    "sentence": Target(lambda: [b"UH-7 unit heater 5 kW 240 V", b"MS-2 mini-split MCA 18 MOP 25 at 80'"],
                       lambda raw: read_unit(_text(raw))),
    "quantity": Target(lambda: [b"80'", b"7,5 kW", b"208/230-1-60", b"14-3", b"half an hour"],
                       lambda raw: [_quantity(field, _text(raw)) for field in ("length", "amps", "watts", "size")]),
}  # fmt: skip


def broken(seed: bytes, chance: random.Random) -> bytes:
    """A seed with some of it otherwise: a place in its structure, or some of its bytes."""
    raw = seed
    if seed[:1] in (b"{", b"[") and chance.random() < 0.8:
        document = json.loads(seed)
        for _ in range(chance.randint(1, 4)):
            _other_place(document, chance)
        raw = json.dumps(document).encode()
        if chance.random() < 0.7:
            return raw
    for _ in range(chance.randint(1, 5)):
        at = chance.randrange(len(raw) + 1)
        end = min(len(raw), at + chance.choice((0, 1, 1, 8, 200)))
        raw = raw[:at] + chance.choice((*BYTES, raw[at:end] * 3, str(chance.choice(NASTY)).encode())) + raw[end:]
    return raw


def _other_place(document: Any, chance: random.Random) -> None:
    """Put something nasty somewhere, take something out, give it another name, double it."""
    at = document
    while isinstance(at, dict | list) and at:
        key = chance.choice(list(at)) if isinstance(at, dict) else chance.randrange(len(at))
        below = at[key]
        if not isinstance(below, dict | list) or not below or chance.random() < 0.3:
            what = chance.random()
            if what < 0.6:
                at[key] = deepcopy(chance.choice(NASTY))
            elif what < 0.75:
                del at[key]
            elif isinstance(at, dict):
                at[str(chance.choice(NASTY))] = at.pop(key) if what < 0.9 else deepcopy(below)
            else:
                at.append(deepcopy(below))
            return
        at = below


def tried(name: str, raw: bytes) -> str | None:
    """What is wrong with how a reader takes it; None where it takes it or refuses it in words."""
    began = time.monotonic()
    try:
        TARGETS[name].read(raw)
    except InputError as refused:
        if any(len(str(problem)) > 5000 for problem in refused.problems):
            return "a message as long as what it is about"
    except Exception:
        return traceback.format_exc()
    took = time.monotonic() - began
    return f"took {took:.0f} s" if took > SLOWEST_S else None


def tries(name: str, seed: int) -> Iterator[bytes]:
    """Broken seeds of a reader without end, the same ones for the same figure."""
    chance = random.Random(f"{name} {seed}")  # no secret
    seeds = TARGETS[name].seeds()
    while True:
        yield broken(chance.choice(seeds), chance)


def main() -> None:
    minutes = float(sys.argv[1]) if len(sys.argv) > 1 else 1.0
    names = sys.argv[2:] or list(TARGETS)
    seed = int(time.time())
    found = 0
    for name in names:
        until, count = time.monotonic() + minutes * 60 / len(names), 0
        for raw in tries(name, seed):
            if time.monotonic() > until:
                break
            count += 1
            wrong = tried(name, raw)
            if wrong:
                found += 1
                file = ROOT / "var/fuzz" / name.replace(" ", "-") / hashlib.sha256(raw).hexdigest()[:16]
                file.parent.mkdir(parents=True, exist_ok=True)
                file.write_bytes(raw)
                print(f"{name}: {file}\n{wrong.strip().splitlines()[-1][:300]}", flush=True)
        print(f"{name:<20} {count:7d} tried", flush=True)
    print(f"{found} found" if found else "nothing found")
    raise SystemExit(1 if found else 0)


if __name__ == "__main__":
    main()
