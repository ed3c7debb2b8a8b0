"""The board: renamed, laid away and taken back, a template and what begins like it, a double press, two windows."""

from __future__ import annotations

from typing import Any

import pytest
from installs.models import Install
from playwright.sync_api import Page, expect

from tests.browser.conftest import SignIn

pytestmark = pytest.mark.django_db(transaction=True)


def rows(page: Page) -> Any:
    return page.get_by_role("main").get_by_role("listitem")


def more(page: Page, name: str) -> Any:
    row = rows(page).filter(has_text=name)
    row.get_by_role("button", name=f"More about {name}").click()
    return row


def view(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Which installs").get_by_role("button", name=name).click()


def test_renamed_laid_away_and_taken_back(open_as: SignIn) -> None:
    page = open_as()
    row = more(page, "Pattern loft")
    row.get_by_label("New name of Pattern loft").fill("Sail loft")
    page.keyboard.press("Enter")
    expect(page.get_by_role("status")).to_have_text("Pattern loft is called Sail loft now.")
    more(page, "Sail loft").get_by_role("button", name="Delete").click()
    expect(rows(page)).to_have_count(3)
    page.get_by_role("button", name="Take it back").click()
    expect(rows(page)).to_have_count(4)
    more(page, "Sail loft").get_by_role("button", name="Archive").click()
    view(page, "Archived")
    expect(rows(page)).to_have_count(1)
    more(page, "Sail loft").get_by_role("button", name="Bring it back").click()
    expect(page.get_by_text("Nothing is archived.")).to_be_visible()
    view(page, "Stuck")
    expect(page.get_by_role("heading", level=1)).to_have_text("2 installs, stuck")


def test_a_template_is_saved_and_an_install_begins_like_it_once(open_as: SignIn) -> None:
    page = open_as()
    row = more(page, "Ticket kiosk")
    row.get_by_label("New name of Ticket kiosk").fill("One mini-split")
    row.get_by_role("button", name="Save as a template").click()
    expect(page.get_by_role("status")).to_contain_text("One mini-split is a template")
    page.get_by_label("Name of the new install").fill("Ferry hut")
    page.get_by_label("It begins").select_option(label="like One mini-split")
    page.get_by_role("button", name="Begin").dblclick()
    expect(page.get_by_role("heading", name="Ferry hut", level=1)).to_be_visible()
    expect(page.get_by_role("main")).to_contain_text("MS-1")
    assert Install.objects.filter(name="Ferry hut").count() == 1


def test_another_window_shows_what_the_first_did_by_itself(open_as: SignIn) -> None:
    first, second = open_as(), open_as("o.brisk")
    more(first, "Pattern loft").get_by_role("button", name="Archive").click()
    expect(rows(second)).to_have_count(3)
    expect(second.get_by_role("button", name="More about")).to_have_count(0)
