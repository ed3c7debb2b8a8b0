"""Weeks for the tests and the benchmark."""

from __future__ import annotations

from typing import Any

from leitung_core.plan.model import read_plan
from leitung_core.plan.patch import merge
from leitung_core.result import check_and_brief
from leitung_core.worklist.as_week import Bounds, between, week_tasks
from leitung_demo import kiosk, loft, museum, workshop

Json = dict[str, Any]
DAYS = ["2026-12-07", "2026-12-08", "2026-12-09", "2026-12-10", "2026-12-11"]
PEOPLE = [
    {"id": "odo", "skills": ["licensed", "installer"], "off": [{"day": DAYS[1], "from": "12:00", "to": "16:00"}]},
    {"id": "ines", "skills": ["licensed", "installer"]},
    {"id": "wyn", "skills": ["installer", "apprentice"]},
    {"id": "pia", "skills": ["installer", "apprentice"], "off": [{"day": DAYS[4], "from": "07:00", "to": "16:00"}]},
    {"id": "tam", "skills": ["apprentice"]},
]


def installs_week() -> Json:
    """The demo's four installs as their plans have them, in one week."""
    off = {"museum": {"MP": (3, "12:00", "16:00")}, "workshop": {"PA": (3, "07:00", "12:00")},
           "kiosk": {"PA": (4, "07:00", "12:00")}}  # fmt: skip
    lists = {}
    for name, plan in {"museum": museum(), "workshop": workshop(), "loft": loft(), "kiosk": kiosk()}.items():
        windows = {source: {"power_off": [{"day": DAYS[day], "begins": begins, "ends": ends}]}
                   for source, (day, begins, ends) in off.get(name, {}).items()}  # fmt: skip
        lists[name] = check_and_brief(read_plan(merge(plan, {"sources": windows})))[1].work.tasks
    rows = list(week_tasks(lists, {}, Bounds(DAYS)))
    assert {row["site"] for row in rows if "windows" in row} == set(off)
    ways = {"museum": 30, "workshop": 25, "loft": 15, "kiosk": 20}
    return {"days": DAYS, "from": "07:00", "to": "16:00", "people": PEOPLE, "travel_min": between(ways), "tasks": rows}


def crew_week() -> Json:
    """Four installs, five people, three windows: each install roughed in, landed, wired at the panel while the power
    may be off, started up, its soft starter left to learn, proved.
    """
    windows = {
        "museum": {"day": DAYS[1], "from": "08:00", "to": "11:00"},
        "kiosk": {"day": DAYS[2], "from": "13:00", "to": "16:00"},
        "loft": {"day": DAYS[3], "from": "07:00", "to": "12:00"},
    }  # fmt: skip
    tasks: list[Json] = []
    for site, factor in (("museum", 1.5), ("kiosk", 0.6), ("loft", 1.0), ("bindery", 1.0)):

        def task(name: str, minutes: float, skills: list[str], *after: Json, site: str = site, **more: Any) -> None:
            tasks.append({"id": f"{site}.{name}", "site": site, "minutes": int(minutes), "skills": skills,
                          "after": list(after), **more})  # fmt: skip

        def before(name: str, wait: int = 0, site: str = site) -> Json:
            return {"task": f"{site}.{name}", "wait_min": wait}

        power_off = {"windows": [windows[site]]} if site in windows else {}
        task("rough", 180 * factor, ["installer", "apprentice"])
        task("pull", 120 * factor, ["installer", "apprentice"], before("rough"))
        task("land", 90 * factor, ["installer"], before("pull"))
        task("panel", 60 * factor, ["licensed"], before("pull"), **power_off)
        task("start", 60 * factor, ["licensed"], before("panel"), before("land"))
        task("prove", 45 * factor, ["licensed", "installer"], before("start", 30))
    travel = [{"a": "shop", "b": site, "min": way} for site, way in
              (("museum", 30), ("kiosk", 20), ("loft", 15), ("bindery", 25))]  # fmt: skip
    travel += [{"a": "museum", "b": "kiosk", "min": 25}, {"a": "museum", "b": "loft", "min": 20},
               {"a": "museum", "b": "bindery", "min": 10}, {"a": "kiosk", "b": "loft", "min": 15},
               {"a": "kiosk", "b": "bindery", "min": 20}, {"a": "loft", "b": "bindery", "min": 20}]  # fmt: skip
    return {"days": DAYS, "from": "07:00", "to": "16:00", "people": PEOPLE, "travel_min": travel, "tasks": tasks}
