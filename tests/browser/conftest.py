"""Debian's Chromium on the built front end, served by Django on PostgreSQL. A foreign request fails the test."""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Callable, Iterator
from typing import Any
from urllib.parse import urlparse

import pytest
from django.contrib.contenttypes.models import ContentType
from django.core.signals import request_finished, request_started
from django.db import connection
from django.dispatch import receiver
from installs import results
from playwright.sync_api import BrowserContext, Page, expect
from upkeep.demo import PASSWORD, load_demo

CHROMIUM = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip
DESK, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}
# Only a failing test waits so long: on a machine that is busy with other work everything takes its time.
PATIENCE_MS = 90_000
expect.set_options(timeout=PATIENCE_MS)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": "/usr/bin/chromium", "args": CHROMIUM}


@pytest.fixture(scope="session", autouse=True)
def _sync_calls_beside_the_browsers_loop(playwright: Any) -> Iterator[None]:
    """The browser's loop lives until the session ends; Django's tests call the database beside it."""
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
    yield
    del os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"]


@pytest.fixture
def demo(transactional_db: None) -> None:
    # A flushed database has lost what migrations put into it; the demo fills it anew.
    ContentType.objects.clear_cache()
    load_demo()


SignIn = Callable[..., Page]


@pytest.fixture
def open_as(demo: None, live_server: Any, browser: Any) -> Iterator[SignIn]:
    """Open the application in a window of its own, signed in as somebody."""
    contexts: list[BrowserContext] = []
    trouble: list[str] = []

    def open_window(username: str | None = "i.tarn", viewport: dict[str, int] = DESK, **options: Any) -> Page:
        context = browser.new_context(
            base_url=live_server.url, viewport=viewport, locale="en-US", **{"service_workers": "block", **options}
        )
        context.set_default_timeout(PATIENCE_MS)
        contexts.append(context)
        page = context.new_page()
        page.on("request", lambda request: _foreign(request.url, live_server.url, trouble))
        page.on("pageerror", lambda error: trouble.append(f"script error: {error}"))
        page.on("console", lambda entry: _complaint(entry, trouble))
        page.goto("/")
        if username:
            page.get_by_label("Name").fill(username)
            page.get_by_label("Password").fill(PASSWORD)
            page.get_by_role("button", name="Sign in").click()
            expect(page.get_by_role("heading", level=1)).to_contain_text("install")
        return page

    yield open_window
    for context in contexts:
        context.close()
    _settle()
    assert trouble == []


# The server's threads that are answering. One that has answered may live on: the browser keeps connections.
_answering: set[int] = set()


@receiver(request_started)
def _begins(**_: Any) -> None:
    _answering.add(threading.get_ident())


@receiver(request_finished)
def _ends(**_: Any) -> None:
    _answering.discard(threading.get_ident())


def _settle() -> None:
    """Let the server end what a closed window had asked for: the database is emptied next, and would deadlock."""
    busy = (
        "SELECT 1 FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid() "
        "AND state <> 'idle'"
    )
    calm = 0
    for _ in range(2000):
        # What is kept comes after the answer.
        answering = bool(_answering)
        results.settle()
        with connection.cursor() as cursor:
            cursor.execute(busy)
            calm = 0 if answering or cursor.fetchone() else calm + 1
        if calm >= 4:
            return
        time.sleep(0.05)


def _foreign(url: str, home: str, trouble: list[str]) -> None:
    if urlparse(url).scheme in ("http", "https", "ws", "wss") and not url.startswith(home):
        trouble.append(f"foreign request: {url}")


def _complaint(entry: Any, trouble: list[str]) -> None:
    # A refused write is told as a failed request; anything else that is red is a fault.
    if entry.type == "error" and "Failed to load resource" not in entry.text:
        trouble.append(f"console: {entry.text}")


def install(page: Page, name: str) -> None:
    page.get_by_role("link", name=name).click()
    expect(page.get_by_role("heading", name=name, level=1)).to_be_visible()


def part(page: Page, name: str) -> Any:
    """A part of the drawn line by the beginning of its spoken name."""
    return page.locator(f'svg [role=button][aria-label^="{name}"]')


def enter(page: Page, label: str, value: str) -> None:
    page.get_by_label(label, exact=True).fill(value)
    page.keyboard.press("Enter")
