"""Photos: what may be kept, what is taken out of them, whose they are, and a plate that is read by the worker."""

from __future__ import annotations

import base64
import io
from typing import Any

import pytest
from accounts.models import User
from photos import actions
from photos.models import Content, Photo
from PIL import Image
from pypdf import PdfReader

from tests.core.entry.plates import PLATES, draw, raw
from tests.server.conftest import Api

pytestmark = pytest.mark.django_db
ORIENTATION, POSITION = 0x0112, 0x8825


def picture(kind: str = "JPEG", size: tuple[int, int] = (40, 20), **more: Any) -> bytes:
    return raw(Image.new("RGB", size, "white"), kind, **more)


def marked() -> bytes:
    """A JPEG held sideways, with the place where it was taken, and words."""
    exif = Image.Exif()
    exif[ORIENTATION] = 6
    exif.get_ifd(POSITION).update({1: "N", 2: (61.0, 12.0, 3.0), 3: "W", 4: (7.0, 1.0, 2.0)})
    return picture(exif=exif, comment=b"taken at home")


def keep(api: Api, install: str, sent: bytes, about: str = "equipment/OU-1", name: str = "p", **more: Any) -> Any:
    body = {"about": about, "name": name, "base64": base64.b64encode(sent).decode(), **more}
    return api.post(f"/api/installs/{install}/photos", body)


def test_a_photo_is_kept_shown_and_taken_out(api: Api, install: str, crew: User) -> None:
    mine = Api(crew)
    photo = keep(mine, install, picture(), about="steps/MS-1.dead").json()
    path = f"/api/installs/{install}/photos"
    assert [row["about"] for row in api.get(path).json()] == ["steps/MS-1.dead"]
    shown = api.get(f"{path}/{photo['id']}/content")
    assert shown.content == picture()
    assert (shown["Content-Type"], shown["X-Content-Type-Options"]) == ("image/jpeg", "nosniff")
    assert "sandbox" in shown["Content-Security-Policy"]
    assert mine.post(f"{path}/{photo['id']}/removal").status_code == 200
    assert api.get(path).json() == []
    assert api.get(f"{path}/{photo['id']}/content").status_code == 404


def test_where_and_how_it_was_taken_is_taken_out_and_it_stands_upright(api: Api, install: str) -> None:
    photo = keep(api, install, marked()).json()
    assert (photo["width"], photo["height"]) == (20, 40)
    with Image.open(io.BytesIO(bytes(Content.objects.get().body))) as kept:
        assert kept.size == (20, 40)
        assert not kept.getexif()
        assert "comment" not in kept.info


@pytest.mark.parametrize("kind", ["PNG", "WEBP", "HEIF"])
def test_other_pictures_become_what_every_browser_shows(api: Api, install: str, kind: str) -> None:
    assert keep(api, install, picture(kind)).json()["kind"] == ("image/png" if kind == "PNG" else "image/jpeg")


@pytest.mark.parametrize(
    ("sent", "says"),
    [
        (b"MZ\x90\x00 not a picture", "neither a picture nor a PDF"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "neither a picture nor a PDF"),
        (b"GIF89a" + bytes(40), "neither a picture nor a PDF"),
        (picture()[:300], "neither a picture nor a PDF"),
        (b"", "neither a picture nor a PDF"),
        (b"%PDF-" + bytes(3_500_000), "too large"),
    ],
    ids=["program", "drawing", "film", "half", "nothing", "large"],
)
def test_what_is_none_is_refused_whatever_its_name_says(api: Api, install: str, sent: bytes, says: str) -> None:
    answer = keep(api, install, sent, name="photo.jpg")
    assert answer.status_code == 422
    assert says in answer.json()["detail"]
    assert not Content.objects.exists()


def test_a_paper_is_saved_never_shown(api: Api, install: str) -> None:
    photo = keep(api, install, b"%PDF-1.7 manual").json()
    shown = api.get(f"/api/installs/{install}/photos/{photo['id']}/content")
    assert shown["Content-Disposition"].startswith("attachment")


@pytest.mark.parametrize("about", ["equipment/../x", "users/1", "equipment/", "steps/a b", "{about}"])
def test_a_photo_is_of_something(api: Api, install: str, about: str) -> None:
    assert keep(api, install, picture(), about=about).status_code == 422


def test_the_same_bytes_are_kept_once_a_company(api: Api, install: str, stranger: User) -> None:
    for about in ("equipment/OU-1", "devices/OU-1"):
        keep(api, install, picture(), about=about)
    theirs = Api(stranger)
    other = theirs.post("/api/installs", {"name": "Theirs"}).json()["install"]["id"]
    keep(theirs, other, picture())
    assert (Photo.objects.count(), Content.objects.count()) == (3, 2)


def test_a_plate_is_read_and_what_is_taken_goes_into_the_plan(api: Api, install: str) -> None:
    """A drawn plate with known figures: every one read is offered with its place in the picture; taken are two."""
    photo = keep(api, install, raw(draw(PLATES["outdoor"], "rows")), plate=True).json()
    assert photo["reading"] == "queued"
    actions.work_out(photo["id"])
    path = f"/api/installs/{install}/photos/{photo['id']}"
    read = api.get(path).json()
    offers = {row["field"]: row for row in read["offers"]}
    assert (read["reading"], offers["mca_a"]["shown"], offers["rla_a"]["shown"]) == ("done", "17.8 A", "12.5 A")
    assert all(len(row["box"]) == 4 for row in offers.values())
    patch = api.post(f"{path}/takings", {"fields": ["mca_a", "lra_a", "rla_a"]}).json()["patch"]
    before = api.get(f"/api/installs/{install}").json()["document"]["equipment"]["OU-1"]["nameplate"]
    changed = api.post(f"/api/installs/{install}/patches", {"base_revision": 1, "patch": patch}).json()
    plate = changed["document"]["equipment"]["OU-1"]["nameplate"]
    assert (plate["mca_a"], plate["compressors"][0]) == (17.8, {"rla_a": 12.5, "lra_a": 58.3})
    assert plate["max_ocpd_a"] == before["max_ocpd_a"]
    stands = {row["field"]: row["stands"] for row in api.get(path).json()["offers"]}
    assert (stands["mca_a"], stands["max_ocpd_a"]) == (True, before["max_ocpd_a"] == 25)


def test_what_is_no_plate_offers_nothing(api: Api, install: str) -> None:
    photo = keep(api, install, picture(size=(300, 200)), plate=True).json()
    actions.work_out(photo["id"])
    path = f"/api/installs/{install}/photos/{photo['id']}"
    assert (api.get(path).json()["reading"], api.get(path).json()["offers"]) == ("done", [])
    gone = keep(api, install, picture(size=(30, 200)), about="equipment/GONE", plate=True).json()
    assert api.post(f"{path.replace(photo['id'], gone['id'])}/takings", {"fields": ["mca_a"]}).status_code == 409


def test_what_a_photo_proves_stands_on_the_record_with_who_and_what(api: Api, install: str) -> None:
    keep(api, install, picture(size=(1200, 600)), about="steps/MS-1.dead")
    paper = api.get(f"/api/installs/{install}/record.pdf").content
    last = PdfReader(io.BytesIO(paper)).pages[-1]
    assert "Photos" in last.extract_text()
    assert "Lead" in last.extract_text()
    (image,) = last.images
    assert image.image is not None
    assert image.image.size == (900, 450)
