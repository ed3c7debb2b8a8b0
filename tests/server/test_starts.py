"""A trial on paper over the API: the core's answer with its picture, refusals by field, nothing kept."""

from __future__ import annotations

import pytest
from leitung_core.starting.open_form import starting

from tests.core.starting.trials import steady, trial, unit
from tests.server.conftest import Api

pytestmark = pytest.mark.django_db


def test_the_answer_is_the_cores_and_the_picture_shows_it(api: Api) -> None:
    document = trial(unit(), steady("oven", 12), source_ohms=0.6)
    found = api.post("/api/starting", document).json()
    told, _ = starting(document)
    assert (found["verdict"], found["ways_out"], found["why"]) == (told["verdict"], told["ways_out"], told["why"])
    (leg,) = found["picture"]["legs"]
    assert [[step["t_s"], round(step["a"], 4)] for step in leg["steps"]] == [
        [row["t_s"], row["leg_a"][0]] for row in told["trace"]
    ]
    assert (leg["rating_a"], leg["may_a"], leg["must_a"]) == (30, 150, 300)
    heat = [at["quick"] for at in leg["heat"]]
    assert (heat[0], max(heat) <= 1, leg["heat"][-1]["t_s"]) == (0, True, found["picture"]["until_s"])


def test_nonsense_names_its_field(api: Api) -> None:
    answer = api.post("/api/starting", trial(steady("oven", 12, 2)))
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "loads.0.leg"


def test_a_log_is_read_and_drawn_small(api: Api) -> None:
    text = "t_s,a\n" + "".join(f"{at / 10},{0 if at < 3000 else 11}\n" for at in range(9000))
    (column,) = api.post("/api/logs", {"csv": text, "rating_a": 30}).json()["columns"]
    assert [(event["kind"], event["at_s"]) for event in column["events"]] == [("step_up", 300)]
    assert len(column["course"]) == 600
    assert (column["course"][0]["most_a"], column["course"][-1]["least_a"]) == (0, 11)
    refused = api.post("/api/logs", {"csv": "t_s,a\n0,1\n1,x\n"})
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "row 3, a")
