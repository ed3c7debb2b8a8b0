"""Nonsense in every field of every part: a message or a value, nothing lost, nothing broken."""

from __future__ import annotations

import pytest
from installs.models import PlanRevision
from playwright.sync_api import Page, Response, expect

from tests.browser.conftest import SignIn, install, part

NONSENSE = ["-1", "1e308", "NaN", "<b>\u202e¤</b>", "x" * 250, "2026-02-31", "0"]
PARTS = ["Source", "breaker", "interior", "through the wall", "Disconnect", "whip", "Unit"]


def watch(page: Page) -> list[str]:
    """Every answer that a server gives only when it has failed."""
    failed: list[str] = []

    def look(response: Response) -> None:
        if response.status >= 500:
            failed.append(f"{response.status} {response.url}")

    page.on("response", look)
    return failed


@pytest.mark.parametrize("name", PARTS)
def test_nonsense_in_every_field(open_as: SignIn, name: str) -> None:
    page = open_as()
    failed = watch(page)
    install(page, "Bindery workshop")
    if name == "Source":
        page.locator("svg text", has_text="Panel A").click()
    else:
        part(page, name).click()
    paths = page.locator("[data-reason] input[data-path]").evaluate_all("all => all.map(e => e.dataset.path)")
    assert paths
    for path in paths:
        field = page.locator(f'[data-reason] [data-path="{path}"]')
        before = field.input_value()
        for nonsense in NONSENSE:
            field.fill(nonsense)
            with page.expect_response("**/patches"):
                field.press("Enter")
            page.wait_for_function("() => !document.body.innerText.includes('saving …')")
            # Refused: the message stands there and so does what was typed. Taken: it is a value like any other.
            if field.get_attribute("aria-invalid") == "true":
                expect(field).to_have_value(nonsense)
                message = page.locator(f"#{field.get_attribute('aria-describedby')}")
                expect(message).not_to_be_empty()
        field.fill(before)
        field.press("Enter")
        expect(field).to_have_value(before)
        expect(field).to_have_attribute("aria-invalid", "false")
    expect(page.get_by_role("group", name="Line MS-1")).to_be_visible()
    assert failed == []
    newest = PlanRevision.objects.order_by("-number").first()
    assert newest is not None
    assert newest.document["equipment"]["OU-1"]["nameplate"]["mca_a"] == 11


@pytest.mark.parametrize(("view", "fields"), [("panels", 8), ("suit", 20)])
def test_nonsense_in_every_field_of_the_other_views(open_as: SignIn, view: str, fields: int) -> None:
    page = open_as()
    failed = watch(page)
    install(page, "Museum plant")
    page.goto(page.url.replace("/lines", f"/{view}"))
    page.locator("main input[data-path]").first.wait_for()
    paths = page.locator("main input[data-path]").evaluate_all("all => all.map(e => e.dataset.path)")
    assert len(paths) >= fields
    for path in paths:
        field = page.locator(f'main input[data-path="{path}"]')
        before = field.input_value()
        for nonsense in ("-1", "<b>\u202e¤</b>", "x" * 250):
            field.fill(nonsense)
            with page.expect_response("**/patches"):
                field.press("Enter")
            page.wait_for_function("() => !document.body.innerText.includes('saving …')")
            if field.get_attribute("aria-invalid") == "true":
                expect(field).to_have_value(nonsense)
                expect(page.locator(f"#{field.get_attribute('aria-describedby')}")).not_to_be_empty()
        if before:
            field.fill(before)
            field.press("Enter")
            expect(field).to_have_value(before)
            expect(field).to_have_attribute("aria-invalid", "false")
    assert failed == []


def test_two_lines_and_the_keys_between_them(open_as: SignIn) -> None:
    page = open_as()
    install(page, "Ticket kiosk")
    page.keyboard.press("2")
    page.get_by_role("button", name="Add a line").click()
    page.get_by_label("Unit of the new line").select_option("mini-split, outdoor unit")
    page.get_by_role("button", name="Draw it").click()
    second = page.get_by_role("group", name="Line MS-2")
    expect(second).to_contain_text("no plate yet")
    first_breaker = page.locator('[data-line="MS-1"] [data-part="ocpd"]')
    first_breaker.click()
    page.keyboard.press("ArrowDown")
    expect(page.locator('[data-line="MS-2"] [data-part="ocpd"]')).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Breaker or fuse rating")).to_be_focused()
    page.get_by_role("textbox", name="Spaces in the panel").fill("6, 8")
    page.keyboard.press("Enter")
    findings = page.locator('[data-line="MS-2"]').get_by_role("list", name="Findings")
    expect(findings).to_contain_text("Space 6 belongs to MS-1.")
    findings.get_by_role("button", name="Use 1 and 3").click()
    expect(page.locator('[data-line="MS-2"]')).to_contain_text("spaces 1, 3")
    # By its spaces it stands above the other line now, once the server has said so.
    expect(page.locator("[data-line]").first).to_have_attribute("data-line", "MS-2")
    page.keyboard.press("Escape")
    page.locator('[data-line="MS-2"] [data-part="ocpd"]').focus()
    page.keyboard.press("ArrowDown")
    expect(first_breaker).to_be_focused()
