"""Practice as somebody does it on a phone: wrong with its reasons, by keyboard, and where there is no signal."""

from __future__ import annotations

import re
from typing import Any

from accounts.models import User
from playwright.sync_api import Page, expect
from practice.models import PracticeAnswer, PracticeRound

from tests.browser.conftest import PHONE, SignIn


def _done(page: Page) -> None:
    page.get_by_role("button", name="That is it").click()


def _task(level: str) -> dict[str, Any]:
    body: dict[str, Any] = PracticeRound.objects.get(level=level, status=PracticeRound.Status.DONE).body
    task: dict[str, Any] = body["task"]
    return task


def test_a_few_rounds_on_a_phone_some_of_them_without_a_signal(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE)
    page.get_by_role("link", name="Practice").click()
    page.get_by_role("button", name="Begin").click()
    _done(page)
    expect(page.get_by_role("alert")).to_contain_text("nothing entered")
    for field in page.get_by_role("textbox").all():
        field.fill("1")
    page.get_by_role("button", name=re.compile("AWG")).first.click()
    _done(page)
    expect(page.get_by_role("heading", name="Not so")).to_be_focused()
    page.get_by_text("Why", exact=True).first.click()
    expect(page.get_by_text(re.compile(r"\d{3}\.\d")).first).to_be_visible()

    page.get_by_role("button", name="Next round").click()
    for wire in _task("land")["wires"]:
        for end in ("a", "b"):
            page.get_by_role("button", name=re.compile(f"^{wire['colour']} at .*, free")).first.focus()
            page.keyboard.press("Enter")
            page.locator(f"[data-post='{wire[end]}'][data-end='{end}']").focus()
            page.keyboard.press("Enter")
    _done(page)
    expect(page.get_by_role("heading", name="Right")).to_be_visible()
    page.get_by_role("button", name="Enough for now").click()
    expect(page.get_by_text("All of it is on this device")).to_be_visible()

    page.context.set_offline(True)
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("heading", name="Which of these run?")).to_be_visible()
    for load in _task("runs")["runs"]:
        page.get_by_role("button", name=load).click()
    _done(page)
    expect(page.get_by_role("heading", name="Right")).to_be_visible()
    page.get_by_role("button", name="Next round").click()
    _found(page, _task("fault"))
    page.get_by_role("button", name="Done").click()
    expect(page.get_by_text("2 answers wait for a signal")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("for a signal")).to_be_hidden()
    expect(page.get_by_text("That is all for now.")).to_be_visible()
    lead = User.objects.get(username="i.tarn")
    grades = PracticeAnswer.objects.filter(user=lead).order_by("at").values_list("level", "grade")
    assert dict(grades) == {"size": 1, "land": 3, "runs": 3, "fault": 1}
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]


def _found(page: Page, task: dict[str, Any]) -> None:
    """Find the fault; then put a hand in with nothing open."""
    suspect = task["suspects"][task["hidden"]]
    page.get_by_label("At which thing").select_option(suspect["about"])
    page.get_by_label("Which mistake").select_option(str(task["hidden"]))
    _done(page)
    expect(page.get_by_text("It explains all that was read; so would")).to_be_visible()
    for state in range(len(task["states"])):
        page.get_by_label("What is called").select_option(str(state))
        page.get_by_role("button", name="Look what runs").click()
        for lead in range(len(task["leads"])):
            page.get_by_label("The meter’s leads").select_option(str(lead))
            page.get_by_role("button", name="Read volts").click()
        _done(page)
        if page.get_by_role("button", name="Hand in").is_visible():
            break
    page.get_by_role("button", name="Hand in").click()
    expect(page.get_by_text("With nothing open it is not safe.")).to_be_visible()
