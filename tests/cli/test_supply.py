"""`leitung starting` and `leitung log` as they are called."""

from __future__ import annotations

import json

from leitung_demo import museum

from tests.cli.test_commands import run
from tests.cli.test_networks import answer
from tests.core.starting.trials import steady, trial, unit


def test_trials_by_the_contract() -> None:
    good, bad = trial(unit()), trial(unit(), source_ohms=0.6)
    found = answer("starting", "-", "--json", stdin=json.dumps(good))
    assert found.keys() == {"verdict", "why", "legs", "supply", "trace", "ways_out", "findings"}
    both = answer("starting", "-", "--json", stdin=json.dumps([good, bad]), code=1)
    assert [row["verdict"] for row in both] == ["starts", "stalls"]
    assert both[0] == found
    said = run("starting", "-", stdin=json.dumps(bad))
    assert said.returncode == 1
    assert "it may not come up" in said.stdout
    wrong = run("starting", "-", stdin=json.dumps([good, trial(steady("a", 5, 2))]))
    assert (wrong.returncode, "[1].loads.0.leg" in wrong.stderr) == (2, True)


def test_logs_by_the_contract(tmp_path_factory: object) -> None:
    text = "t_s,a\n" + "".join(f"{at / 10},{0 if at < 100 else 11}\n" for at in range(300))
    (column,) = answer("log", "-", "--json", "--rating", "30", stdin=text)["columns"]
    assert column.keys() == {"column", "samples", "span_s", "step_s", "gaps", "noise_a", "levels", "events", "findings"}
    (event,) = column["events"]
    assert (event["kind"], event["at_s"], event["settled_a"], event["likely"]) == ("step_up", 10, 11, [])
    refused = run("log", "-", "--json", stdin="t_s,a\n0,1\n1,x\n")
    assert (refused.returncode, "row 3, a" in refused.stderr) == (2, True)
    assert run("log", "-", "--plan", "x.json", stdin=text).returncode == 2


def test_a_log_of_a_line_of_the_plan(tmp_path: object) -> None:
    plan = f"{tmp_path}/museum.json"
    with open(plan, "w", encoding="utf-8") as file:
        json.dump(museum(), file)
    running = museum()["equipment"]["RU-1"]["nameplate"]["compressors"][0]["rla_a"]
    text = "t_s,a\n" + "".join(f"{at / 10},{0 if at < 100 else running}\n" for at in range(300))
    (column,) = answer("log", "-", "--json", "--plan", plan, "--circuit", "RU-1", stdin=text)["columns"]
    assert column["events"][0]["likely"][0]["part"] == "compressor"
    unknown = run("log", "-", "--plan", plan, "--circuit", "RU-9", stdin=text)
    assert (unknown.returncode, "RU-9" in unknown.stderr) == (2, True)


def test_lock_out_by_the_contract(tmp_path: object) -> None:
    plan = f"{tmp_path}/museum.json"
    with open(plan, "w", encoding="utf-8") as file:
        json.dump(museum(), file)
    found = answer("lockout", plan, "--touch", "IU-1", "--touch", "OU-1.power", "--json")
    assert found.keys() == {"open", "also", "stays_live", "cautions", "proved", "states"}
    assert [(row["device"], row["kind"]) for row in found["open"]] == [("D-MS1", "disconnect")]
    assert found["open"][0]["why"]
    assert found["proved"]
    refused = run("lockout", plan, "--touch", "XX-1")
    assert (refused.returncode, "XX-1" in refused.stderr) == (2, True)
