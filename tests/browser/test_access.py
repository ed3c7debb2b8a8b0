"""Every screen by the rules of axe-core: names, roles, contrast, targets."""

from __future__ import annotations

from typing import Any

import pytest
from django.conf import settings
from playwright.sync_api import Locator

from tests.browser.conftest import DESK, PHONE, SignIn, install

AXE = settings.ROOT / "web/node_modules/axe-core/axe.min.js"
RULES = {"runOnly": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]}


@pytest.mark.parametrize("viewport", [DESK, PHONE], ids=["desk", "phone"])
def test_no_screen_breaks_the_rules_of_access(open_as: SignIn, viewport: dict[str, int]) -> None:
    # The checker is injected; the application itself never needs the policy bent.
    page = open_as(None, viewport, bypass_csp=True)
    found: dict[str, Any] = {}

    def look(name: str, sign: Locator) -> None:
        # A busy machine is quiet for a while before anything is drawn.
        sign.first.wait_for()
        page.wait_for_load_state("networkidle")
        page.add_script_tag(path=AXE)
        for entry in page.evaluate("rules => axe.run(document, rules)", RULES)["violations"]:
            found[f"{name}: {entry['id']}"] = [node["html"][:160] for node in entry["nodes"]][:4]

    look("sign-in", page.get_by_role("button", name="Sign in"))
    page.get_by_label("Name").fill("i.tarn")
    page.get_by_label("Password").fill("copper-line-14")
    page.get_by_role("button", name="Sign in").click()
    look("board", page.get_by_role("link", name="Ticket kiosk"))
    install(page, "Bindery workshop")
    look("lines", page.locator("[data-part=unit]"))
    page.locator("[data-part=unit]").click()
    look("plate", page.get_by_label("Reason").get_by_role("heading"))
    page.keyboard.press("h")
    look("history", page.get_by_role("heading", name="History"))
    page.keyboard.press("7")
    look("start-up", page.get_by_text("Do not energise"))
    page.keyboard.press("8")
    look("handover", page.get_by_text("Not signed yet."))
    page.keyboard.press("?")
    look("keys", page.get_by_role("heading", name="Keys"))
    page.goto("/")
    install(page, "Museum plant")
    look("many lines", page.get_by_role("button", name="Open line UH-1"))
    page.get_by_role("button", name="Add a line").click()
    look("a new line", page.get_by_role("heading", name="A new line"))
    here = page.url.rsplit("/", 1)[0]
    for address, sign in (("site", "What feeds it"), ("panels", "On each leg"), ("suit", "String vault"),
                          ("rules", "Where practice differs"), ("landings?cable=IC-1", "Swap black and red"),
                          ("landings?device=AH-1", "thermostat strip"),
                          ("sheet?device=TS-1", "Lock out and prove dead"),
                          ("bench?system=AH-1", "Touch two terminals"),
                          ("bench?system=AH-1&sheet=patterns", "Fan on-delay relay"),
                          ("bench?system=AH-1&sheet=matrix", "high duct humidity"),
                          ("bench?system=AH-1&sheet=budgets", "Worst with"),
                          ("bench?system=AH-1&sheet=setup", "Stages of heat")):  # fmt: skip
        page.goto(f"{here}/{address}")
        look(address, page.get_by_text(sign))
    for address, sign in (("size", "What the plate says"), ("catalogue", "TW-09S"), ("rulebook", "310.16")):
        page.goto(f"/{address}")
        look(address, page.get_by_text(sign))
    assert found == {}
