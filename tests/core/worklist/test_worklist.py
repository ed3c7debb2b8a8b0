"""The work list: every step in one task, in an order that keeps what each needs; what an install has otherwise."""

from __future__ import annotations

from typing import Any

import networkx as nx
import pytest
from hypothesis import given, settings
from leitung_core.errors import InputError
from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_and_brief
from leitung_core.result.brief import Brief
from leitung_core.week.document import read_week
from leitung_core.week.plan import plan_week
from leitung_core.worklist.as_week import MOST_MIN, Bounds, between, parts, task_key, week_tasks, without_window
from leitung_core.worklist.ranges import Range
from leitung_core.worklist.tasks import WorkList, WorkTask
from leitung_core.worklist.total import by_trade, hands
from leitung_core.worklist.written import read_work, write_work
from leitung_demo import museum

from tests.core.result.plans import plans

Json = dict[str, Any]


def brief(plan: Json) -> Brief:
    return check_and_brief(read_plan(plan))[1]


def work_list_of(plan: Json) -> WorkList:
    return brief(plan).work


def listed(plan: Json) -> dict[str, WorkTask]:
    return {task.key: task for task in brief(plan).work.tasks}


@settings(max_examples=25, deadline=None)
@given(plans())
def test_every_step_is_in_one_task_and_no_task_comes_before_what_it_needs(plan: Json) -> None:
    found = brief(plan)
    steps = [key for task in found.work.tasks for key in task.steps]
    assert sorted(steps) == sorted(step.key for step in found.start_up.steps)
    order = nx.DiGraph((one.task, task.key) for task in found.work.tasks for one in task.after)
    order.add_nodes_from(task.key for task in found.work.tasks)
    assert nx.is_directed_acyclic_graph(order)
    place = {task.key: number for number, task in enumerate(found.work.tasks)}
    of_step = {key: task.key for task in found.work.tasks for key in task.steps}
    reached = nx.transitive_closure(order)
    for step in found.start_up.steps:
        mine = of_step[step.key]
        for need in step.needs:
            assert of_step[need] == mine or reached.has_edge(of_step[need], mine), (need, step.key)
            assert place[of_step[need]] <= place[mine]
    for task in found.work.tasks:
        assert 0 < task.minutes.low <= task.minutes.likely <= task.minutes.high
        assert task.people


def test_the_museums_list_by_hand() -> None:
    """Ten lines with a unit; main and vault panel are off together, as the one feeds the other."""
    tasks = listed(museum())
    assert {key for key in tasks if key.startswith("rough-")} - {"rough-in"} == {
        f"rough-{line}" for line in ("RT-1", "AH-1", "DH-1", "CP-1", "SH-1", "UH-1", "MS-1", "UH-2", "RU-1", "RU-2")
    }  # fmt: skip
    assert tasks["panel-MP"].needs_off == ["MP", "VP"]
    assert "panel-VP" not in tasks
    # A roof unit takes two who can carry, and a lift; a heater on the wall does not.
    assert (tasks["rough-RT-1"].people, tasks["rough-RT-1"].access) == (["installer", "installer"], ["roof", "lift"])
    assert (tasks["rough-UH-1"].people, tasks["rough-UH-1"].access) == (["installer", "apprentice"], [])
    # Nobody stands beside a soft starter that learns: five starts of 30 s and four rests of 5 min are 22.5.
    assert [(one.task, one.wait_min) for one in tasks["run-RU-1"].after] == [("start-RU-1", 22)]
    assert any(key.endswith(".learn") for key in tasks["start-RU-1"].steps)
    assert not any(key.endswith(".learn") for key in tasks["run-RU-1"].steps)
    # What would be closed in waits for the inspection that the site asks for.
    assert {one.task for one in tasks["land-AH-1"].after} == {"rough-in"}


def test_minutes_follow_the_metal() -> None:
    """100 ft more of cable at 0.15, 0.3 and 0.6 min a foot; in raceway at 0.5, 0.9 and 1.8."""
    before = listed(museum())["rough-UH-1"].minutes
    run = museum()["circuits"]["UH-1"]["run"]
    (name, segment), *_ = run.items()
    rate = (0.5, 0.9, 1.8) if segment.get("raceway") else (0.15, 0.3, 0.6)
    longer = {"circuits": {"UH-1": {"run": {name: {"length_ft": segment["length_ft"] + 100}}}}}
    after = listed(merge(museum(), longer))["rough-UH-1"].minutes
    grown = (after.low - before.low, after.likely - before.likely, after.high - before.high)
    assert grown == pytest.approx([100 * one for one in rate], abs=1)
    unknown = {"circuits": {"UH-1": {"run": {name: {"length_ft": None}}}}}
    assert listed(merge(museum(), unknown))["rough-UH-1"].lacks == ["a length of its run"]


def test_what_an_install_has_otherwise() -> None:
    window = {"day": "2026-12-08", "begins": "08:00", "ends": "11:00"}
    plan = merge(museum(), {
        "sources": {"MP": {"power_off": [window]},
                    "VP": {"power_off": [{**window, "begins": "10:00", "ends": "12:00"}]}},
        "work": {
            "rough-UH-1": {"people": ["installer"], "minutes": [30, 90]}, "rough-in": {"left_out": True},
            "own-1": {"text": "Crane", "people": ["installer", "installer"], "after": ["permit"]},
            "rough-RT-1": {"after": ["own-1"]}, "final": {"after": ["nothing"]},
        },
    })  # fmt: skip
    tasks = listed(plan)
    assert (tasks["rough-UH-1"].people, tasks["rough-UH-1"].minutes.likely) == (["installer"], 60)
    assert "rough-in" not in tasks
    # What awaited the inspection awaits what came before it.
    assert "rough-UH-1" in {one.task for one in tasks["land-UH-1"].after}
    assert [one.task for one in tasks["own-1"].after] == ["permit"]
    assert "own-1" in {one.task for one in tasks["rough-RT-1"].after}
    assert tasks["final"].lacks == ["what is nothing, which it comes after?"]
    # Both panels are off at once: where both windows hold.
    assert tasks["panel-MP"].windows is not None
    assert [(one.day, one.from_, one.to) for one in tasks["panel-MP"].windows] == [("2026-12-08", "10:00", "11:00")]


def test_a_list_becomes_a_week() -> None:
    tasks = list(listed(museum()).values())
    days = ["2026-12-07", "2026-12-08", "2026-12-09", "2026-12-10"]
    rows = list(week_tasks({"m": tasks}, {"m": ["permit"]}, Bounds(days)))
    assert "m.permit" not in {row["id"] for row in rows}
    assert {task_key(row["id"].partition(".")[2]) for row in rows} == {task.key for task in tasks} - {"permit"}
    assert all(row["minutes"] <= MOST_MIN and row["minutes"] % 5 == 0 for row in rows)
    for task in tasks:
        assert sum(length for _, length in parts(task)) >= task.minutes.likely
    hands = [{"id": f"h{number}", "skills": ["licensed", "installer", "apprentice"]} for number in range(4)]
    document = {"days": days, "from": "07:00", "to": "16:00", "people": hands, "tasks": rows}
    found = plan_week(read_week(document | {"travel_min": between({"m": 30, "k": 20})}), limit_s=4)
    assert {row.task for row in found.assignments} == {row["id"] for row in rows}
    closed = merge(
        museum(), {"sources": {"OP": {"power_off": [{"day": "2027-01-04", "begins": "08:00", "ends": "09:00"}]}}}
    )
    assert without_window(week_tasks({"m": list(listed(closed).values())}, {}, Bounds(days))) == ["m.panel-OP"]


def test_weather_and_what_is_not_delivered_yet_bound_a_task() -> None:
    """The rooftop unit's roughing is outdoors; its material comes on Tuesday at ten; Wednesday is wet."""
    tasks, days = listed(museum()), ["2026-12-07", "2026-12-08", "2026-12-09"]
    bounds = Bounds(days, wet=["2026-12-09"], material={"m": ("2026-12-08", "10:00")})
    roof = bounds.windows("m", tasks["rough-RT-1"])
    assert roof is not None
    assert [(one.day, one.from_, one.to) for one in roof] == [("2026-12-08", "10:00", "16:00")]
    indoors = bounds.windows("m", tasks["rough-UH-1"])
    assert indoors is not None
    assert [(one.day, one.from_) for one in indoors] == [("2026-12-08", "10:00"), ("2026-12-09", "07:00")]
    assert bounds.windows("m", tasks["permit"]) is None
    assert bounds.windows("elsewhere", tasks["rough-UH-1"]) is None


def test_what_many_tasks_come_to_by_hand() -> None:
    """Two of a kind by two hands: 2 x (60 to 120 to 240) twice is 4 to 8 h less 4 and 8 more; another kind 1 to 2 to 5.

    Likely 8 + 2 h; below 4 and 1: sqrt(17) = 4.1; above 8 and 3: sqrt(73) = 8.5.
    """
    rough = WorkTask(key="a", kind="rough", text="", about=[], people=["installer", "apprentice"],
                     minutes=Range(low=60, likely=120, high=240))  # fmt: skip
    start = WorkTask(key="c", kind="start", text="", about=[], people=["licensed"],
                     minutes=Range(low=60, likely=120, high=300))  # fmt: skip
    tasks = [rough, rough.model_copy(update={"key": "b"}), start]
    found = hands(tasks)
    assert (round(found.low, 1), found.likely, round(found.high, 1)) == (5.9, 10, 18.5)
    assert {skill: hours.likely for skill, hours in by_trade(tasks).items()} == {
        "licensed": 2, "installer": 4, "apprentice": 4,
    }  # fmt: skip


def test_the_list_as_text_goes_out_and_comes_back() -> None:
    """Unchanged it says nothing. Changed: who, how long, what comes first, words; a line gone, a line more."""
    found = work_list_of(museum())
    text = write_work(found, {})
    assert read_work(text, found, {}) == {}
    lines = {line.partition("|")[0].strip(): line for line in text.splitlines()}
    lines["rough-UH-1"] = "rough-UH-1 | licensed + apprentice | 1 h to 90 min | permit | Hang the heater"
    del lines["permit"]
    text = "\n".join([*lines.values(), "| installer | 30 min | rough-UH-1 | The hour of a crane"])
    with pytest.raises(InputError) as refused:
        read_work(text, found, {})
    assert [(one.field, one.value) for one in refused.value.problems] == [("after", "permit")]
    text = text.replace("90 min | permit |", "90 min | |")
    change = read_work(text, found, {})
    assert change == {
        "rough-UH-1": {"people": ["licensed", "apprentice"], "minutes": [60, 90], "text": "Hang the heater"},
        "own-1": {"people": ["installer"], "minutes": [30], "after": ["rough-UH-1"], "text": "The hour of a crane"},
        "permit": {"left_out": True},
    }
    plan = merge(museum(), {"work": change})
    changed = work_list_of(plan)
    entered = read_plan(plan).work
    assert {"rough-UH-1"} <= {one.task for task in changed.tasks if task.key == "own-1" for one in task.after}
    again = write_work(changed, entered)
    assert read_work(again, changed, entered) == {}
    without = "\n".join(line for line in again.splitlines() if not line.startswith("own-1"))
    assert read_work(without, changed, entered) == {"own-1": None}


@pytest.mark.parametrize(
    ("line", "field"),
    [
        ("rough-UH-1 | welder | | | x", "line 1, who"), ("nothing | | | | x", "line 1, key"), ("x", "line 1"),
        ("rough-UH-1 | installer | soon | | x", "line 1, minutes"), ("| installer | 5 min | | ", "line 1, what"),
    ],
)  # fmt: skip
def test_a_line_that_cannot_be_meant_is_named(line: str, field: str) -> None:
    with pytest.raises(InputError) as refused:
        read_work(line, work_list_of(museum()), {})
    assert [problem.field for problem in refused.value.problems] == [field]
