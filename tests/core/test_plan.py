"""A plan: checked like the size document it holds, its fixes patch the plan, its start-up follows from it."""

from __future__ import annotations

from typing import Any

import pytest
from leitung_core.circuits import size_document
from leitung_core.commissioning.judge import judge_reading, say_verdict
from leitung_core.commissioning.startup import start_up
from leitung_core.commissioning.steps import StartUp
from leitung_core.control.system import systems_of
from leitung_core.plan.model import dump_plan, read_plan
from leitung_core.plan.patch import merge
from leitung_core.plant.plant import Plant
from leitung_core.result import PlanResult, check_and_brief, check_plan
from leitung_core.result.progress import Progress, Recorded, progress
from leitung_core.sizing import size_all
from leitung_demo import kiosk, museum, workshop

OCPD = {"circuits": {"MS-1": {"ocpd": {"spaces": [14, 16]}}}}


def checked(plan: dict[str, Any], patch: dict[str, Any] | None = None) -> PlanResult:
    return check_plan(read_plan(merge(plan, patch or {})))


def started(plant: Plant) -> StartUp:
    return start_up(plant, systems_of(plant), size_all(plant))


def _plant(plan: dict[str, Any]) -> Plant:
    return Plant(read_plan(plan))


def line(**more: Any) -> dict[str, Any]:
    return {"circuits": {"MS-1": more}}


def test_a_plan_gives_the_numbers_of_its_size_document() -> None:
    plan = workshop()
    circuit, unit = plan["circuits"]["MS-1"], plan["equipment"]["OU-1"]
    drop = ("order", "name")
    run = [
        {k: v for k, v in s.items() if k not in drop} for s in sorted(circuit["run"].values(), key=lambda s: s["order"])
    ]
    doc = {
        "occupancy": "commercial",
        "permit_date": plan["site"]["permit_date"],
        "supply": {"volts": 240, "phase": 1, "volts_to_ground": 120},
        "equipment": {"kind": unit["kind"], "nameplate": unit["nameplate"]},
        "run": run,
        "proposed": {
            "ocpd_a": 15, "ocpd_type": "breaker", "disconnect_a": 30, "disconnect_type": "nonfused",
            "disconnect_in_sight": True, "disconnect_distance_ft": 5, "receptacle_distance_ft": 12,
        },
    }  # fmt: skip
    alone, within = size_document(doc), checked(plan).circuits["MS-1"]
    places = {"segments": {"__all__": {"about"}}, "alternatives": {"__all__": {"patch"}}}
    places |= {"findings": {"__all__": {"about", "fix"}}}
    assert within.model_dump(exclude=places) == alone.model_dump(exclude=places)


def test_the_demo_mistake_is_found_and_one_action_clears_it() -> None:
    plan = workshop()
    (stop,) = [finding for finding in checked(plan).findings if finding.severity == "stop"]
    assert (stop.code, stop.about) == ("nm-wet", "circuits/MS-1/run/s2/method")
    assert stop.fix == {"circuits": {"MS-1": {"run": {"s2": {"method": "THWN-2", "raceway": "LFNC"}}}}}
    assert checked(plan, stop.fix).findings == []


@pytest.mark.parametrize(
    ("patch", "code"),
    [
        (line(ocpd={"spaces": None}), "spaces-missing"),
        (line(ocpd={"spaces": [14]}), "spaces-count"),
        (line(ocpd={"spaces": [14, 15]}), "spaces-legs"),
        (line(ocpd={"spaces": [30, 32]}), "space-outside"),
        ({"circuits": {"X": {"source": "PA", "ocpd": {"spaces": [12, 14]}}}}, "space-taken"),
    ],
)
def test_spaces_and_their_fix(patch: dict[str, Any], code: str) -> None:
    plan = merge(kiosk(), OCPD)
    found = [finding for finding in checked(plan, patch).findings if finding.code == code]
    assert len(found) == 1
    assert found[0].fix is not None
    after = checked(merge(plan, patch), found[0].fix)
    assert code not in [finding.code for finding in after.findings]


def test_a_line_without_unit_or_source_is_a_finding() -> None:
    plan = kiosk()
    found = [f.code for f in checked(plan, line(equipment=None)).findings]
    assert set(found) == {"equipment-missing", "load-incomplete"}
    assert {"source-missing", "supply-missing"} <= {f.code for f in checked(plan, line(source=None)).findings}


def test_a_plan_survives_its_own_file() -> None:
    plan = read_plan(workshop())
    assert read_plan(dump_plan(plan)) == plan


@pytest.mark.parametrize(
    ("value", "verdict"),
    [(246.5, "within"), (187.2, "within"), (253.0, "within"), (187.1, "outside"), (253.1, "outside")],
)
def test_line_to_line_is_judged_by_the_plate(value: float, verdict: str) -> None:
    """208/230 V: 10 % below 208 is 187.2 V, 10 % above 230 is 253.0 V, worked by hand."""
    point = started(_plant(workshop())).readings[0]
    assert (point.key, point.low, point.high) == ("MS-1.L1-L2", 187.2, 253.0)
    assert judge_reading(point, value) == verdict
    said = "Within" if verdict == "within" else "Below" if value < 220 else "Above"
    assert said in say_verdict(point, value)
    assert ("Switch off" in say_verdict(point, value)) == (verdict == "outside")


def test_a_marked_range_wins_and_no_plate_means_not_judged() -> None:
    ranged = {"equipment": {"OU-1": {"nameplate": {"volts_min": 197, "volts_max": 253}}}}
    assert started(_plant(merge(workshop(), ranged))).readings[0].low == 197
    bare = started(_plant(merge(workshop(), {"equipment": {"OU-1": {"nameplate": None}}}))).readings[0]
    assert judge_reading(bare, 240) == "unknown"


def test_dead_is_proved_between_two_proofs_of_the_meter_and_before_power() -> None:
    keys = [step.key for step in started(_plant(workshop())).steps]
    order = ["breaker-locked", "meter-before", "dead", "meter-after", "white", "covers", "breaker-on"]
    assert [keys.index(f"MS-1.{name}") for name in order] == sorted(keys.index(f"MS-1.{name}") for name in order)
    assert keys.index("MS-1.panel") < keys.index("sources/PA.main-on") < keys.index("MS-1.breaker-on")


def test_three_phases_are_read_pair_by_pair() -> None:
    three = {"sources": {"PA": {"volts": 208, "phase": 3}}, "equipment": {"OU-1": {"nameplate": {"phase": 3}}}}
    keys = [point.key for point in started(_plant(merge(workshop(), three))).readings]
    pairs = ["L1-L2", "L2-L3", "L3-L1"]
    at_load = [f"running-{pair}" for pair in pairs]
    assert keys == [f"MS-1.{end}" for end in (*pairs, "L1-G", "L2-G", "L3-G", *at_load, "running")]


def test_progress_walks_the_stations() -> None:
    sound = read_plan(kiosk())
    startup = started(Plant(sound))
    everything = frozenset(step.key for step in startup.steps)

    def now(plan: Any, done: frozenset[str] = frozenset(), signed: int | None = None, **verdicts: Any) -> Progress:
        read = {point.key: "within" for point in startup.readings} if verdicts.pop("read", False) else {}
        settings = frozenset(item.key for item in startup.set_up) if read else frozenset[str]()
        records = Recorded(done, read | verdicts, {}, settings)
        return progress(check_and_brief(plan)[1], lambda: records, signed, 3)

    assert now(read_plan(workshop())).stuck_on is not None
    unplanned = read_plan(merge(kiosk(), {"equipment": {"OU-1": {"nameplate": None}}}))
    assert (now(unplanned).station, now(unplanned).stuck_on) == ("lines", None)
    assert now(sound).next == startup.steps[0].text
    assert now(sound, everything).next == startup.readings[0].text
    assert now(sound, everything, read=True, **{"MS-1.L1-L2": "outside"}).stuck_on is not None
    assert now(sound, everything, read=True).next == "Sign the record"
    assert now(sound, everything, 2, read=True).next == "Sign again: changed since revision 2"
    assert now(sound, everything, 3, read=True).station == "signed"


def test_what_start_up_asks_of_controls_is_left_until_it_is_recorded() -> None:
    """Lines done and measured: landings, settings, trials, tests are still to come, in this order; a failure holds."""
    plan = read_plan(museum())
    _, brief = check_and_brief(plan)
    asked = brief.start_up
    brief = brief.model_copy(update={"stops": [], "to_do": None})
    done, read = frozenset(step.key for step in asked.steps), {p.key: "within" for p in asked.readings}

    def next_of(**more: Any) -> Progress:
        return progress(brief, lambda: Recorded(done, read, **more), None, 1)  # type: ignore[arg-type]

    passed = {test.key: "passed" for test in asked.tests}
    settings = frozenset(item.key for item in asked.set_up)
    landed = frozenset(item.key for item in asked.landings)
    assert next_of().next.startswith("Every conductor landed")
    assert f"{asked.set_up[0].device}: set " in next_of(landings=landed).next
    started = {key: "started" for step in asked.steps for key in step.trials}
    assert next_of(landings=landed, settings=settings).next.startswith("Trial on Trailer pedestal")
    assert next_of(landings=landed, settings=settings, trials=started).next.startswith("Prove that")
    assert next_of(landings=landed, settings=settings, trials=started, tests=passed).station == "handover"
    failed = passed | {asked.tests[0].key: "failed"}
    assert "did not stop" in (next_of(tests=failed, settings=settings, landings=landed).stuck_on or "")


def test_each_line_is_locked_out_at_what_feeds_it() -> None:
    """A subpanel without a main at its feeder, a pedestal at its breaker, a plug by pulling it."""
    steps = {step.key: step for step in started(_plant(museum())).steps}
    assert steps["sources/MP.main-off"].text == "Main of Main panel off while its cover is open."
    assert steps["sources/VP.main-off"].text.startswith("Feeder FD-1 to Vault panel off at Main panel")
    assert steps["sources/VP.main-off"].caution == "Main panel stays live."
    assert steps["sources/TP.main-off"].text == "Breaker of Trailer pedestal off, locked and tagged."
    assert steps["DH-1.disconnect-open"].text == "Pull the plug and lock it out."
    assert steps["AH-1.disconnect-open"].text == "Open the disconnect and lock it."
    assert not [key for key in steps if key.startswith("FD-1.")]


def test_heat_is_read_against_what_it_draws_at_its_supply() -> None:
    """By hand: 8000 x (208/240)^2 / 208 + 3.1 = 31.989 A; 10 % either way 28.790 and 35.188 A; one pole reads once."""
    points = {point.key: point for point in started(_plant(museum())).readings}
    running = points["AH-1.running"]
    assert (running.expected, running.low, running.high) == pytest.approx((31.989, 28.790, 35.188), abs=0.005)
    assert [key for key in points if key.startswith("DH-1.") and not key.endswith(".ohms")] == [
        f"DH-1.{end}" for end in ("L1-N", "L1-G", "running-L1-N", "running")
    ]
    assert points["RT-1.running"].high == 30.9


def test_lines_are_read_panel_by_panel_and_space_by_space() -> None:
    order = [(group.source, group.circuits) for group in check_plan(read_plan(museum())).lines]
    assert order == [
        ("MP", ["RT-1", "FD-1"]), ("VP", ["AH-1", "DH-1", "CP-1", "SH-1"]), ("OP", ["UH-1", "MS-1", "UH-2"]),
        ("TP", ["RU-1", "RU-2"]),
    ]  # fmt: skip


def test_a_stop_belongs_to_its_line_and_to_what_lies_behind_it() -> None:
    plan = merge(museum(), {"circuits": {"FD-1": {"run": {"s1": {"conductor": "14"}}}}})
    found = read_plan(plan)

    def stops(circuit: str) -> set[str]:
        return {f.code for f in check_plan(found).on_line(circuit) if f.severity == "stop"}

    assert "conductor-too-small" in stops("FD-1")
    assert "conductor-too-small" in stops("SH-1")
    assert stops("UH-1") == set()
    assert stops("RU-1") == {"panel-overloaded", "start-fails"}
