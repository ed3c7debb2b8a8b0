"""What is recorded rather than planned: steps, readings, open items, signatures. Append-only, held by the database."""

from __future__ import annotations

import uuid
from datetime import datetime

from accounts.models import Authored, Company
from django.db import models
from installs.models import Install

NOTHING = models.Value([], output_field=models.JSONField())
NO_METER = models.Value({}, output_field=models.JSONField())


class Record(Authored):
    """One entry by one person, on the plan as it stood at a revision.

    at: when it reached here. noted_at: when it was entered, by the clock of the device, which may have had no signal.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    install = models.ForeignKey(Install, on_delete=models.PROTECT)
    revision = models.PositiveIntegerField()
    at = models.DateTimeField(auto_now_add=True)
    noted_at = models.DateTimeField(null=True)

    class Meta:
        abstract = True
        ordering = ["at", "id"]

    @property
    def entered_at(self) -> datetime:
        """When it was entered, by the clock that was nearest."""
        return self.noted_at or self.at


class StepEntry(Record):
    """A step ticked, or taken back with a reason.

    `value`: what was read in it. `passed`: the steps that it needs and that were not done; the reason says why.
    """

    key = models.CharField(max_length=100)
    done = models.BooleanField()
    value = models.FloatField(null=True)
    unit = models.CharField(max_length=4, blank=True)
    passed = models.JSONField(default=list, db_default=NOTHING)
    reason = models.CharField(max_length=200, blank=True)


class TestEntry(Record):
    """A functional test: a cause provoked, and whether it stopped what it must; or taken back, with a reason.

    `wiring`: how the system was wired then; empty for one of an earlier release.
    """

    class Outcome(models.TextChoices):
        PASSED = "passed"
        FAILED = "failed"
        TAKEN_BACK = "taken_back"

    key = models.CharField(max_length=100)
    outcome = models.CharField(max_length=10, choices=Outcome.choices)
    wiring = models.CharField(max_length=16, blank=True, default="", db_default="")
    passed = models.JSONField(default=list, db_default=NOTHING)
    reason = models.CharField(max_length=200, blank=True)


class SettingEntry(Record):
    """A setting made at a device, to which value; or taken back, with a reason."""

    key = models.CharField(max_length=100)
    value = models.CharField(max_length=200)
    done = models.BooleanField()
    reason = models.CharField(max_length=200, blank=True)


class LandingEntry(Record):
    """A terminal ticked: landed, tugged, tightened; or the tick taken back.

    `passed`: the steps that come before it and were not done; the reason says why.
    """

    key = models.CharField(max_length=100)
    done = models.BooleanField()
    passed = models.JSONField(default=list, db_default=NOTHING)
    reason = models.CharField(max_length=200, blank=True, default="", db_default="")


class Reading(Record):
    """A measured value with the bounds that stood then. A correction is a new entry that names the one it corrects.

    `meter`: with what it was read, as that was then; empty where nobody said. `wiring`: how its system was wired then.
    """

    key = models.CharField(max_length=120)
    value = models.FloatField()
    unit = models.CharField(max_length=4)
    low = models.FloatField(null=True)
    high = models.FloatField(null=True)
    basis = models.CharField(max_length=200)
    verdict = models.CharField(max_length=8)
    passed = models.JSONField(default=list, db_default=NOTHING)
    meter = models.JSONField(default=dict, db_default=NO_METER)
    wiring = models.CharField(max_length=16, blank=True, default="", db_default="")
    corrects = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="corrected_by")
    reason = models.CharField(max_length=200, blank=True)


class TrialEntry(Record):
    """A trial on a source: what came of it, what was on, what was measured and what had been expected then.

    A trial that is taken back is a further entry with its reason. `passed`: the steps of start-up that come before it
    and were not done; the note says why.
    """

    class Outcome(models.TextChoices):
        STARTED = "started"
        TRIPPED = "tripped"
        STALLED = "stalled"
        SHUT_OFF = "shut_off"
        TAKEN_BACK = "taken_back"

    key = models.CharField(max_length=100)
    outcome = models.CharField(max_length=10, choices=Outcome.choices)
    on = models.JSONField(default=list)
    measured = models.JSONField(default=dict)
    expected = models.JSONField(default=dict)
    note = models.CharField(max_length=200, blank=True)
    passed = models.JSONField(default=list, db_default=NOTHING)


class PackingEntry(Record):
    """So much of a row of the load-out, and where it is; the last entry of a row stands. No signature covers it."""

    class Where(models.TextChoices):
        TRUCK = "truck"
        SHOP = "shop"
        BUY = "buy"
        NONE = "none"

    key = models.CharField(max_length=40)
    item = models.CharField(max_length=200)
    quantity = models.FloatField()
    where = models.CharField(max_length=5, choices=Where.choices)


class ForgottenEntry(Record):
    """Something that had to be fetched, as nobody had taken it along; `kinds`: of the units that were installed there.

    It is asked for at the next install with one of these kinds. No signature covers it.
    """

    item = models.CharField(max_length=120)
    kinds = models.JSONField(default=list)


class WorkEntry(Record):
    """A task of the work list begun, done, or taken back; the last entry of a task stands. No signature covers it.

    minutes: what it took, where somebody says so. kind, place, shipped_min: what sort of work it was and what the
    shipped figure was then, so that others can be reckoned by it.
    """

    class State(models.TextChoices):
        BEGUN = "begun"
        DONE = "done"
        TAKEN_BACK = "taken_back"

    key = models.CharField(max_length=48)
    state = models.CharField(max_length=10, choices=State.choices)
    kind = models.CharField(max_length=10)
    place = models.CharField(max_length=10)
    shipped_min = models.FloatField()
    minutes = models.FloatField(null=True)


class OpenItem(Record):
    """Something left to do, with its owner and due date.

    temporary: something put in for a while at a part of the work (`about`), which is to come out again.
    """

    text = models.CharField(max_length=200)
    owner = models.CharField(max_length=200)
    due = models.DateField(null=True)
    temporary = models.BooleanField(default=False, db_default=False)
    about = models.CharField(max_length=120, blank=True, default="", db_default="")


class OpenItemClosing(Record):
    """An open item done, and how."""

    item = models.OneToOneField(OpenItem, on_delete=models.PROTECT, related_name="closing")
    note = models.CharField(max_length=200)


class Visit(Record):
    """Somebody came to an install that runs, and why. One is open at a time; no signature covers it."""

    why = models.CharField(max_length=200)


class VisitEnd(Record):
    """A visit over, and what was done."""

    visit = models.OneToOneField(Visit, on_delete=models.PROTECT, related_name="ending")
    note = models.CharField(max_length=200)


class VisitReading(Record):
    """A value read on a visit where start-up reads it, as found or as left; the last entry of each stands.

    about, text: of what, and what, as the plan said it then. The bounds, the verdict and the meter are those of then.
    """

    class State(models.TextChoices):
        FOUND = "found"
        LEFT = "left"

    visit = models.ForeignKey(Visit, on_delete=models.PROTECT, related_name="readings")
    key = models.CharField(max_length=120)
    about = models.CharField(max_length=120)
    text = models.CharField(max_length=200)
    state = models.CharField(max_length=5, choices=State.choices)
    value = models.FloatField()
    unit = models.CharField(max_length=4)
    low = models.FloatField(null=True)
    high = models.FloatField(null=True)
    verdict = models.CharField(max_length=8)
    said = models.CharField(max_length=1000)
    meter = models.JSONField(default=dict)
    wiring = models.CharField(max_length=16, blank=True, default="")
    reason = models.CharField(max_length=200, blank=True)


class Signature(Record):
    """The handover signed: a name, and a digest over the content that it covers.

    `covers`: the version of that content; 0: the plan alone, as it was first done. `reasons`: why it was signed with
    something not proved, each with what it was. `role`: as what it was signed; a customer signs what the crew has
    signed. `drawn`: the strokes of a finger. `device`: by which program it was done.
    """

    class As(models.TextChoices):
        INSTALLER = "installer", "installer"
        LICENSED = "licensed", "licensed person"
        CUSTOMER = "customer", "customer"

    name = models.CharField(max_length=200)
    digest = models.CharField(max_length=64)
    covers = models.PositiveSmallIntegerField(default=0)
    role = models.CharField(max_length=9, choices=As.choices, default=As.INSTALLER, db_default=As.INSTALLER)
    drawn = models.JSONField(null=True)
    device = models.CharField(max_length=200, blank=True, default="", db_default="")
    reasons = models.JSONField(default=list)
