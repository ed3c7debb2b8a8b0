"""People of a company: joined by a link that serves once, made and unmade by a lead; own password and code."""

from __future__ import annotations

import json
from datetime import timedelta
from typing import Any

import pyotp
import pytest
from accounts import factor
from accounts.models import AccessLink, Company, Role, SecondFactor, SignedIn, TrailEntry, User, Write
from django.db import DatabaseError, transaction
from django.utils import timezone
from upkeep.demo import PASSWORD

from tests.server.conftest import Api, make_person

pytestmark = pytest.mark.django_db
GOOD = "seven-wet-capacitors"


def signed_in(username: str, password: str = PASSWORD, **more: Any) -> tuple[Api, Any]:
    api = Api(None)
    answer = api.post("/api/session", {"username": username, "password": password, **more})
    return api, answer


def invited(api: Api, role: str = "crew") -> str:
    answer = api.post("/api/people/links", {"name": "Pia Corr", "role": role})
    assert answer.status_code == 200, answer.json()
    token: str = answer.json()["token"]
    return token


def test_somebody_joins_by_a_link_that_serves_once(api: Api, lead: User) -> None:
    token = invited(api)
    assert Api(None).get(f"/api/links/{token}").json() == {
        "kind": "join", "company": "Brae & Finch Mechanical", "name": "Pia Corr"}  # fmt: skip
    told = Api(None).post(f"/api/links/{token}", {"username": "LEAD", "password": GOOD}).json()["errors"]
    assert (told[0]["field"], told[0]["message"]) == ("username", "is taken")
    told = Api(None).post(f"/api/links/{token}", {"username": "p.corr", "password": "password1234"}).json()["errors"]
    assert told[0]["field"] == "password"
    joined = Api(None)
    answer = joined.post(f"/api/links/{token}", {"username": "p.corr", "password": GOOD})
    assert answer.json()["person"] | {"may": []} == {
        "username": "p.corr", "name": "Pia Corr", "company": lead.company.name, "role": "crew", "may": []}  # fmt: skip
    assert User.objects.get(username="p.corr").company == lead.company
    assert joined.get("/api/installs").status_code == 200
    for again in (Api(None).get(f"/api/links/{token}"), Api(None).post(f"/api/links/{token}", {"password": GOOD})):
        assert (again.status_code, again.json()["code"]) == (404, "link")
    # The link itself is kept nowhere.
    assert token not in json.dumps([*AccessLink.objects.values()], default=str)
    assert not Write.objects.filter(body__contains=token.encode()).exists()


def test_a_link_that_is_over_or_taken_back_serves_no_more(api: Api) -> None:
    for end in ("over", "taken back"):
        token = invited(api)
        link = AccessLink.objects.get(used_at=None, until__gt=timezone.now())
        if end == "over":
            AccessLink.objects.filter(id=link.id).update(until=timezone.now() - timedelta(seconds=1))
        else:
            assert api.post(f"/api/people/links/{link.id}/withdrawal").json()["links"] == []
        assert Api(None).post(f"/api/links/{token}", {"username": "p.corr", "password": GOOD}).status_code == 404
    assert not User.objects.filter(username="p.corr").exists()


def test_who_has_left_is_out_at_once_and_what_they_did_stays(api: Api, crew: User, install: str) -> None:
    there, _ = signed_in("crew")
    there.token = there.client.get("/api/session").json()["csrf_token"]
    noted = there.post(f"/api/installs/{install}/open-items", {"text": "A bushing", "owner": "Odo", "due": None})
    assert noted.status_code == 200
    left = api.post(f"/api/people/{crew.id}/leaving").json()["people"]
    assert [one["active"] for one in left if one["id"] == crew.id] == [False]
    assert there.get("/api/installs").status_code == 401
    assert signed_in("crew")[1].status_code == 422
    assert "A bushing" in api.get(f"/api/installs/{install}/record").content.decode()
    api.post(f"/api/people/{crew.id}/return")
    assert signed_in("crew")[1].status_code == 200


def test_a_company_keeps_a_lead_and_is_reached_into_by_nobody(api: Api, lead: User, crew: User, stranger: User) -> None:
    for path, body in ((f"/api/people/{lead.id}/leaving", {}), (f"/api/people/{lead.id}/role", {"role": "crew"})):
        assert (refused := api.post(path, body)).status_code == 409
        assert refused.json()["code"] == "last-lead"
    assert api.post(f"/api/people/{crew.id}/role", {"role": "lead"}).status_code == 200
    assert api.post(f"/api/people/{lead.id}/role", {"role": "reader"}).status_code == 200
    assert api.get("/api/people").status_code == 403, "a role counts at once"
    for end, body in (("leaving", {}), ("role", {"role": "reader"}), ("reset", {}), ("return", {})):
        assert Api(stranger).post(f"/api/people/{crew.id}/{end}", body).status_code == 404
    assert [one["username"] for one in Api(stranger).get("/api/people").json()["people"]] == ["stranger"]


def test_a_new_password_by_link_ends_every_session(api: Api, crew: User) -> None:
    old, _ = signed_in("crew")
    first = api.post(f"/api/people/{crew.id}/reset").json()["token"]
    second = api.post(f"/api/people/{crew.id}/reset").json()["token"]
    assert Api(None).get(f"/api/links/{first}").status_code == 404, "the newest alone serves"
    assert Api(None).get(f"/api/links/{second}").json()["username"] == "crew"
    assert Api(None).post(f"/api/links/{second}", {"password": GOOD}).status_code == 200
    assert old.get("/api/installs").status_code == 401
    assert signed_in("crew")[1].status_code == 422
    assert signed_in("crew", GOOD)[1].status_code == 200


def test_a_code_is_asked_for_is_good_once_and_spare_codes_too(crew: User, monkeypatch: pytest.MonkeyPatch) -> None:
    """RFC 6238: 30 s a step, the steps beside this one are taken, none twice."""
    now = [1_800_000_000]
    monkeypatch.setattr(factor.time, "time", lambda: now[0])
    mine, _ = signed_in("crew")
    mine.token = mine.client.get("/api/session").json()["csrf_token"]
    assert mine.post("/api/account/code", {"password": "wrong"}).json()["errors"][0]["field"] == "old"
    made = mine.post("/api/account/code", {"password": PASSWORD}).json()
    assert "<svg" in made["picture"]
    clock = pyotp.TOTP(made["secret"])
    assert signed_in("crew")[1].status_code == 200, "not confirmed it counts for nothing"
    assert mine.post("/api/account/code/confirmation", {"code": "000000"}).json()["code"] == "wrong-code"
    spare = mine.post("/api/account/code/confirmation", {"code": clock.at(now[0])}).json()["codes"]
    assert signed_in("crew")[1].json()["code"] == "code"
    assert signed_in("crew", code=clock.at(now[0]))[1].json()["code"] == "wrong-code", "used already"
    assert signed_in("crew", code=clock.at(now[0] + 90))[1].json()["code"] == "wrong-code"
    now[0] += 60
    assert signed_in("crew", code=clock.at(now[0] - 30))[1].status_code == 200, "a clock half a minute behind"
    assert signed_in("crew", code=spare[0])[1].status_code == 200
    assert signed_in("crew", code=spare[0])[1].json()["code"] == "wrong-code"
    kept = json.dumps([*SecondFactor.objects.values("spare")])
    assert spare[1] not in kept
    assert mine.post("/api/account/code/removal", {"password": PASSWORD}).json()["code"] is False
    assert signed_in("crew")[1].status_code == 200


def test_wrong_codes_rest_like_wrong_passwords(crew: User) -> None:
    secret = pyotp.random_base32()
    SecondFactor.objects.create(user=crew, company=crew.company, secret=secret, confirmed_at=timezone.now())
    answers = [signed_in("crew", code="000000")[1].status_code for _ in range(6)]
    assert answers[-1] == 429


def test_ones_own_sessions_are_listed_and_ended(crew: User) -> None:
    here, _ = signed_in("crew")
    there, _ = signed_in("crew")
    here.token = here.client.get("/api/session").json()["csrf_token"]
    listed = here.get("/api/account").json()["sessions"]
    assert sorted(one["here"] for one in listed) == [False, True]
    other = next(one for one in listed if not one["here"])
    assert len(here.post(f"/api/account/sessions/{other['id']}/end").json()["sessions"]) == 1
    assert there.get("/api/installs").status_code == 401
    assert here.post(f"/api/account/sessions/{other['id']}/end").status_code == 404
    answer = here.post("/api/account/password", {"old": PASSWORD, "password": GOOD})
    assert answer.status_code == 200
    assert here.get("/api/installs").status_code == 200, "who changed it stays signed in"
    assert SignedIn.objects.filter(user=crew).count() == 1


def test_the_trail_tells_who_saw_and_changed_what(api: Api, crew: User, install: str, stranger: User) -> None:
    mine = Api(crew)
    for _ in range(3):
        mine.get(f"/api/installs/{install}")
    mine.get(f"/api/installs/{install}/record.pdf")
    mine.post(f"/api/installs/{install}/open-items", {"text": "A secret", "owner": "Odo", "due": None})
    rows = api.get(f"/api/trail?about={install}").json()["rows"]
    assert [(row["name"], row["did"]) for row in rows] == [
        ("Crew", "changed: open-items"), ("Crew", "printed: record.pdf"), ("Crew", "saw")]  # fmt: skip
    assert "A secret" not in json.dumps(rows)
    assert Api(stranger).get(f"/api/trail?about={install}").json()["rows"] == []
    assert mine.get("/api/trail").status_code == 403
    for spoil in (TrailEntry.objects.all().delete, lambda: TrailEntry.objects.update(did="nothing")):
        with pytest.raises(DatabaseError, match="append-only"), transaction.atomic():
            spoil()


def test_a_name_is_one_for_all_companies_however_it_is_written(api: Api, db: None) -> None:
    make_person(Company.objects.create(name="Elsewhere"), "p.corr", Role.LEAD)
    token = invited(api)
    told = Api(None).post(f"/api/links/{token}", {"username": "P.Corr", "password": GOOD}).json()["errors"]
    assert told[0]["message"] == "is taken"
