"""What is true of every supply: more source, less load, a softer or a later start never make a verdict worse."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from leitung_core.errors import InputError
from leitung_core.plan.patch import merge
from leitung_core.starting.case import cases
from leitung_core.starting.document import read_trial
from leitung_core.starting.open_form import starting
from leitung_core.starting.timeline import course_of
from leitung_core.starting.verdict import judge

from tests.core.starting.trials import BATTERY, INVERTER, Json, on, steady, trial, unit, verdict


def worse(document: Json) -> int:
    """0 starts, 1 not known, 2 may trip, 3 fails."""
    return {"starts": 0, "unknown": 1, "may_trip": 2}.get(judge(read_trial(document)).verdict, 3)


def figures(low: float, high: float) -> st.SearchStrategy[float]:
    return st.floats(low, high).map(lambda value: round(value, 2))


@st.composite
def units(draw: st.DrawFn, name: str = "front", legs: int = 1) -> Json:
    running = draw(figures(2, 20))
    compressor = {
        "running_a": running, "locked_rotor_a": round(running * draw(figures(3, 7)), 2),
        "start_s": draw(figures(0.1, 1)), "power_factor": draw(figures(0.7, 1)),
    }  # fmt: skip
    fan = {"running_a": draw(figures(0.5, 5)), "inrush_a": draw(figures(5, 15)), "inrush_s": draw(figures(0, 1))}
    leg = draw(st.integers(1, legs))
    after, own = draw(st.integers(0, 4)), draw(figures(0, 0.3))
    return unit(name, leg=leg, fan=fan, compressor=compressor, compressor_after_s=after, branch_ohms=own)


@st.composite
def supplies(draw: st.DrawFn) -> Json:
    kind = draw(st.sampled_from(["pedestal", "generator", "inverter"]))
    found: Json = {
        "kind": kind,
        "source_ohms": draw(figures(0, 0.5)),
        "breaker_a": draw(st.sampled_from([15, 20, 30, 50])),
    }
    watts = draw(st.integers(500, 8000))
    limits = {"running_w": watts, "surge_w": watts * 2, "surge_s": draw(figures(0.1, 5))}
    if kind == "generator":
        found["generator"] = {**limits, "power_factor": 1.0, "economy": draw(st.booleans())}
    if kind == "inverter":
        found["inverter"] = INVERTER | limits | {"battery": BATTERY | {"ohms": draw(figures(0, 0.03))}}
    return found


@st.composite
def trials(draw: st.DrawFn) -> Json:
    """One or two units and a steady load on one or two legs."""
    legs = draw(st.integers(1, 2))
    loads = [draw(units(name, legs)) for name in ("front", "rear")[: draw(st.integers(1, 2))]]
    loads.append(steady("oven", draw(figures(0, 25)), draw(st.integers(1, legs))))
    until = [draw(st.one_of(st.none(), figures(30, 4000))) for _ in loads]
    calls = [on(load["id"], draw(figures(0, 20)), end) for load, end in zip(loads, until, strict=True)]
    # One feeder on the supply, a second one behind it, and loads on either or on none.
    feeders = {"F1": {"ohms": draw(figures(0, 0.3))}, "F2": {"ohms": draw(figures(0, 0.3)), "behind": "F1"}}
    loads = [load | draw(st.sampled_from([{}, {"behind": "F1"}, {"behind": "F2"}])) for load in loads]
    return trial(*loads, calls=calls, legs=legs, feeders=feeders, **draw(supplies()))


@given(trials())
def test_currents_and_volts_balance_at_every_instant(document: Json) -> None:
    """By Kirchhoff, from the pieces alone: each node's volts are those before it less its drop."""
    (case,) = cases(read_trial(document))
    nominal, feeders = case.supply.volts, case.supply.feeders
    course = course_of(case)
    for row in course.stretches:
        left = {(piece.load, piece.part): share for piece, share in row.starting if piece.locked}
        drawn = {
            load.id: sum(p.amps * left.get((p.load, p.part), 1) for p in course.pieces
                         if p.load == load.id and p.start_s <= row.start_s < p.end_s)
            for load in case.loads
        }  # fmt: skip
        for leg in range(case.supply.legs):
            through = dict.fromkeys(("", *feeders), 0.0)
            for load in case.loads:
                node = load.behind
                while leg + 1 in load.legs and node:
                    through[node] += drawn[load.id]
                    node = feeders[node].behind
                through[""] += drawn[load.id] if leg + 1 in load.legs else 0
            assert row.amps[leg] == pytest.approx(through[""], abs=1e-6)
            assert row.at[""][leg] == row.volts[leg]
            for node, amps in through.items():
                before = row.at[feeders[node].behind][leg] if node else nominal
                ohms = feeders[node].ohms if node else case.supply.ohms or 0.0
                assert row.at[node][leg] == pytest.approx(max(0.0, before - ohms * amps), abs=1e-6)
        for (key, _), share in left.items():
            # Behind its own conductors: the node's volts less what all of the load draws through them.
            (load,) = [load for load in case.loads if load.id == key]
            behind = row.at[load.behind][load.legs[0] - 1] - load.branch_ohms * drawn[key]
            assert share * nominal == pytest.approx(max(0.0, behind), abs=1e-6)


@given(trials(), st.sampled_from([1.1, 1.5, 3]))
def test_a_bigger_source_never_makes_it_worse(document: Json, times: float) -> None:
    supply = document["supply"]
    kind = supply["kind"]
    bigger: Json = {"breaker_a": supply["breaker_a"] * times}
    if kind in ("generator", "inverter"):
        bigger[kind] = {name: supply[kind][name] * times for name in ("running_w", "surge_w")}
    if kind == "inverter":
        bigger[kind]["battery"] = {"ohms": supply[kind]["battery"]["ohms"] / times}
    assert worse(merge(document, {"supply": bigger})) <= worse(document)


@given(trials(), st.integers(0, 2))
def test_a_load_less_never_makes_it_worse(document: Json, index: int) -> None:
    left = [call for at, call in enumerate(document["calls"]) if at != index % len(document["calls"])]
    assert worse(document | {"calls": left}) <= worse(document)


@given(trials(), figures(0.1, 0.4))
def test_a_soft_starter_never_makes_it_worse(document: Json, share: float) -> None:
    """One that holds the compressor well below its locked rotor, for no longer than the start took."""
    loads = []
    for load in document["loads"]:
        part = load.get("compressor")
        aid = part and {"kind": "soft_starter", "peak_a": part["locked_rotor_a"] * share, "ramp_s": part["start_s"]}
        loads.append(load | ({"aid": aid} if aid else {}))
    assert worse(document | {"loads": loads}) <= worse(document)


@given(supplies(), units("front"), units("rear"), st.integers(7, 60), st.integers(1, 300))
def test_a_longer_wait_never_makes_it_worse(supply: Json, one: Json, two: Json, wait: int, more: int) -> None:
    """Once the first has come up, a second one that waits longer meets no more than before."""
    waits = [trial(one, two, calls=[on("front", 0), on("rear", later)], **supply) for later in (wait, wait + more)]
    assert worse(waits[1]) <= worse(waits[0])


@settings(max_examples=15)
@given(trials())
def test_every_way_out_starts(document: Json) -> None:
    found, _ = starting(document)
    for way in found["ways_out"]:
        assert verdict(merge(document, way["change"])) == "starts", way
    assert not (found["verdict"] == "starts" and found["ways_out"])


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"supply": {"legs": 3}}, "supply.legs", "known values"),
        ({"supply": {"source_ohms": -1}}, "supply.source_ohms", "below 0"),
        ({"supply": {"volts": 0}}, "supply.volts", "below 1"),
        ({"supply": {"source_ohms": [0.4, 0.1]}}, "supply.source_ohms", "upside down"),
        ({"supply": {"source_ohms": float("nan")}}, "supply.source_ohms", "finite"),
        ({"supply": {"kind": "windmill"}}, "supply.kind", "known values"),
        ({"loads": [steady("a", 5, 2)]}, "loads.0.leg", "one hot leg"),
        ({"loads": [steady("a", 5), steady("a", 6)]}, "loads.1.id", "another load"),
        ({"loads": [{"id": "a", "leg": 1}]}, "loads.0", "takes nothing"),
        ({"loads": [unit("a", aid={"kind": "none", "peak_a": 5})]}, "loads.0.aid", "another kind of aid"),
        ({"loads": [unit("a", compressor={"start_s": 601})]}, "loads.0.compressor.start_s", "above 600"),
        ({"supply": {"feeders": {"F": {"ohms": 0.1, "behind": "G"}}}}, "supply.feeders.F.behind", "no such feeder"),
        ({"supply": {"feeders": {"F": {"behind": "F"}}}}, "supply.feeders.F.behind", "feeds itself"),
        ({"loads": [steady("a", 5) | {"behind": "F"}]}, "loads.0.behind", "no such feeder"),
        ({"calls": [on("nothing", 0)]}, "calls.0.load", "no such load"),
        ({"calls": [on("a", 5, 5)]}, "calls.0.until_s", "later"),
        ({"calls": "soon"}, "calls", "list"),
    ],
)
def test_nonsense_names_field_value_and_remedy(change: Json, field: str, words: str) -> None:
    document = merge(trial(steady("a", 5)), {key: value for key, value in change.items() if key == "supply"})
    document |= {key: value for key, value in change.items() if key != "supply"}
    with pytest.raises(InputError) as told:
        read_trial(document)
    fields = {problem.field: problem for problem in told.value.problems}
    assert words in fields[field].message
    assert fields[field].remedy


@given(
    st.recursive(
        st.one_of(st.none(), st.booleans(), st.floats(), st.text(max_size=5)),
        lambda inner: st.one_of(
            st.lists(inner, max_size=3),
            st.dictionaries(
                st.sampled_from(["supply", "loads", "calls", "volts", "legs", "kind", "id"]), inner, max_size=4
            ),
        ),
        max_leaves=8,
    )
)
def test_any_document_is_answered_or_refused(document: Any) -> None:
    try:
        starting(document)
        problems = []
    except InputError as error:
        problems = list(error.problems)
    assert all(problem.field and problem.remedy for problem in problems)
