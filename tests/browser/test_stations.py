"""From station to station and from the thing to what is asked of it: by hand, by keys, on a phone."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, SignIn, install, part


def stations(page: Page) -> list[str]:
    row = page.get_by_role("navigation", name="Stations of the work")
    return [re.sub(r"\s+", " ", text) for text in row.get_by_role("link").all_inner_texts()]


def test_a_station_says_how_it_stands_and_mending_it_shows(open_as: SignIn) -> None:
    page = open_as()
    install(page, "Bindery workshop")
    page.locator("[data-cut]").wait_for()
    assert stations(page)[1] == "Lines 1 stop"
    page.get_by_role("button", name="Make it THWN-2 in LFNC").click()
    expect(page.get_by_role("navigation", name="Stations of the work")).not_to_contain_text("1 stop")
    expect(page.get_by_role("link", name="Lines in order")).to_have_attribute("aria-current", "page")


def test_everything_open_stands_in_one_list_and_each_leads_to_its_place(open_as: SignIn) -> None:
    page = open_as()
    install(page, "Museum plant")
    page.locator("[data-line]").first.wait_for()
    page.keyboard.press("o")
    lines = page.get_by_role("region", name="Lines")
    first = lines.get_by_role("listitem").first
    expect(first).to_contain_text("RT-1 45 A is above the 40 A that the plate allows.")
    # Stops first, then warnings, then notes.
    kinds = [text.split(":")[0] for text in lines.locator("li .text-sm:has-text(':')").all_inner_texts()]
    known = [kind for kind in kinds if kind in ("stop", "warning", "note")]
    assert known == sorted(known, key=("stop", "warning", "note").index)
    lines.get_by_role("link", name="UH-2 12 AWG carries 20 A here").click()
    expect(page.locator("[data-line='UH-2'] [data-part]").first).to_be_visible()
    page.keyboard.press("o")
    page.get_by_role("link", name="44.4 A would be asked of Trailer pedestal").click()
    expect(page.get_by_role("button", name="Trailer pedestal")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("o")
    page.get_by_role("region", name="Bench").get_by_role("link").first.click()
    expect(page.get_by_role("navigation", name="Control systems").locator("[aria-current]")).to_contain_text("AH-1")
    page.keyboard.press("o")
    lines.get_by_role("button", name="Make it 40 A").click()
    expect(page.get_by_text("45 A is above the 40 A")).to_have_count(0)


def test_from_the_thing_to_what_is_asked_of_it(open_as: SignIn) -> None:
    """The spine leads to its panel, the unit to its room, an article to its table."""
    page = open_as()
    install(page, "Museum plant")
    page.get_by_role("link", name="Vault panel").click()
    expect(page.get_by_role("button", name="Vault panel")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("2")
    part(page, "breaker 45").click()
    page.get_by_role("complementary", name="Reason").get_by_role("link", name="Table 240.6(A)").click()
    expect(page.get_by_role("button", name="240.6(A)", expanded=True)).to_be_focused()
    page.go_back()
    part(page, "Unit").first.click()
    page.get_by_role("link", name="does it suit its room?").click()
    expect(page.get_by_role("region", name="Van bay", exact=True)).to_be_visible()


def test_one_more_like_it_is_one_press_and_six_are_one_sentence(open_as: SignIn) -> None:
    page = open_as()
    install(page, "Ticket kiosk")
    page.keyboard.press("2")
    part(page, "Unit").click()
    # The sentence is read beside what is still on its way, too.
    page.route(re.compile("/patches$"), lambda route: (page.wait_for_timeout(1500), route.continue_()), times=1)
    page.get_by_role("button", name="One more like it").click()
    expect(page.locator("[data-line='MS-2']")).to_be_visible()
    page.get_by_label("Say the unit in one sentence").fill("like MS-1 x 6")
    page.get_by_role("button", name="Draw 6 lines").click()
    expect(page.locator("[data-line]")).to_have_count(8)
    page.get_by_label("Say the unit in one sentence").fill("like ZZ-9")
    expect(page.get_by_text("is no unit with a line here")).to_be_visible()


def test_keys_of_one_letter_can_be_switched_off_and_the_first_tab_skips_to_the_drawing(open_as: SignIn) -> None:
    page = open_as()
    install(page, "Ticket kiosk")
    page.keyboard.press("2")
    expect(page).to_have_url(re.compile("/lines$"))
    page.keyboard.press("?")
    page.get_by_role("checkbox", name="Keys of one letter or digit").uncheck()
    page.keyboard.press("Escape")
    page.keyboard.press("1")
    page.keyboard.press("i")
    expect(page).to_have_url(re.compile("/lines$"))
    page.reload()
    page.locator("[data-line]").first.wait_for()
    page.keyboard.press("Tab")
    expect(page.get_by_role("link", name="To the drawing")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.locator("#main")).to_be_focused()


def test_on_a_phone_the_others_are_one_press_away(open_as: SignIn) -> None:
    page = open_as(viewport=PHONE)
    install(page, "Museum plant")
    row = page.get_by_role("navigation", name="Stations of the work")
    expect(row.get_by_role("link", name="Bench")).to_be_hidden()
    row.get_by_role("button").click()
    row.get_by_role("link", name="Site").click()
    expect(page.get_by_role("heading", name="What feeds it")).to_be_visible()
    expect(row.get_by_role("link", name="Bench")).to_be_hidden()
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
