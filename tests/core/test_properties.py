"""What must hold for every circuit: more of anything hard never makes the line thinner."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from leitung_core.circuits import CircuitResult, size_document
from leitung_core.errors import InputError, Problem
from leitung_core.plan.patch import merge
from leitung_core.rulebook import rulebook

from tests.core.documents import codes, document, segment

SIZES = rulebook("us-2023").sizes

amps = st.floats(1, 120).map(lambda a: round(a, 1))
lengths = st.integers(1, 400)
ambients = st.integers(-10, 70)
methods = st.sampled_from(["NM-B", "UF-B", "MC", "THWN-2", "XHHW-2"])
ratings = st.sampled_from([15, 20, 25, 30, 40, 50, 60, 80, 100, 125])


def sized(mca: float, most: float, length: float, ambient: float, method: str, **more: Any) -> CircuitResult:
    raceway = {"raceway": "EMT"} if method.endswith("-2") else {}
    run = [segment(method=method, length_ft=length, ambient_c=ambient, **raceway, **more)]
    return size_document(document(run, {"mca_a": mca, "max_ocpd_a": most}, proposed={"ocpd_a": None}))


def rank(size: str | None) -> int:
    """Position among the sizes; no size at all counts as beyond the largest."""
    return SIZES.index(size) if size else len(SIZES)


@given(amps, ratings, lengths, ambients, methods, st.integers(0, 200), st.integers(0, 30), st.integers(0, 30))
def test_longer_or_hotter_is_never_thinner(
    mca: float, most: int, length: int, ambient: int, method: str, further: int, hotter: int, together: int
) -> None:
    easy = sized(mca, most, length, ambient, method, current_carrying=2)
    hard = sized(mca, most, length + further, ambient + hotter, method, current_carrying=2 + together)
    assert rank(hard.conductor) >= rank(easy.conductor)
    assert rank(hard.conductor_before_drop) >= rank(easy.conductor_before_drop)


@given(amps, amps, ratings, lengths, methods)
def test_more_load_never_lowers_device_or_conductor(
    mca: float, extra: float, most: int, length: int, method: str
) -> None:
    light, heavy = sized(mca, most, length, 30, method), sized(mca + extra, most, length, 30, method)
    assert rank(heavy.conductor) >= rank(light.conductor)
    if light.ocpd_choices_a and heavy.ocpd_choices_a:
        assert heavy.ocpd_choices_a[0] >= light.ocpd_choices_a[0]
        assert heavy.ocpd_a is not None
        assert heavy.ocpd_a <= most


@given(amps, ratings, st.integers(2, 300), ambients, methods, st.integers(1, 99))
def test_a_run_is_the_same_in_two_pieces(
    mca: float, most: int, length: int, ambient: int, method: str, percent: int
) -> None:
    raceway = {"raceway": "EMT"} if method.endswith("-2") else {}
    one = [segment(method=method, length_ft=length * 100, ambient_c=ambient, **raceway)]
    two = [one[0] | {"length_ft": length * percent}, one[0] | {"length_ft": length * (100 - percent)}]
    plate = {"mca_a": mca, "max_ocpd_a": most}
    whole, parts = size_document(document(one, plate)), size_document(document(two, plate))
    for field in ("conductor", "conductor_before_drop", "conductor_ampacity_a", "egc", "voltage_drop_v", "ocpd_a"):
        assert getattr(whole, field) == getattr(parts, field), field


@given(amps, ratings, lengths, ambients, methods)
def test_every_alternative_passes_its_own_check(mca: float, most: int, length: int, ambient: int, method: str) -> None:
    raceway = {"raceway": "EMT"} if method.endswith("-2") else {}
    run = [segment(method=method, length_ft=length, ambient_c=ambient, **raceway)]
    doc = document(run, {"mca_a": mca, "max_ocpd_a": most}, proposed={"ocpd_a": None, "disconnect_a": 600})
    for choice in size_document(doc).alternatives:
        taken = size_document(merge(doc, choice.patch))
        assert codes(taken, "stop") == []
        assert taken.proposed_ampacity_a == choice.ampacity_a >= mca
        assert [c.conductor for c in taken.alternatives if c.chosen] == [choice.conductor]


def unmarked(kind: str, amps: float, length: float, method: str, ambient: float = 30) -> dict[str, Any]:
    """A load of about that current without any mark of a circuit."""
    raceway = {"raceway": "EMT"} if method.endswith("-2") else {}
    doc = document([segment(method=method, length_ft=length, ambient_c=ambient, **raceway)], kind=kind)
    plate: dict[str, Any] = {"volts": "240", "phase": 1}
    if kind == "unit_heater":
        plate["heat"] = {"watts": amps * 240, "rated_volts": 240}
    elif kind == "condensing_unit":
        plate["compressors"] = [{"rla_a": amps}]
    elif kind == "condensate_pump":
        plate["motors"] = [{"fla_a": amps, "use": "pump"}]
    elif kind == "feeder":
        plate["loads"] = [{"amps": amps, "sort": "motor"}]
    else:
        plate |= {"amps": amps, "continuous": True}
    doc["equipment"]["nameplate"] = plate
    doc["proposed"] |= {"ocpd_a": None, "disconnect_a": 600}
    return doc


kinds = st.sampled_from(["unit_heater", "condensing_unit", "condensate_pump", "steam_humidifier", "feeder"])


@given(kinds, amps, st.floats(0, 60), lengths, st.integers(0, 200), st.integers(0, 20), methods)
def test_for_every_family_more_load_length_or_heat_is_never_thinner(
    kind: str, load: float, extra: float, length: int, further: int, hotter: int, method: str
) -> None:
    easy = size_document(unmarked(kind, load, length, method))
    hard = size_document(unmarked(kind, round(load + extra, 2), length + further, method, 30 + hotter))
    assert rank(hard.conductor) >= rank(easy.conductor)
    assert (hard.min_ampacity_a or 0) >= (easy.min_ampacity_a or 0)
    assert (hard.ocpd_a or 10**9) >= (easy.ocpd_a or 0)


@given(kinds, amps, lengths, methods)
def test_for_every_family_what_is_offered_passes_its_own_check(
    kind: str, load: float, length: int, method: str
) -> None:
    doc = unmarked(kind, load, length, method)
    for choice in size_document(doc).alternatives:
        taken = size_document(merge(doc, choice.patch))
        assert codes(taken, "stop") == []
        assert taken.proposed_ampacity_a == choice.ampacity_a


@given(amps, st.sampled_from([208, 240, 480]), st.sampled_from([1, 3]))
def test_heat_follows_the_square_of_the_voltage_and_its_current_the_voltage(
    load: float, volts: int, phase: int
) -> None:
    doc = unmarked("unit_heater", load, 10, "NM-B")
    doc["supply"] |= {"volts": volts, "phase": phase}
    doc["equipment"]["nameplate"]["phase"] = phase
    running = size_document(doc).running_a or 0
    assert running == pytest.approx(load * volts / 240 / (3**0.5 if phase == 3 else 1), rel=1e-6, abs=1e-6)


scalars = st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=5)
hostile = st.recursive(scalars, lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=4), inner))
FIELDS = ["supply", "equipment", "run", "proposed", "rulebook", "occupancy", "permit_date", "amendments"]


@given(st.dictionaries(st.sampled_from(FIELDS), hostile), st.booleans())
def test_nonsense_is_refused_with_a_message_or_sized(nonsense: dict[str, Any], on_a_good_one: bool) -> None:
    problems, result = outcome((document() if on_a_good_one else {}) | nonsense)
    assert (result is None) == bool(problems)
    assert all(problem.field and problem.message and problem.remedy for problem in problems)


def outcome(doc: dict[str, Any]) -> tuple[tuple[Problem, ...], CircuitResult | None]:
    try:
        return (), size_document(doc)
    except InputError as error:
        return error.problems, None
