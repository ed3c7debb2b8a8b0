"""Will it start: the trailer's start drawn, changed where it is read, and its ways out tried."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import SignIn


def starts(page: Page) -> Page:
    page.get_by_role("navigation", name="Places").get_by_role("link", name="Will it start").click()
    expect(page.get_by_role("heading", level=1)).to_have_text(re.compile("^It trips within 35 min, perhaps after 1"))
    return page


def test_the_trailer_trips_and_a_way_out_starts_it(open_as: SignIn) -> None:
    page = starts(open_as())
    heading = page.get_by_role("heading", level=1)
    expect(page.get_by_role("img", name="Heat of the breaker")).to_have_attribute(
        "aria-label", re.compile("the quickest breakers trip")
    )
    page.get_by_role("button", name="Try it").first.click()
    expect(heading).to_have_text("It starts")
    expect(page.get_by_role("button", name="front, not called")).to_be_visible()
    expect(page.get_by_text("Dashed: the run before.")).to_be_visible()
    # What was entered stays over a reload, in this browser alone.
    page.reload()
    expect(page.get_by_role("button", name="front, not called")).to_be_visible()


def test_figures_are_changed_where_they_are_read_and_a_call_along_its_line(open_as: SignIn) -> None:
    page = starts(open_as())
    heading = page.get_by_role("heading", level=1)
    ohms = page.get_by_label("Ohms of source and conductors")
    ohms.fill("0.6")
    ohms.press("Enter")
    expect(heading).to_have_text(re.compile("^A motor may not come up, 3.0 s in"))
    ohms.fill("a lot")
    ohms.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is no figure")
    ohms.fill("200")
    ohms.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("supply.source_ohms: must not be above 100")
    ohms.fill("")
    ohms.press("Enter")
    expect(heading).not_to_have_text(re.compile("come up"))
    ohms.fill("0,08")
    ohms.press("Enter")
    breaker = page.get_by_label("Breaker", exact=True)
    breaker.fill("50")
    breaker.press("Enter")
    expect(heading).to_have_text("It starts")
    rear = page.get_by_role("button", name=re.compile("^rear, called"))
    rear.focus()
    for _ in range(4):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name="rear, called at 2 s")).to_be_visible()
    handle = page.get_by_role("button", name="front, called at 0 s").locator("rect").last
    box = handle.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 5, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + 205, box["y"] + 10, steps=8)
    page.mouse.up()
    moved = page.get_by_role("button", name=re.compile(r"^front, called at [1-9]"))
    expect(moved).to_be_visible()
    editor = page.get_by_role("region", name="Load front")
    editor.get_by_label("Start aid").select_option(label="a soft starter")
    editor.get_by_label("Peak of the soft starter").fill("20")
    editor.get_by_label("Peak of the soft starter").press("Enter")
    expect(heading).to_have_text("Not known yet")
    editor.get_by_label("Ramp of the soft starter").fill("2")
    editor.get_by_label("Ramp of the soft starter").press("Enter")
    expect(heading).to_have_text("It starts")


def test_a_log_is_drawn_beside_the_prediction(open_as: SignIn) -> None:
    page = starts(open_as())
    log = page.get_by_role("region", name="A logged current")
    rows = [(at / 10, 0 if at < 200 else 55 if at < 204 else 15 if at < 900 else 0) for at in range(1200)]
    text = "t_s,a\n" + "".join(f"{at},{amps}\n" for at, amps in rows)
    log.get_by_label("A log as a file").set_input_files(
        {"name": "log.csv", "mimeType": "text/csv", "buffer": text.encode()}
    )
    expect(log.get_by_role("listitem").first).to_contain_text("20.0 s start: 0.0 to 15.0 A, 55 A at its peak")
    expect(log.get_by_role("listitem").last).to_contain_text("90.0 s stop: 15.0 to 0.0 A")
    wrong = {"name": "log.csv", "mimeType": "text/csv", "buffer": b"t_s,a\n0,1\n1,holiday\n"}
    log.get_by_label("A log as a file").set_input_files(wrong)
    expect(log.get_by_role("status")).to_contain_text("row 3, a: is no number")
