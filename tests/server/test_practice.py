"""Practice: somebody's own, judged by the core, and coming again when it is due."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from accounts.models import User
from django.utils import timezone
from practice.models import PracticeAnswer, PracticeCard, PracticeRound
from records.models import Reading

from tests.server.conftest import Api

pytestmark = pytest.mark.django_db


def _right(task: dict[str, Any]) -> dict[str, Any]:
    """The right answer to a round, out of the round itself."""
    level = task["level"]
    if level == "size":
        return {"figures": {each["id"]: each["right"] for each in task["asked"]}}
    if level == "land":
        return {"landed": {wire["id"]: {"a": wire["a"], "b": wire["b"]} for wire in task["wires"]}}
    if level == "runs":
        return {"chosen": task["runs"]}
    if level == "fault":
        every = [[state, lead] for state in range(len(task["states"])) for lead in range(-1, len(task["leads"]))]
        return {"readings": every, "named": task["hidden"], "opened": task["mend"]["safe"][0]}
    return {"order": _order(task), "opened": task.get("mend", {}).get("safe", [[]])[0]}


def _order(task: dict[str, Any]) -> list[str]:
    done: list[str] = []
    while len(done) < len(task["steps"]):
        done += [step["id"] for step in task["steps"]
                 if step["id"] not in done and set(task["needs"][step["id"]]) <= set(done)][:1]  # fmt: skip
    return done


def _topic(one: dict[str, Any]) -> str:
    return PracticeRound.objects.get(id=one["id"]).topic


@pytest.fixture
def mine(crew: User) -> Api:
    return Api(crew)


def test_a_day_holds_a_few_rounds_and_each_right_answer_lets_its_topic_rest(mine: Api) -> None:
    rested = set()
    for _ in range(4):
        due = mine.get("/api/practice").json()["due"]
        if not due:
            break
        one = due[0]
        task = mine.get(f"/api/practice/rounds/{one['id']}").json()["task"]
        told = mine.post(f"/api/practice/rounds/{one['id']}/answers", {"answer": _right(task)}).json()
        assert told["right"], told
        assert _topic(one) not in rested
        rested.add(_topic(one))
    out = mine.get("/api/practice").json()
    assert (len(rested), out["answered"], out["due"]) == (4, 4, [])
    assert out["next"] > timezone.now().isoformat()
    assert [level["level"] for level in out["levels"] if level["rounds"]] == ["size", "land", "runs", "fault"]


def test_what_was_wrong_comes_again_within_minutes_as_another_round(mine: Api) -> None:
    one = mine.get("/api/practice").json()["due"][0]
    answers = f"/api/practice/rounds/{one['id']}/answers"
    assert mine.post(answers, {"answer": {}}).json()["right"] is False
    card = PracticeCard.objects.get(topic=_topic(one))
    assert timezone.now() < card.due < timezone.now() + timedelta(minutes=20)
    # Answered a second time it is told again, and counts no second time.
    mine.post(answers, {"answer": {}})
    assert PracticeAnswer.objects.filter(topic=_topic(one)).count() == 1
    PracticeCard.objects.update(due=timezone.now())
    again = mine.get("/api/practice").json()["due"][0]
    assert (_topic(again), again["id"] == one["id"]) == (_topic(one), False)


def test_what_the_crew_gets_wrong_comes_first(mine: Api, crew: User, install: str) -> None:
    def first_fault() -> str:
        PracticeRound.objects.all().delete()
        return next(_topic(one) for one in mine.get("/api/practice").json()["due"] if one["level"] == "fault")

    assert first_fault() == "fault/swap"
    Reading.objects.bulk_create(
        Reading(company=crew.company, install_id=install, author=crew, key=f"x{n}", value=1, unit="MΩ",
                basis="", revision=1, verdict="outside", noted_at=timezone.now())
        for n in range(9)
    )  # fmt: skip
    assert first_fault() == "fault/bridge"


def test_how_it_goes_is_seen_by_nobody_else_until_it_is_shared(mine: Api, api: Api, stranger: User) -> None:
    one = mine.get("/api/practice").json()["due"][0]
    mine.post(f"/api/practice/rounds/{one['id']}/answers", {"answer": {}})
    assert api.get("/api/practice").json()["answered"] == 0
    assert api.get("/api/practice/shared").json() == []
    assert "practice" not in api.get("/api/trail").content.decode()
    assert Api(stranger).get(f"/api/practice/rounds/{one['id']}").status_code == 404
    assert mine.post("/api/practice/sharing", {"on": True}).json()["shared"]
    (shared,) = api.get("/api/practice/shared").json()
    assert sum(level["rounds"] for level in shared["levels"]) == 1
    assert Api(stranger).get("/api/practice/shared").json() == []
    assert mine.get("/api/practice/shared").status_code == 403
    out = mine.post("/api/practice/forgetting", {}).json()
    assert (out["answered"], out["shared"]) == (0, False)
    assert api.get("/api/practice/shared").json() == []
