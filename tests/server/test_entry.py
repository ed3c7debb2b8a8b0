"""What people say and bring over the API: shown before it is kept, refused with what is wrong."""

from __future__ import annotations

import base64
from typing import Any

import pytest
from accounts.models import User

from tests.server.conftest import Api

pytestmark = pytest.mark.django_db
SCHEDULE = "ROOFTOP UNIT SCHEDULE,,,,\nMARK,VOLTS,PH,MCA,MOCP\nRTU-1,208,3,41.2,50\nRTU-2,208,3,note 4,30\n"


def say(api: Api, install: str, text: str) -> Any:
    return api.post(f"/api/installs/{install}/entry/sentence", {"text": text})


def bring(api: Api, install: str, raw: bytes, name: str = "schedule.csv") -> Any:
    body = {"name": name, "base64": base64.b64encode(raw).decode()}
    return api.post(f"/api/installs/{install}/entry/schedule", body)


def change(api: Api, install: str, base: int, patch: dict[str, Any]) -> Any:
    return api.post(f"/api/installs/{install}/patches", {"base_revision": base, "patch": patch})


def test_a_sentence_is_shown_first_and_drawn_when_it_is_taken(api: Api, install: str) -> None:
    shown = say(api, install, "UH-7 unit heater 5 kW 240V 1ph, 40 ft interior, painted green").json()
    assert [piece["text"].strip(" ,") for piece in shown["pieces"] if not piece["understood"]][-1] == "painted green"
    assert "".join(piece["text"] for piece in shown["pieces"]).startswith("UH-7 unit heater")
    assert (shown["left"], shown["brought"]["drawn"]) == (["painted green"], ["UH-7"])
    assert api.get(f"/api/installs/{install}").json()["install"]["revision"] == 1, "nothing is kept yet"
    after = change(api, install, 1, shown["brought"]["patch"]).json()
    assert after["result"]["circuits"]["UH-7"]["running_a"] == pytest.approx(20.8333, abs=1e-3)


def test_half_a_sentence_is_no_mistake(api: Api, install: str) -> None:
    answer = say(api, install, "hmm")
    assert answer.status_code == 200
    assert answer.json()["brought"]["drawn"] == []


def test_a_schedule_is_shown_with_its_errors_and_drawn(api: Api, install: str) -> None:
    shown = bring(api, install, SCHEDULE.encode()).json()
    assert shown["brought"]["drawn"] == ["RTU-1", "RTU-2"]
    assert [(row["row"], row["column"], row["value"]) for row in shown["errors"]] == [(4, "MCA", "note 4")]
    after = change(api, install, 1, shown["brought"]["patch"]).json()
    assert after["document"]["equipment"]["RTU-2"]["nameplate"] == {"volts": "208", "phase": 3, "max_ocpd_a": 30}
    again = bring(api, install, SCHEDULE.encode()).json()
    assert (again["brought"]["drawn"], again["brought"]["updated"]) == ([], ["RTU-1", "RTU-2"])


@pytest.mark.parametrize("raw", [b"\x00\x01\x02\x03" * 20, b"no,headings,here\n1,2,3\n", b"PK\x03\x04 broken"])
def test_a_file_that_is_no_schedule_is_refused_with_its_remedy(api: Api, install: str, raw: bytes) -> None:
    answer = bring(api, install, raw)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["remedy"]


def test_a_reader_reads_and_another_company_finds_nothing(reader: User, stranger: User, install: str) -> None:
    assert say(Api(reader), install, "UH-7 heater 5 kW").status_code == 200
    assert say(Api(stranger), install, "UH-7 heater 5 kW").status_code == 404


def test_quantities_are_typed_as_they_are_said(api: Api, install: str) -> None:
    typed = {
        "circuits": {"MS-1": {"run": {"s1": {"length_ft": "24 m", "ambient_c": "95F"}}, "ocpd": {"rating_a": "15 A"}}}
    }
    after = change(api, install, 1, typed).json()["document"]["circuits"]["MS-1"]
    assert (after["run"]["s1"]["length_ft"], after["run"]["s1"]["ambient_c"]) == (78.7402, 35)
    refused = change(api, install, 2, {"circuits": {"MS-1": {"run": {"s1": {"length_ft": "a long way"}}}}})
    assert refused.status_code == 422
    (problem,) = refused.json()["errors"]
    assert (problem["field"], problem["value"]) == ("circuits.MS-1.run.s1.length_ft", "a long way")
    assert "80 ft" in problem["remedy"]


def test_more_like_one_is_a_sentence_too(api: Api, install: str) -> None:
    shown = say(api, install, "like MS-1 x 2").json()
    assert shown["brought"]["drawn"] == ["MS-2", "MS-3"]
    after = change(api, install, 1, shown["brought"]["patch"]).json()
    assert after["result"]["circuits"]["MS-3"]["ocpd_a"] == after["result"]["circuits"]["MS-1"]["ocpd_a"]
    refused = say(api, install, "like ZZ-9")
    assert (refused.status_code, refused.json()["errors"][0]["remedy"]) == (422, "Units here: MS-1, MS-2, MS-3.")


def test_every_install_says_how_each_station_stands(api: Api, install: str) -> None:
    answer = api.get(f"/api/installs/{install}").json()
    shown = answer["result"]["stations"] + answer["install"]["recorded"]
    assert [entry["id"] for entry in shown] == [
        "site",
        "lines",
        "landings",
        "bench",
        "supply",
        "load-out",
        "start-up",
        "handover",
    ]
    stops = [row["key"] for row in answer["result"]["findings"] if row["severity"] == "stop"]
    assert {key for entry in shown if entry["state"] == "stop" for key in entry["findings"]} >= set(stops)
