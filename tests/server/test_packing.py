"""Packing: where each row of the load-out is, and what the plan has changed since it was packed."""

from __future__ import annotations

import csv
import io
from typing import Any

import pytest
from accounts.models import User
from catalogue.actions import prices_of
from catalogue.models import OwnPrice
from django.db import DatabaseError, transaction
from installs import actions as installs
from leitung_demo import kiosk
from pypdf import PdfReader
from records.models import PackingEntry

from tests.core.test_panels import heaters
from tests.server.conftest import Api

pytestmark = pytest.mark.django_db
CABLE = "12-2 NM-B with ground"


def row(answer: Any, item: str) -> dict[str, Any]:
    return next(entry for entry in answer.json()["rows"] if entry["item"] == item)


def test_what_is_packed_stands_and_what_the_plan_asks_for_since_is_said(api: Api, install: str, crew: User) -> None:
    """The kiosk's run of 22 ft and 8 ft of slack; 5 ft more of it are 5 ft too few on the truck."""
    base = f"/api/installs/{install}"
    cable = row(api.get(f"{base}/packing"), CABLE)
    assert (cable["amount"], cable["where"], cable["cut"]) == ("30 ft", "none", "1 roll of 50 ft: 30")
    packed = row(Api(crew).post(f"{base}/packings", {"key": cable["key"], "where": "truck"}), CABLE)
    assert (packed["where"], packed["by"], packed.get("changed")) == ("truck", "Crew", None)
    longer = {"circuits": {"MS-1": {"run": {"s1": {"length_ft": 27}}}}}
    assert api.post(f"{base}/patches", {"base_revision": 1, "patch": longer}).status_code == 200
    assert row(api.get(f"{base}/packing"), CABLE)["changed"] == "5 ft more than was packed"
    again = row(api.post(f"{base}/packings", {"key": cable["key"], "where": "truck"}), CABLE)
    assert "changed" not in again
    # Another breaker: the one on the truck is asked for no more.
    breaker = next(entry for entry in api.get(f"{base}/packing").json()["rows"] if entry["group"] == "breaker")
    api.post(f"{base}/packings", {"key": breaker["key"], "where": "truck"})
    other = {"circuits": {"MS-1": {"ocpd": {"rating_a": 20}}}}
    assert api.post(f"{base}/patches", {"base_revision": 2, "patch": other}).status_code == 200
    assert api.get(f"{base}/packing").json()["gone"] == [breaker["item"]]
    with pytest.raises(DatabaseError, match="append-only"), transaction.atomic():
        PackingEntry.objects.update(where="shop")


def test_nonsense_is_refused_in_words(api: Api, install: str) -> None:
    url = f"/api/installs/{install}/packings"
    (told,) = api.post(url, {"key": "breaker-0", "where": "truck"}).json()["errors"]
    assert (told["field"], told["message"]) == ("key", "is nothing that this plan asks for")
    assert api.post(url, {"key": "breaker-0", "where": "moon"}).status_code == 422
    assert PackingEntry.objects.count() == 0


def test_what_was_forgotten_is_asked_for_at_the_next_install_like_it(
    api: Api, install: str, lead: User, crew: User, stranger: User
) -> None:
    """Two mini-splits and a heater: what lacked at one mini-split is asked at the other, and not at the heater."""
    like = installs.create(lead, kiosk(), "Install begun").install
    other = installs.create(lead, heaters([1, 3]), "Install begun").install
    base = f"/api/installs/{install}"
    for item in ("24 V relay, two pole", "  24 V  relay, TWO pole ", "short nipple"):
        assert Api(crew).post(f"{base}/forgotten", {"item": item}).status_code == 200
    assert api.get(f"{base}/packing").json()["asked"] == [], "where it lacked it was fetched"
    asked = api.get(f"/api/installs/{like.id}/packing").json()["asked"]
    assert [(row["times"], row["item"].casefold()) for row in asked] == [
        (2, "24 v relay, two pole"), (1, "short nipple"),
    ]  # fmt: skip
    packed = api.post(f"/api/installs/{like.id}/packings", {"key": asked[0]["key"], "where": "truck"}).json()
    assert [row["where"] for row in packed["asked"]] == ["truck", "none"]
    assert packed["gone"] == []
    assert api.get(f"/api/installs/{other.id}/packing").json()["asked"] == []
    theirs = installs.create(stranger, kiosk(), "Install begun").install
    assert Api(stranger).get(f"/api/installs/{theirs.id}/packing").json()["asked"] == []


def test_prices_come_back_in_the_suppliers_own_list(api: Api, install: str, stranger: User) -> None:
    """30 ft at 0.42 are 12.60; the other rows have no price and are not in the total. Nobody else sees it."""
    base = f"/api/installs/{install}"
    assert "cost" not in api.get(f"{base}/packing").json()
    listed = list(csv.DictReader(io.StringIO(api.get(f"{base}/load-out.csv").content.decode())))
    for line in listed:
        line["price"] = "0.42" if line["item"] == CABLE else ""
    assert api.post("/api/prices/lists", {"csv": as_csv(listed)}).json() == {"kept": 1}
    packing = api.get(f"{base}/packing")
    material = [entry for entry in packing.json()["rows"] if entry["group"] != "tool"]
    assert packing.json()["cost"] == {"total": "12.60", "priced": 1, "of": len(material)}
    assert row(packing, CABLE)["cost"] == 12.6
    again = {line["item"]: line["price"] for line in csv.DictReader(
        io.StringIO(api.get(f"{base}/load-out.csv").content.decode()))}  # fmt: skip
    assert again[CABLE] == "0.42"
    paper = "".join(
        page.extract_text() for page in PdfReader(io.BytesIO(api.get(f"{base}/estimate.pdf").content)).pages
    )
    assert "12.60 for material" in paper
    assert not prices_of(stranger.company)
    # To buy: that row alone is ordered.
    api.post(f"{base}/packings", {"key": row(packing, CABLE)["key"], "where": "buy"})
    order = api.get(f"{base}/load-out.csv?only=buy").content.decode().splitlines()
    assert (len(order), CABLE in order[1]) == (2, True)
    assert api.get(f"{base}/load-out.pdf?only=buy").status_code == 200


@pytest.mark.parametrize(
    ("text", "field"),
    [
        ("item,price\nrope,dear\n", "line 2, price"), ("item,price\nrope,-1\n", "line 2, price"),
        ("item,price\n,1\n", "line 2, item"), ("item,price\nrope,1\nRope ,2\n", "line 3, item"),
        ("item\nrope\n", "line 1"), ("item,price\nrope,\n", "list"), ("item,price\nrope,1e400\n", "line 2, price"),
        ("item,price\nrope,NaN\n", "line 2, price"), ("item,price\nrope,0.00001\n", "line 2, price"), ("", "line 1"),
    ],
)  # fmt: skip
def test_a_price_that_is_none_is_named(api: Api, text: str, field: str) -> None:
    told = api.post("/api/prices/lists", {"csv": text}).json()["errors"]
    assert told[0]["field"] == field
    assert OwnPrice.objects.count() == 0


def as_csv(rows: list[dict[str, str]]) -> str:
    out = io.StringIO()
    writer = csv.DictWriter(out, rows[0].keys())
    writer.writeheader()
    writer.writerows(rows)
    return out.getvalue()


def test_the_work_list_as_one_text(api: Api, install: str, crew: User) -> None:
    url = f"/api/installs/{install}/work/lines"
    text = api.get(url).json()["text"]
    assert api.post(url, {"text": text}).json() == {"work": {}}
    found = api.post(url, {"text": text + "| licensed | 20 min | permit | Ask for the key\n"}).json()
    assert found["work"]["own-1"]["text"] == "Ask for the key"
    patched = api.post(f"/api/installs/{install}/patches", {"base_revision": 1, "patch": found})
    assert patched.status_code == 200
    lines = [[cell.strip() for cell in line.split("|")] for line in api.get(url).json()["text"].splitlines()]
    assert ["own-1", "licensed", "20 min", "permit", "Ask for the key"] in lines
    told = api.post(url, {"text": "permit | {0.__class__} | | | x"}).json()["errors"][0]
    assert (told["field"], told["value"]) == ("line 1, who", "{0.__class__}")
    assert Api(crew).post(url, {"text": text}).status_code == 403
