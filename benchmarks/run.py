"""What it costs: sizing, a change over HTTP, the board, the Lines screen. Prints figures; asserts nothing.

Runs on a database of its own beside the project's, with 10,000 installs (200 with --small).
"""

from __future__ import annotations

import http.client
import io
import json
import statistics
import sys
import time
import uuid
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from scripts.stage import database, server, set_the_stage

set_the_stage("leitung_benchmark")

from accounts.models import Company, User  # noqa: E402
from collecting import rarely  # noqa: E402
from django.db import connection  # noqa: E402
from django.test import Client  # noqa: E402
from django.utils import timezone  # noqa: E402
from documents import kept  # noqa: E402
from documents.models import Sheet  # noqa: E402
from documents.together import together  # noqa: E402
from installs import actions  # noqa: E402
from installs.models import Install, PlanRevision  # noqa: E402
from leitung_core.circuits import size_document  # noqa: E402
from leitung_core.plan.model import read_plan  # noqa: E402
from leitung_core.plan.patch import merge  # noqa: E402
from leitung_core.plant.plant import Plant  # noqa: E402
from leitung_core.result import check_plan  # noqa: E402
from leitung_core.sizing import forget  # noqa: E402
from leitung_core.wiring.check import check_wiring  # noqa: E402
from leitung_core.wiring.view import wiring_result  # noqa: E402
from leitung_demo import kiosk, museum  # noqa: E402
from playwright.sync_api import Page, sync_playwright  # noqa: E402
from pypdf import PdfReader  # noqa: E402
from records import actions as records  # noqa: E402
from upkeep.demo import PASSWORD  # noqa: E402

from benchmarks import mixed  # noqa: E402
from benchmarks.bench import bench_network  # noqa: E402
from benchmarks.starts import bench_starts  # noqa: E402
from tests.browser.conftest import CHROMIUM  # noqa: E402
from tests.core.documents import document  # noqa: E402


def timed(call: Callable[[], Any], times: int, warm: int = 3) -> list[float]:
    """Milliseconds of each call."""
    for _ in range(warm):
        call()
    found = []
    for _ in range(times):
        started = time.perf_counter()
        call()
        found.append((time.perf_counter() - started) * 1000)
    return found


def p50(values: list[float]) -> float:
    return statistics.median(values)


def p95(values: list[float]) -> float:
    return sorted(values)[int(len(values) * 0.95)]


def report(what: str, values: list[float], note: str = "") -> None:
    print(f"{what:<58} p50 {p50(values):8.2f} ms   p95 {p95(values):8.2f} ms   {note}", flush=True)


def fill(company: Company, author: User, count: int) -> None:
    """Installs with one revision each, in the stations that a year of work leaves them in."""
    plan, now = kiosk(), timezone.now()
    stations = ("lines", "start-up", "handover", "signed")
    installs = [
        Install(
            id=uuid.uuid4(), company=company, name=f"Install {n}", site=f"Site {n % 400}", station=stations[n % 4],
            next="Next", changed_at=now - timedelta(minutes=n),
        )
        for n in range(count)
    ]  # fmt: skip
    Install.objects.bulk_create(installs, batch_size=2000)
    PlanRevision.objects.bulk_create(
        [
            PlanRevision(
                company=company, install=install, number=1, kind="create", document=plan, patch={}, inverse={},
                summary="Install begun", author=author,
            )
            for install in installs
        ],
        batch_size=1000,
    )  # fmt: skip
    with connection.cursor() as cursor:
        cursor.execute("ANALYZE")


def bench_machine(times: int) -> None:
    """What this machine itself adds: the same arithmetic, over and over. Its spread is in every figure below."""
    report("control: the same arithmetic each time", timed(lambda: sum(range(600_000)), times))


def bench_sizing(times: int) -> None:
    doc = document()
    report("size one circuit, document to result", timed(lambda: size_document(doc), times, 20))


def bench_many(few: int) -> None:
    """A thousand mixed circuits one by one; plans of growing size whole, and with one circuit changed."""
    documents = mixed.size_documents(few)
    started = time.perf_counter()
    for entry in documents:
        size_document(entry)
    whole = (time.perf_counter() - started) * 1000
    print(f"{f'{few} mixed circuits one by one':<58} all {whole:8.0f} ms   each {whole / few:6.2f} ms", flush=True)
    for count in (50, 100, 200, 400):
        document_ = mixed.plan(count)

        def cold(document_: dict[str, Any] = document_) -> None:
            forget()
            check_plan(read_plan(document_))

        values = timed(cold, 7, 1)
        report(f"a plan of {count} circuits, nothing known before", values, f"{p50(values) / count:.2f} ms a circuit")
    document_ = mixed.plan(200)
    state = {"n": 0}

    def edited() -> None:
        state["n"] += 1
        patch = {"circuits": {"C7": {"run": {"s0": {"length_ft": 20 + state["n"]}}}}}
        check_plan(read_plan(merge(document_, patch)))

    report("a plan of 200 circuits, one of them changed", timed(edited, 60))


def bench_wiring(times: int) -> None:
    """The landings of a plan of 200 conductors: every rule, and everything that a screen shows of it."""
    plan = read_plan(mixed.wiring(25))
    report("200 conductors: every check of the wiring", timed(lambda: check_wiring(Plant(plan)), times))
    report("200 conductors: checks, proposals and views", timed(lambda: wiring_result(Plant(plan)), times))


# Takes a conductor's end up, moves it one terminal on and lands it: to the drawing, and to the answer.
LAND = """
async (turn) => {
  const grip = document.querySelector('[data-grip="white b"]');
  const key = (name) => grip.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true }));
  const frame = () => new Promise((next) => requestAnimationFrame(next));
  const revision = () => document.querySelector('header button[aria-expanded]').textContent;
  grip.focus();
  key('Enter');
  await frame();
  await frame();
  key(turn % 2 ? 'ArrowLeft' : 'ArrowRight');
  await frame();
  await frame();
  const path = () => document.querySelector('[data-wire="white"] path').getAttribute('d');
  const before = path(), asked = revision(), started = performance.now();
  key('Enter');
  while (path() === before) await frame();
  const drawn = performance.now() - started;
  while (revision() === asked) await frame();
  return [drawn, performance.now() - started];
}
"""


def bench_landing(page: Page, base: str, install: str, times: int) -> None:
    """A conductor landed on another terminal, among 200."""
    page.goto(f"{base}/installs/{install}/landings?cable=TC-7")
    page.locator('[data-grip="white b"]').wait_for()
    both = [page.evaluate(LAND, n) for n in range(times + 3)][3:]
    report("200 conductors: a conductor landed, to the drawing", [drawn for drawn, _ in both])
    report("200 conductors: a conductor landed, to the new findings", [answered for _, answered in both])


def bench_large_change(http: Http, lead: User, times: int) -> None:
    """A change to one circuit of 200, over HTTP, to the whole answer."""
    install = str(actions.create(lead, mixed.plan(200), "mixed").install.id)
    state = {"base": 1, "n": 0, "bytes": 0}

    def change() -> None:
        state["n"] += 1
        patch = {"circuits": {"C7": {"run": {"s0": {"length_ft": 20 + state["n"]}}}}}
        body = {"base_revision": state["base"], "patch": patch, "only_changed": True}
        answer = http.call("POST", f"/api/installs/{install}/patches", body)[0]
        state["base"] = answer["install"]["revision"]

    report("a change to one of 200 circuits, over HTTP", timed(change, times))


def bench_museum(times: int) -> None:
    """A full check of the demo's plant: every line, landing and control system; what did not change is not kept."""
    plan_ = read_plan(museum())

    def cold() -> None:
        forget()
        check_plan(plan_)

    report("the museum: a full check", timed(lambda: check_plan(plan_), times))
    report("the museum: a full check, no line known before", timed(cold, times))


def bench_tick(http: Http, lead: User, times: int) -> None:
    """A step of the museum ticked: over HTTP with its whole answer, and the action alone."""
    install = actions.create(lead, museum(), "ticked").install
    steps = [row["key"] for row in http.call("GET", f"/api/installs/{install.id}/record")[0]["steps"]]
    cold_ = [key for key in steps if key.endswith((".main-off", ".breaker-locked", ".meter-before", ".dead"))]
    state = {"n": 0}

    def key() -> str:
        state["n"] += 1
        return str(cold_[state["n"] % len(cold_)])

    path = f"/api/installs/{install.id}/steps"
    report("a tick, over HTTP", timed(lambda: http.call("POST", path, {"key": key(), "done": True}), times))
    report("a tick, the action in the server", timed(lambda: records.tick(lead, install.id, key(), True, ""), times))


class Http:
    """One signed-in client on a kept connection."""

    def __init__(self, base: str, username: str) -> None:
        self.connection = http.client.HTTPConnection(base.removeprefix("http://"))
        browser = Client(headers={"host": "127.0.0.1"})
        browser.force_login(User.objects.get(username=username))
        browser.get("/api/session")
        self.cookies = "; ".join(f"{name}={morsel.value}" for name, morsel in browser.cookies.items())
        self.token = browser.cookies["csrftoken"].value if "csrftoken" in browser.cookies else ""
        if not self.token:
            answer, headers = self.call("GET", "/api/session")
            self.token = answer["csrf_token"]
            self.cookies += "; " + (headers.get("Set-Cookie") or "").split(";")[0]

    def call(self, method: str, path: str, body: Any = None) -> tuple[Any, Any]:
        headers = {
            "Cookie": self.cookies,
            "Content-Type": "application/json",
            "X-CSRFToken": getattr(self, "token", ""),
        }
        headers["Idempotency-Key"] = uuid.uuid4().hex
        self.connection.request(method, path, json.dumps(body) if body is not None else None, headers)
        answer = self.connection.getresponse()
        data = json.loads(answer.read())
        if answer.status >= 400:
            raise RuntimeError(f"{method} {path}: {answer.status} {data}")
        return data, answer.headers


def bench_change(http: Http, lead: User, install: str, times: int) -> None:
    """A change to all new results, against the same rows written by bare SQL."""
    state = {"base": 1, "n": 0}

    def change() -> None:
        state["n"] += 1
        patch = {"circuits": {"MS-1": {"run": {"s1": {"length_ft": 20 + state["n"] % 200}}}}}
        body = {"base_revision": state["base"], "patch": patch}
        state["base"] = http.call("POST", f"/api/installs/{install}/patches", body)[0]["install"]["revision"]

    over_http = timed(change, times)
    other = actions.create(lead, kiosk(), "bare").install
    document_, number = json.dumps(kiosk()), {"n": 1}

    def bare() -> None:
        number["n"] += 1
        with connection.cursor() as cursor:
            cursor.execute("BEGIN")
            cursor.execute(
                "INSERT INTO installs_planrevision (company_id, install_id, number, kind, document, patch, inverse, "
                "summary, author_id, at) VALUES (%s, %s, %s, 'edit', %s, '{}', '{}', '', %s, now())",
                [other.company_id, other.id, number["n"], document_, lead.id],
            )
            cursor.execute(
                "UPDATE installs_install SET revision = %s, changed_at = now() WHERE id = %s", [number["n"], other.id]
            )
            cursor.execute("COMMIT")

    floor = timed(bare, times)
    report("a change to new results, over HTTP", over_http, f"{p50(over_http) / p50(floor):.1f} x the bare rows")
    report("  floor: the same two rows by bare SQL", floor)


def bench_board(small: Http, large: Http, few: int, many: int, times: int) -> None:
    lists = [timed(lambda http=http: http.call("GET", "/api/installs"), times) for http in (small, large)]
    report(f"the board's first page, {few} installs", lists[0])
    report(f"the board's first page, {many} installs", lists[1], f"{p50(lists[1]) / p50(lists[0]):.2f} x that of {few}")


# Types a length as a person would and waits for the drop on the drawing to follow.
TYPE = """
async (length) => {
  const field = document.querySelector('[data-path$="/length_ft"]');
  const figure = [...document.querySelectorAll('svg[role=group] text')].find((text) => text.textContent.includes('%'));
  const before = figure.textContent;
  field.focus();
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, String(length));
  field.dispatchEvent(new Event('input', { bubbles: true }));
  const started = performance.now();
  field.blur();
  while (true) {
    const now = [...document.querySelectorAll('svg[role=group] text')].find((text) => text.textContent.includes('%'));
    if (now && now.textContent !== before) return performance.now() - started;
    await new Promise((next) => requestAnimationFrame(next));
  }
}
"""


# Types a length and waits until the header names the revision that it made.
REVISE = """
async (length) => {
  const field = document.querySelector('[data-path$="/length_ft"]');
  const revision = () => document.querySelector('header button[aria-expanded]').textContent;
  const asked = revision();
  field.focus();
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, String(length));
  field.dispatchEvent(new Event('input', { bubbles: true }));
  const started = performance.now();
  field.blur();
  while (revision() === asked) await new Promise((next) => requestAnimationFrame(next));
  return performance.now() - started;
}
"""


def bench_many_lines(page: Page, base: str, install: str, times: int) -> None:
    """Lines of an install of 200 circuits, opened, and a length changed on one of them."""

    def open_lines() -> None:
        page.goto(f"{base}/installs/{install}/lines")
        page.locator("svg [data-part=unit]").wait_for()

    report("200 circuits: open Lines, page load to drawn line", timed(open_lines, max(8, times // 8), 1))
    page.locator('[data-part="run/s0"]').first.click()
    page.get_by_label("Length", exact=True).wait_for()
    changed = [page.evaluate(REVISE, 60 + n) for n in range(times + 3)][3:]
    report("200 circuits: a change to its revision on screen", changed)


def bench_browser(base: str, install: str, wired: str, many: str, times: int) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        page: Page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(base)
        page.get_by_label("Name").fill("i.tarn")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("heading", name="install").wait_for()

        def open_lines() -> None:
            page.goto(f"{base}/installs/{install}/lines")
            page.locator("svg [data-part=unit]").wait_for()

        report("open Lines in the browser, page load to drawn line", timed(open_lines, max(5, times // 8), 1))
        page.locator('[data-part="run/s1"]').click()
        page.get_by_label("Length", exact=True).wait_for()
        typed = [page.evaluate(TYPE, 60 + 40 * (n % 2) + n) for n in range(times + 3)][3:]
        report("a change on the line to all new numbers on screen", typed)
        bench_landing(page, base, wired, times)
        bench_many_lines(page, base, many, times)
        browser.close()


def bench_package(lead: User, times: int) -> None:
    found = actions.checked(Install.objects.get(name="Museum plant"))
    made: list[bytes] = []

    def anew() -> None:
        Sheet.objects.filter(kind=kept.KIND).delete()
        made.append(together(found, lead, []).pdf())

    report("the museum's package as PDF", timed(anew, times, 0), f"{len(PdfReader(io.BytesIO(made[0])).pages)} pages")
    report("the same, its parts kept", timed(lambda: together(found, lead, []).pdf(), times, 0), "contents laid out")


def main() -> None:
    rarely()
    small = "--small" in sys.argv
    many, few, times = (200, 20, 10) if small else (10_000, 100, 200)
    bench_machine(times)
    bench_sizing(200 if small else 2000)
    bench_many(100 if small else 1000)
    bench_museum(30)
    bench_wiring(times)
    bench_network(timed, report, 30)
    bench_starts(timed, report, 30)
    with database():
        lead, other = User.objects.get(username="i.tarn"), User.objects.get(username="p.ember")
        fill(lead.company, lead, many)
        fill(other.company, other, few)
        bench_package(lead, 3)
        install = str(Install.objects.get(name="Ticket kiosk").id)
        with server() as base:
            http = Http(base, "i.tarn")
            bench_change(http, lead, install, times)
            bench_large_change(http, lead, max(10, times // 4))
            bench_tick(http, lead, max(10, times // 4))
            bench_board(Http(base, "p.ember"), http, few, many, times)
            wired = str(actions.create(lead, mixed.wiring(25), "wired").install.id)
            many_lines = str(actions.create(lead, mixed.plan(200), "many lines").install.id)
            bench_browser(base, install, wired, many_lines, times if small else 100)


if __name__ == "__main__":
    main()
