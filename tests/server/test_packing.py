"""Packing: where each row of the load-out is, and what the plan has changed since it was packed."""

from __future__ import annotations

from typing import Any

import pytest
from accounts.models import User
from django.db import DatabaseError, transaction
from installs import actions as installs
from leitung_demo import kiosk
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
