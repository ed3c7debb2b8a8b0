"""The line: typed, tried, mended, taken back, with every consequence on screen."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import SignIn, enter, install, part


@pytest.fixture
def workshop(open_as: SignIn) -> Page:
    """The restorers' workshop with its one mistake mended."""
    page = open_as()
    install(page, "Bindery workshop")
    page.get_by_role("button", name="Make it THWN-2 in LFNC").click()
    expect(page.get_by_role("list", name="Findings")).to_have_count(0)
    return page


def test_the_board_says_what_is_stuck_and_one_action_clears_it(open_as: SignIn) -> None:
    page = open_as()
    expect(page.get_by_role("heading", level=1)).to_have_text("4 installs, 2 stuck")
    row = page.get_by_role("link", name="Bindery workshop")
    expect(row).to_contain_text("NM-B may not be outdoors")
    row.click()
    expect(page.locator("[data-cut]")).to_be_visible()
    page.get_by_role("button", name="Make it THWN-2 in LFNC").click()
    expect(page.locator("[data-cut]")).to_have_count(0)
    page.keyboard.press("i")
    expect(page.get_by_role("heading", level=1)).to_have_text("4 installs, 1 stuck")


def test_a_plate_typed_on_the_line_sizes_everything(open_as: SignIn) -> None:
    """From an empty install: 11.0 A, 15 A, 240 V, 50 ft of NM-B (worked by hand in tests/published)."""
    page = open_as()
    page.get_by_label("Name of the new install").fill("Cooperage")
    page.get_by_role("button", name="Begin").click()
    page.get_by_role("button", name="Draw the first line").click()
    page.get_by_label("Unit of the new line").select_option("mini-split, outdoor unit")
    page.get_by_role("button", name="Draw it").click()
    page.locator("svg text", has_text="New panel").click()
    for label, value in (("Supply volts", "240"), ("Volts to ground", "120"), ("Numbered spaces", "20")):
        enter(page, label, value)
    page.get_by_label("Supply phases").select_option("single phase")
    part(page, "Unit").click()
    enter(page, "Plate volts", "208/230")
    page.get_by_label("Plate phases").select_option("1 phase")
    enter(page, "Minimum circuit ampacity (MCA)", "11.0")
    enter(page, "Maximum fuse or breaker", "15")
    page.get_by_label("The maximum is for").select_option("fuse or breaker")
    page.locator('[data-part="run/s1"]').click()
    page.get_by_label("Wiring method", exact=True).select_option("NM-B")
    page.get_by_label("Solid or stranded", exact=True).select_option("solid")
    page.get_by_label("Place", exact=True).select_option("interior")
    enter(page, "Length", "50")
    enter(page, "Ambient temperature", "86")
    page.get_by_label("Conductor size").select_option("12 AWG")
    part(page, "breaker").click()
    # The answer to the last entry moves the buttons: a click must not fall between.
    expect(page.get_by_text("saving …")).to_have_count(0)
    page.get_by_role("button", name="Make it 15 A").click()
    expect(page.get_by_role("heading", name="Why 15 A")).to_be_visible()
    reason = page.get_by_role("complementary", name="Reason")
    for words in ("Conductors must carry", "440.4(B)", "The plate allows at most", "110.3(B), 440.22(C)"):
        expect(reason).to_contain_text(words)
    expect(reason.get_by_role("button", name="15 A, 14 AWG")).to_contain_text("4 A in hand, drop 1.4 %")
    expect(reason.get_by_role("button", name="15 A, 12 AWG")).to_contain_text("9 A in hand, drop 0.9 %")
    expect(reason.get_by_role("button", name="15 A, 12 AWG")).to_have_attribute("aria-pressed", "true")
    part(page, "interior").click()
    for words in (
        "at most its 60 °C column: 334.80",
        "Table 310.16",
        "14 AWG",
        "250.122(B)",
        "Chapter 9 Table 8",
        "0.88 %",
    ):
        expect(reason).to_contain_text(words)
    expect(reason.get_by_label("Grounding conductor")).to_contain_text("at least 12 AWG")
    page.get_by_role("button", name="Take 30 A in sight, 1 and 3").click()
    expect(part(page, "Disconnect 30")).to_be_visible()
    part(page, "Disconnect").click()
    expect(reason).to_contain_text("12.65 A")


TRIALS = [
    ("breaker", [("fill", "Breaker or fuse rating", "20")], "20 A is above the 15 A", "Make it 15 A"),
    ("interior", [("pick", "Conductor size", "14 AWG")], "14 AWG", None),
    ("interior", [("pick", "Place", "outdoor")], "NM-B may not be outdoors", "Make it THWN-2 in PVC"),
    ("interior", [("fill", "Length", "210")], "3 % is advised", "Make it 10 AWG"),
    ("Disconnect", [("pick", "In sight of the unit", "out of sight of the unit")],
     "The disconnect is out of sight", "Put it within sight"),
]  # fmt: skip


@pytest.mark.parametrize(("place", "edits", "words", "fix"), TRIALS, ids=[trial[2] for trial in TRIALS])
def test_a_trial_gives_its_finding_and_the_action_that_clears_it(
    workshop: Page, place: str, edits: list[tuple[str, str, str]], words: str, fix: str | None
) -> None:
    page = workshop
    part(page, place).click()
    for how, label, value in edits:
        if how == "fill":
            enter(page, label, value)
        else:
            page.get_by_label(label, exact=True).select_option(value)
    findings = page.get_by_role("list", name="Findings")
    if fix is None:
        # 14 AWG beside 12 AWG is lawful here: it carries 15 A, and the reason shows what is left in hand.
        expect(page.get_by_role("complementary")).to_contain_text("14 AWG carries")
        expect(findings).to_have_count(0)
        return
    expect(findings).to_contain_text(words)
    findings.get_by_role("button", name=fix, exact=True).click()
    expect(page.get_by_text(words)).to_have_count(0)


def test_steps_back_and_forward_by_keys_and_the_history(workshop: Page) -> None:
    page = workshop
    breaker = part(page, "breaker")
    breaker.click()
    for value in ("20", "25", "30"):
        enter(page, "Breaker or fuse rating", value)
        expect(page.get_by_role("heading", name=f"Why {value} A")).to_be_visible()
    for value in ("25", "20", "15"):
        page.keyboard.press("Control+z")
        expect(page.get_by_role("heading", name=f"Why {value} A")).to_be_visible()
    page.keyboard.press("Control+Shift+z")
    expect(page.get_by_role("heading", name="Why 20 A")).to_be_visible()
    page.keyboard.press("h")
    history = page.get_by_role("complementary", name="History")
    expect(history.get_by_role("listitem").first).to_contain_text("Brought back: MS-1 breaker rating 20 A, was 15 A")
    expect(history.get_by_role("listitem").first).to_contain_text(re.compile(r"Revision \d+ · Ines Tarn"))
    # Any revision is looked at whole: nothing of it can be changed, and it can be brought back.
    history.get_by_role("button", name="Look at revision 4", exact=True).click()
    past = page.get_by_role("region", name="An earlier revision")
    expect(past).to_contain_text("as it stood at revision 4")
    part(page, "breaker").click()
    expect(page.get_by_role("heading", name="Why 25 A")).to_be_visible()
    expect(page.get_by_label("Breaker or fuse rating")).to_be_disabled()
    past.get_by_role("button", name="Bring it back").click()
    expect(past).to_have_count(0)
    expect(page.get_by_label("Breaker or fuse rating")).to_have_value("25")
    page.keyboard.press("h")
    expect(history.get_by_role("listitem").first).to_contain_text("As at revision 4 again: MS-1 breaker rating 25 A")


def test_what_cannot_be_is_told_at_its_field_and_what_was_typed_stays(workshop: Page) -> None:
    page = workshop
    part(page, "Unit").click()
    field = page.get_by_label("Minimum circuit ampacity (MCA)")
    for nonsense, words in (("eleven", "Write one value, as"), ("-3", "must be above"), ("9e99", "must not be above")):
        field.fill(nonsense)
        field.press("Enter")
        expect(page.get_by_role("alert").filter(has_text=words)).to_be_visible()
        expect(field).to_have_value(re.compile(f"^{nonsense[:2]}"))
        expect(part(page, "Unit OU-1, north wall 11")).to_be_visible()
    field.fill("12.5")
    field.press("Enter")
    expect(part(page, "Unit OU-1, north wall 12.5")).to_be_visible()
    expect(page.get_by_role("alert").filter(has_text="must")).to_have_count(0)
    field.fill("99")
    field.press("Escape")
    expect(field).to_have_value("12.5")
    field.fill("")
    field.press("Enter")
    expect(page.get_by_label("Still to enter", exact=True)).to_contain_text("MCA")
    expect(page.get_by_role("list", name="Still to enter here")).to_contain_text("(MCA) is not known")


def test_the_whole_line_by_keyboard(workshop: Page) -> None:
    page = workshop
    part(page, "breaker").click()
    page.keyboard.press("ArrowRight")
    expect(part(page, "interior")).to_be_focused()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Breaker or fuse rating")).to_be_focused()
    page.keyboard.press("Control+a")
    page.keyboard.type("20")
    page.keyboard.press("Enter")
    expect(part(page, "breaker 20")).to_be_visible()
    page.get_by_label("Breaker or fuse rating").focus()
    page.keyboard.press("Escape")
    expect(part(page, "breaker 20")).to_be_focused()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("bring back")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("7")
    expect(page.get_by_text("Do not energise")).to_be_visible()


def test_a_reader_reads_and_changes_nothing(open_as: SignIn) -> None:
    page = open_as("w.lune")
    install(page, "Bindery workshop")
    expect(page.get_by_role("list", name="Findings")).to_contain_text("NM-B may not be outdoors")
    expect(page.get_by_role("button", name="Make it THWN-2 in LFNC")).to_have_count(0)
    expect(page.get_by_label("Length", exact=True)).to_be_disabled()


def test_segments_are_added_and_removed(workshop: Page) -> None:
    page = workshop
    part(page, "interior").click()
    page.get_by_role("button", name="Add one after it").click()
    expect(page.locator('svg [data-part^="run/"]')).to_have_count(4)
    page.get_by_label("Still to enter", exact=True).get_by_role("button", name="length").click()
    expect(page.get_by_label("Length", exact=True)).to_be_focused()
    page.locator('[data-part="run/s4"]').click()
    page.get_by_role("button", name="Remove it").click()
    expect(page.locator('svg [data-part^="run/"]')).to_have_count(3)
