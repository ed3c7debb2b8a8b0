"""The company's catalogue and the rulebook, over the API."""

from __future__ import annotations

import pytest
from accounts.models import User
from catalogue.models import OwnModel
from leitung_core.catalogue import COLUMNS, shipped_models
from leitung_demo import museum

from tests.server.conftest import Api

pytestmark = pytest.mark.django_db

HEATER = {
    "maker": "Hearthlow", "model": "HU-9", "kind": "unit_heater",
    "nameplate": {"volts": "240", "heat": {"watts": 9000, "rated_volts": 240}},
}  # fmt: skip


def names(api: Api) -> list[str]:
    return [entry["model"]["model"] for entry in api.get("/api/catalogue").json()["models"]]


def test_a_unit_is_saved_once_found_and_taken_out(api: Api) -> None:
    assert api.post("/api/catalogue", HEATER).status_code == 201
    again = api.post("/api/catalogue", HEATER | {"model": "hu-9"})
    assert (again.status_code, again.json()["errors"][0]["field"]) == (422, "model")
    shipped = api.post("/api/catalogue", HEATER | {"model": "HU-5"})
    assert shipped.status_code == 422
    assert len(names(api)) == len(shipped_models()) + 1
    own = OwnModel.objects.get()
    assert api.post(f"/api/catalogue/{own.id}/removal", {}).status_code == 200
    assert "HU-9" not in names(api)


def test_a_list_is_brought_whole_or_not_at_all(api: Api) -> None:
    good = "maker,model,kind,volts,heat_watts\nHearthlow,Q1,unit_heater,240,4000\n"
    bad = good + "Hearthlow,Q2,unit_heater,240,lots\nHearthlow,HU-5,unit_heater,240,5000\n"
    refused = api.post("/api/catalogue/lists", {"csv": bad})
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["field"] == "line 3, heat_watts"
    assert OwnModel.objects.count() == 0
    assert api.post("/api/catalogue/lists", {"csv": good}).json() == {"added": 1}
    assert "Q1" in names(api)


def test_the_list_that_goes_out_comes_in_elsewhere(api: Api, stranger: object) -> None:
    api.post("/api/catalogue", HEATER)
    text = api.get("/api/catalogue.csv").content.decode()
    assert text.splitlines()[0] == ",".join(COLUMNS)
    mine = "\n".join([text.splitlines()[0], *(line for line in text.splitlines() if ",HU-9," in line)])
    assert Api(stranger).post("/api/catalogue/lists", {"csv": mine}).json() == {"added": 1}  # type: ignore[arg-type]


def test_the_rulebook_is_there_as_data(api: Api) -> None:
    book = api.get("/api/rulebook").json()
    assert [edition["id"] for edition in book["editions"]] == ["us-2017", "us-2020", "us-2023"]
    ampacity = next(table for table in book["tables"] if table["table"] == "310.16")
    assert ["Cu", "12", "20", "25", "30", ""] in ampacity["rows"]
    assert all(school["default"] in school["options"] for school in book["schools"].values())
    assert book["amendments"]["quillmoor-stub"]["holds_from"] == "2025-01-01"


def test_a_trial_tells_what_would_change_and_keeps_nothing(api: Api, install: str) -> None:
    before = api.get(f"/api/installs/{install}").json()
    local = {
        "title": "ends", "said_by": "the town", "said_on": "2026-01-01", "choices": {"drop-current": "ampacity"},
    }  # fmt: skip
    shorter = {"circuits": {"MS-1": {"run": {"s1": {"length_ft": 400}}}}, "amendments": {"town": local}}
    found = api.post(f"/api/installs/{install}/trials", {"patch": shorter}).json()
    assert ("MS-1", "least conductor") in {(row["circuit"], row["what"]) for row in found["figures"]}
    assert "voltage-drop" in {finding["code"] for finding in found["comes"]}
    assert api.get(f"/api/installs/{install}").json() == before
    refused = api.post(f"/api/installs/{install}/trials", {"patch": {"rulebook": "us-1999"}})
    assert refused.status_code == 422


def test_where_a_model_is_used(api: Api, stranger: User) -> None:
    """The museum's mini-split is in the catalogue; the two sides see their own installs only."""
    begun = api.post("/api/imports", museum()).json()["install"]
    asked = "/api/catalogue/uses?maker=Tarnwick&model=TW-18D"
    assert api.get(asked).json() == {"installs": [{"id": begun["id"], "name": begun["name"], "units": ["OU-1"]}]}
    assert Api(stranger).get(asked).json() == {"installs": []}
    api.post(f"/api/installs/{begun['id']}/shelf", {"shelf": "archived"})
    assert api.get(asked).json() == {"installs": []}
