"""The plan as a file, out and in; the record on paper."""

from __future__ import annotations

import io
import json
import re
import subprocess
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import bagit
import pytest
from accounts.models import User
from documents import drawings, laying
from documents.models import Sheet
from documents.together import together
from installs.actions import checked
from installs.models import Install
from leitung_core.plan.model import read_plan
from leitung_core.result import check_plan
from leitung_core.result.signed import digest_of
from leitung_demo import kiosk, museum, workshop
from pikepdf import Pdf
from problems import Refused
from pypdf import PdfReader
from records.models import Signature

from tests.server.conftest import Api
from tests.server.test_photos import keep, picture
from tests.server.test_records import READ, SIGN

pytestmark = pytest.mark.django_db


def test_an_exported_plan_is_the_same_everywhere(api: Api, stranger: User, tmp_path: Path) -> None:
    shown = api.post("/api/imports", workshop()).json()
    file = api.get(f"/api/installs/{shown['install']['id']}/plan.json")
    assert file["Content-Disposition"] == 'attachment; filename="bindery-workshop.leitung.json"'
    computed = check_plan(read_plan(json.loads(file.content)))
    assert computed.model_dump(mode="json", exclude_none=True) == shown["result"]
    elsewhere = Api(stranger).post("/api/imports", file.content)
    assert elsewhere.status_code == 201
    assert elsewhere.json()["document"] == shown["document"]
    assert elsewhere.json()["result"] == shown["result"]


@pytest.mark.parametrize(
    "raw",
    [b"", b"{}", b"[]", b"not json", json.dumps(kiosk()).encode()[:700], b'{"a":' * 5000, b"\x00\x01",
     json.dumps(kiosk() | {"format_version": 99}).encode(), json.dumps(kiosk() | {"circuits": 5}).encode(),
     b'{"format":"leitung-plan","format_version":1,"name":"x","sources":{"P":{"volts":' + b"9" * 4000 + b"}}}"],
)  # fmt: skip
def test_a_file_that_is_no_plan_is_refused_in_words(api: Api, raw: bytes) -> None:
    answer = api.post("/api/imports", raw)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["remedy"]
    assert Install.objects.count() == 0


def test_a_file_of_50_mb_is_refused_unread(api: Api) -> None:
    answer = api.post("/api/imports", b" " * 50_000_000)
    assert (answer.status_code, answer.json()["code"]) == (413, "too-large")


def test_the_printed_record_says_what_was_done_and_what_was_not(api: Api, install: str, tmp_path: Path) -> None:
    base = f"/api/installs/{install}"
    first = api.post(f"{base}/readings", READ | {"value": 264}).json()["readings"][0]["entries"][0]["id"]
    api.post(f"{base}/readings", READ | {"corrects": first, "reason": "wrong range"})
    api.post(f"{base}/open-items", {"text": "Bushing is missing", "owner": "Odo Brisk"})
    api.post(f"{base}/signatures", SIGN)
    paper = tmp_path / "record.pdf"
    paper.write_bytes(api.get(f"{base}/record.pdf").content)
    text = subprocess.run(["pdftotext", "-layout", paper, "-"], capture_output=True, text=True, check=True).stdout
    pages = subprocess.run(["pdfinfo", paper], capture_output=True, text=True, check=True).stdout
    assert "Pages:           1\n" in pages
    for words in ("Ticket kiosk", "12 AWG NM-B", "440.4(B)", "246.5 V, within", "264 V", "corrected: wrong range",
                  "Not recorded:", "Bushing is missing", "Ines Tarn, installer, signed revision 1",
                  "Capacitors hold a charge", "Qualified and licensed persons only"):  # fmt: skip
        assert words in text, words


def test_everything_as_open_files_is_checked_without_the_application(api: Api, tmp_path: Path) -> None:
    odd = "--sha512=x ../../x"
    install = api.post("/api/imports", kiosk() | {"name": odd}).json()["install"]["id"]
    base = f"/api/installs/{install}"
    keep(api, install, picture(), about="steps/MS-1.dead", name="../../../etc/cron.d/x")
    api.post(f"{base}/readings", READ)
    api.post(f"{base}/signatures", SIGN)
    api.post(f"{base}/open-items", {"text": "Bushing is missing", "owner": "Odo Brisk"})
    answer = api.get(f"{base}/package.zip")
    with zipfile.ZipFile(io.BytesIO(answer.getvalue())) as packed:
        assert not [name for name in packed.namelist() if ".." in name or name.startswith("/")]
        packed.extractall(tmp_path)
    bag = bagit.Bag(str(tmp_path))
    bag.validate()
    assert (bag.info["External-Identifier"], bag.info["External-Description"]) == (install, odd)

    def read(name: str) -> Any:
        return json.loads((tmp_path / "data" / name).read_bytes())

    assert read("plan.leitung.json") == api.get(f"{base}/plan.json").json()
    (signed,) = read("signatures.json")
    assert digest_of(read(signed["covers"])) == signed["digest"] == Signature.objects.get().digest
    assert read(signed["covers"])["records"]["open_items"] == [], "made after it was signed"
    assert [row["text"] for row in read("record.json")["records"]["open_items"]] == ["Bushing is missing"]
    (photo,) = read("photos.json")
    assert (photo["about"], photo["name"]) == ("steps/MS-1.dead", "../../../etc/cron.d/x")
    assert (tmp_path / "data" / photo["file"]).read_bytes() == picture()
    assert read("revisions.json")[0]["name"] == "Lead"


def paper_text(api: Api, install: str, sheet: str, folder: Path) -> str:
    paper = folder / f"{sheet}.pdf"
    answer = api.get(f"/api/installs/{install}/{sheet}.pdf")
    assert answer["Content-Type"] == "application/pdf"
    paper.write_bytes(answer.content)
    return subprocess.run(["pdftotext", "-layout", paper, "-"], capture_output=True, text=True, check=True).stdout


@pytest.mark.parametrize(("plan", "starts"), [(kiosk, False), (museum, True)])
def test_the_package_counts_through_and_leads_to_its_parts(
    api: Api, plan: Callable[[], Any], starts: bool, tmp_path: Path
) -> None:
    install = api.post("/api/imports", plan()).json()["install"]["id"]
    api.post(f"/api/installs/{install}/signatures", SIGN)
    wanted = "" if not starts else "?part=record&part=directory&part=controls&part=trials"
    answer = api.get(f"/api/installs/{install}/package.pdf{wanted}")
    package = PdfReader(io.BytesIO(answer.content))
    pages = [page.extract_text() for page in package.pages]
    chapters = [(one.title, package.get_destination_page_number(one)) for one in package.outline
                if not isinstance(one, list)]  # fmt: skip
    titles = [title for title, _ in chapters]
    assert titles == (["Contents", "Record", "Panel directories", "Controls", "Starts tried"] if starts else
                      ["Contents", "Record", "Circuit schedule", "Panel directories"])  # fmt: skip
    assert package.trailer["/Root"]["/MarkInfo"]["/Marked"]
    for title, at in chapters[1:]:
        # The contents, the page's own foot and where it is agree.
        assert re.search(rf"{title}\s+{at + 1}\b", pages[0]), pages[0]
        assert f"{title}, page {at + 1}" in pages[at]
    assert all(f"page {number}" in text for number, text in enumerate(pages, 1))
    assert all("Qualified and licensed persons only" in text for text in pages)
    for title, at in re.findall(r"Controls of (\S+)\s+(\d+)", pages[0]):
        # A system that goes on over pages is named where it begins.
        assert next(number for number, text in enumerate(pages, 1) if re.search(rf"(?m)^{title} [a-z]", text) and
                    f"Controls, page {number}" in text) == int(at), title  # fmt: skip
    signed = Signature.objects.filter(install=install).first()
    assert (signed.digest if signed else "Not signed.") in pages[0]
    if not starts:
        file = tmp_path / "package.pdf"
        file.write_bytes(answer.content)
        # Its one line is drawn once, in the record; the schedule alone draws it itself.
        assert len(list(spoken_figures(package.trailer["/Root"]["/StructTreeRoot"]))) == 1
        alone = PdfReader(io.BytesIO(api.get(f"/api/installs/{install}/package.pdf?part=schedule").content))
        assert len(list(spoken_figures(alone.trailer["/Root"]["/StructTreeRoot"]))) == 1
        assert list(package.attachments) == list(PdfReader(io.BytesIO(
            api.get(f"/api/installs/{install}/record.pdf").content)).attachments)  # fmt: skip


def titled(html: str) -> str:
    return html.partition("<title>")[2].partition("</title>")[0].rpartition(": ")[2]


def test_of_a_package_only_what_says_something_else_is_laid_out_again(
    api: Api, lead: User, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[str] = []
    lay = laying.part_of
    monkeypatch.setattr(laying, "part_of", lambda flat, *more: (asked.append(titled(flat.html)), lay(flat, *more))[1])
    install = Install.objects.get(id=api.post("/api/imports", workshop()).json()["install"]["id"])

    def printed(*parts: str) -> str:
        body = together(checked(install), lead, parts or ["record", "schedule", "directory"]).pdf()
        return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(body)).pages)

    first = printed()
    assert asked == ["record", "circuit schedule", "panel directory"]
    api.post(f"/api/installs/{install.id}/open-items", {"text": "Bushing is missing", "owner": "Odo Brisk"})
    asked.clear()
    second = printed()
    assert asked == ["record"], "it alone is another"
    asked.clear()
    printed("record", "directory")
    assert asked == [], "fewer of them are the same ones"
    assert "Bushing is missing" not in first
    assert "Bushing is missing" in second


def test_parts_laid_out_by_two_processes_are_one_document(
    api: Api, lead: User, monkeypatch: pytest.MonkeyPatch
) -> None:
    install = api.post("/api/imports", workshop()).json()["install"]["id"]
    package = together(checked(Install.objects.get(id=install)), lead, ["schedule", "directory", "controls"])
    alone = package.pdf()
    Sheet.objects.all().delete()
    monkeypatch.setattr(laying, "WORTH_BEGINNING", 0)
    both = package.pdf()
    texts = [[page.extract_text() for page in PdfReader(io.BytesIO(body)).pages] for body in (alone, both)]
    assert texts[0] == texts[1]
    with Pdf.open(io.BytesIO(both)) as pdf:
        assert pdf.check_pdf_syntax() == []
        nums = list(pdf.Root.StructTreeRoot.ParentTree.Nums)
        told = dict(zip(map(int, nums[::2]), nums[1::2], strict=True))
        assert len(told) == len(nums) // 2, "no key twice"
        for page in pdf.pages:
            # What is marked on a page belongs to elements that say they are on it.
            assert {element.Pg.objgen for element in told[int(page.obj.StructParents)]} == {page.obj.objgen}
        (document,) = pdf.Root.StructTreeRoot.K
        assert {element.P.objgen for element in document.K} == {document.objgen}


@pytest.mark.parametrize("program", ["process.exit(1)", "setInterval(() => 0, 1000)"], ids=["ends", "never answers"])
def test_a_drawing_that_cannot_be_made_is_said(
    api: Api, lead: User, program: str, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    install = Install.objects.get(id=api.post("/api/imports", workshop()).json()["install"]["id"])
    (tmp_path / "print.js").write_text(program)
    monkeypatch.setattr(drawings, "PROGRAM", tmp_path / "print.js")
    monkeypatch.setattr(drawings, "LONGEST_S", 0.5)
    with pytest.raises(Refused, match="drawing could not be made"):
        together(checked(install), lead, ["schedule"]).pdf()
    assert not Sheet.objects.exists()


@pytest.mark.django_db(transaction=True)
def test_every_landing_of_the_museum_stands_on_few_pages(api: Api) -> None:
    install = api.post("/api/imports", museum()).json()["install"]["id"]
    package = PdfReader(io.BytesIO(api.get(f"/api/installs/{install}/package.pdf?part=landings").content))
    pages = [page.extract_text() for page in package.pages]
    text = "\n".join(pages)
    # Of 55 pages of the whole that are 40 now, 17 are these and one its contents.
    assert len(pages) <= 18
    plan = museum()
    assert all(key in text for key in plan["cables"])
    assert all(key in text for key, device in plan["devices"].items() if "removed" not in device.get("state", ""))


def aloud(paper: Path) -> str:
    """A tagged PDF as a reading voice takes it: its text in the order of its structure."""
    told = subprocess.run(["pdfinfo", "-struct-text", paper], capture_output=True, text=True, check=True).stdout
    said = re.findall(r'^ *"(.*?)"$', told, re.MULTILINE | re.DOTALL)
    return " ".join(" ".join(said).split())


def spoken_figures(node: Any) -> Iterator[str | None]:
    node = node.get_object() if hasattr(node, "get_object") else node
    for one in node if isinstance(node, list) else [node.get("/K")] if isinstance(node, dict) else []:
        yield from spoken_figures(one)
    if isinstance(node, dict) and node.get("/S") == "/Figure":
        yield node.get("/Alt")


@pytest.mark.parametrize(
    ("plan", "sheet", "in_order", "figure"),
    [
        (workshop, "package.pdf",
         ["Bindery workshop: package", "Contents Record 2", "Not signed.", "MS-1 mini-split, north wall",
          # What stands in a drawing is words too.
          "through the wall", "whip",
          "Conductors must carry 440.4(B) 11 A Device, at most 110.3(B), 440.22(C) 15 A Least conductor", "Findings",
          "stop: NM-B may not be outdoors", "334.12(B)(4)", "Readings", "Not recorded: L1 to L2 at the disconnect",
          "Start-up 0 of 27 steps done", "Not proved: Main of Panel A off", "Cautions", "Not signed."],
         r"Line MS-1, from source to unit: Source Panel A .*breaker 15\sA .*12\sAWG NM-B.*30\sA.*Unit OU-1, north"),
        # What it is, what to beware of, how the rows are read, and row by row what lands there.
        (museum, "landings.pdf?cable=P-CP1",
         ["Museum plant: landings", "B-CP1 breaker of CP-1", "Line voltage: lock out, prove dead",
          "Where Terminal Conductor Is for Other end Gauge", "breaker 1 black P-CP1 line L at R-CP1 12 AWG",
          "panel bars N white P-CP1 neutral N at R-CP1", "R-CP1 receptacle of CP-1", "L black P-CP1 line 1 at B-CP1"],
         r"B-CP1 to R-CP1: black from B-CP1 \S+ 1 to R-CP1 \S+ L; white"),
    ],
)  # fmt: skip
def test_a_sheet_read_aloud_makes_sense(
    api: Api, plan: Callable[[], Any], sheet: str, in_order: list[str], figure: str, tmp_path: Path
) -> None:
    install = api.post("/api/imports", plan()).json()["install"]["id"]
    file = tmp_path / "sheet.pdf"
    file.write_bytes(api.get(f"/api/installs/{install}/{sheet}").content)
    text, at = aloud(file), 0
    for words in in_order:
        assert words in text[at:], f"{words} after {text[max(0, at - 80) : at + 200]}"
        at = text.index(words, at) + len(words)
    said = list(spoken_figures(PdfReader(file).trailer["/Root"]["/StructTreeRoot"]))
    assert said
    assert all(re.search(figure, str(one)) for one in said), said


def test_a_part_that_there_is_not_is_named(api: Api, install: str) -> None:
    answer = api.get(f"/api/installs/{install}/package.pdf?part=jokes")
    assert (answer.status_code, "part" in answer.json()["errors"][0]["field"]) == (422, True)
    nothing = api.get(f"/api/installs/{install}/package.pdf?part=trials").content
    assert len(PdfReader(io.BytesIO(nothing)).pages) == 1, "its contents, that name nothing"


@pytest.mark.parametrize(
    ("sheet", "words"),
    [
        ("schedule", ["Main panel", "Vault panel", "FD-1", "208 V, 3 phase", "11, 13, 15", "45 A is above the 40 A",
                      "39.6 A", "8 AWG"]),
        ("directory", ["Outbuilding panel", "UH-1: unit heater, crate room", "40 A", "lift", "main 225 A",
                       "Bus bars stay live"]),
        ("load-out", ["80 A 3-pole breaker for Main panel", "264 ft", "3 AWG THWN-2", "soft starter"]),
        ("labels", ["MS-1", "240 V, 1 phase", "fed from Outbuilding panel", "Lock out and prove dead"]),
    ],
)  # fmt: skip
def test_the_printed_package(api: Api, sheet: str, words: list[str], tmp_path: Path) -> None:
    install = api.post("/api/imports", museum()).json()["install"]["id"]
    text = paper_text(api, install, sheet, tmp_path)
    for word in [*words, "Qualified and licensed persons only"]:
        assert word in text, word


def test_a_bare_plan_prints_what_is_missing(api: Api, tmp_path: Path) -> None:
    install = api.post("/api/installs", {"name": "Bare"}).json()["install"]["id"]
    assert "No source is drawn yet" in paper_text(api, install, "schedule", tmp_path)
    assert "No panel with numbered spaces" in paper_text(api, install, "directory", tmp_path)
    assert "No line has a unit yet" in paper_text(api, install, "labels", tmp_path)
