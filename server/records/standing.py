"""What stands in the records: the last word on each step, test, setting and landing, the uncorrected readings."""

from __future__ import annotations

from typing import Any

from django.db.models import Model
from installs.models import Install
from leitung_core.commissioning.judge import judge_readings
from leitung_core.commissioning.steps import StartUp
from leitung_core.result.progress import Recorded, Temporary

from records.models import LandingEntry, OpenItem, Reading, SettingEntry, StepEntry, TestEntry, TrialEntry, Visit


def recorded(install: Install, startup: StartUp) -> Recorded:
    """The standing records of an install, judged by its plan as it is now."""
    judged = judge_readings(startup.readings, standing_values(install, startup))
    wanted = {item.key: item.value for item in startup.set_up}
    wired = {test.key: test.wiring for test in startup.tests}
    made = {
        key for key, (value, done) in _last(SettingEntry, install, "value", "done").items()
        if done and value == wanted.get(key)
    }  # fmt: skip
    return Recorded(
        done=steps_done(install),
        verdicts={key: entry.verdict for key, entry in judged.items()},
        tests={
            key: outcome
            for key, (outcome, wiring) in _last(TestEntry, install, "outcome", "wiring").items()
            if holds(wiring, wired.get(key, ""))
        },
        settings=frozenset(made),
        landings=_done(LandingEntry, install),
        trials=trials_made(install),
        temporary=tuple(
            Temporary(f"temporary.{item.id}", item.about, item.text)
            for item in OpenItem.objects.filter(install=install, temporary=True, closing=None)
        ),
    )


def holds(then: str, now: str) -> bool:
    """Whether what was tried or read on a system counts: it is wired as it was. Of an earlier release nobody knows."""
    return not then or then == now


def trials_made(install: Install) -> dict[str, str]:
    """What came of the last trial on each source."""
    return {key: outcome for key, (outcome,) in _last(TrialEntry, install, "outcome").items()}


def standing_values(install: Install, startup: StartUp) -> dict[str, float]:
    """The readings that stand, by key; what was read of a system that is wired otherwise since does not."""
    wired = {point.key: point.wiring for point in startup.readings}
    rows = Reading.objects.filter(install=install, corrected_by=None).values_list("key", "value", "wiring")
    return {key: value for key, value, wiring in rows if holds(wiring, wired.get(key, ""))}


def steps_done(install: Install) -> frozenset[str]:
    """The steps of start-up that are done, whatever they are undone by since."""
    return _done(StepEntry, install)


def _done(model: type[Model], install: Install) -> frozenset[str]:
    return frozenset(key for key, (done,) in _last(model, install, "done").items() if done)


def _last(model: type[Model], install: Install, *fields: str) -> dict[str, tuple[Any, ...]]:
    """The last entry for each key: its fields."""
    rows = model._default_manager.filter(install=install).values_list("key", *fields)
    return {key: tuple(values) for key, *values in rows}


def open_visit(install: Install) -> Visit | None:
    """The one visit that is not over."""
    return Visit.objects.filter(install=install, ending=None).first()
