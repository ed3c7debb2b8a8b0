"""What a running Leitung tells of itself: a line for each request, counters for whoever watches, whether it is well.

No name, text or figure that anybody entered stands in a log or a counter: routes, states and times only.
"""

from __future__ import annotations

import logging
import re
import shutil
import time
from collections.abc import Callable
from typing import Any
from uuid import uuid4

import structlog
from django.conf import settings
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe
from prometheus_client import (
    CONTENT_TYPE_LATEST,
    REGISTRY,
    CollectorRegistry,
    Counter,
    Gauge,
    Histogram,
    generate_latest,
    multiprocess,
)

Next = Callable[[HttpRequest], HttpResponse]
log = logging.getLogger("leitung.request")
ID = re.compile(r"[A-Za-z0-9_-]{8,64}")
SLOW_QUERY_S = 0.5
LEAST_FREE_BYTES = 200_000_000
OTHER = "other"

REQUESTS = Counter("leitung_requests", "Requests answered", ["method", "route", "status"])
SECONDS = Histogram("leitung_request_seconds", "How long a request took", ["route"],
                    buckets=(0.01, 0.05, 0.1, 0.25, 0.5, 1, 1.5, 2.5, 5, 10, 30))  # fmt: skip
QUERIES = Counter("leitung_queries", "Statements carried out by the database")
SLOW = Counter("leitung_slow_queries", f"Statements that took longer than {SLOW_QUERY_S} s", ["route"])


class Telemetry:
    """Around every request: its id, its time, its line in the log."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        given = request.headers.get("X-Request-ID", "")
        number = given if ID.fullmatch(given) else uuid4().hex
        request.request_id = number  # type: ignore[attr-defined]
        structlog.contextvars.bind_contextvars(request_id=number)
        begun = time.perf_counter()
        slow: list[tuple[str, float]] = []
        try:
            with connection.execute_wrapper(_watched(slow)):
                answer = self.get_response(request)
        finally:
            structlog.contextvars.clear_contextvars()
        took, route = time.perf_counter() - begun, _route(request)
        answer.headers["X-Request-ID"] = number
        REQUESTS.labels(request.method if request.method in KNOWN else OTHER, route, str(answer.status_code)).inc()
        SECONDS.labels(route).observe(took)
        said = {"request_id": number, "method": request.method, "route": route, "status": answer.status_code,
                "ms": round(took * 1000)}  # fmt: skip
        for statement, seconds in slow:
            SLOW.labels(route).inc()
            log.warning("slow query", extra=said | {"query": statement, "query_ms": round(seconds * 1000)})
        if route != OTHER:
            log.log(logging.ERROR if answer.status_code >= 500 else logging.INFO, "request", extra=said)
        return answer


KNOWN = ("GET", "HEAD", "POST", "DELETE", "OPTIONS", "PUT", "PATCH")


def _route(request: HttpRequest) -> str:
    """The pattern of the address, without anybody's ids; pages and files of the front end are one."""
    match = request.resolver_match
    return match.route if match is not None and match.route.startswith("api/") else OTHER


def _watched(slow: list[tuple[str, float]]) -> Callable[..., Any]:
    def watch(execute: Callable[..., Any], statement: str, params: Any, many: bool, context: Any) -> Any:
        begun = time.perf_counter()
        try:
            return execute(statement, params, many, context)
        finally:
            QUERIES.inc()
            took = time.perf_counter() - begun
            if took > SLOW_QUERY_S:
                # The statement as it is prepared: what was entered stands in its parameters.
                slow.append((str(statement)[:500], took))

    return watch


@require_safe
@never_cache
def live(request: HttpRequest) -> HttpResponse:
    """Whether this process answers at all."""
    return JsonResponse({"live": True})


@require_safe
@never_cache
def ready(request: HttpRequest) -> HttpResponse:
    """Whether requests can be served: the database answers and is of this release, and the disk has room."""
    found = {"database": _database(), "disk": shutil.disk_usage(settings.STATE).free > LEAST_FREE_BYTES}
    well = all(value in (True, "ok") for value in found.values())
    return JsonResponse({"ready": well, **found}, status=200 if well else 503)


def _database() -> str:
    try:
        executor = MigrationExecutor(connection)
        waiting = executor.migration_plan(executor.loader.graph.leaf_nodes())
    except DatabaseError:
        return "does not answer"
    return "of an earlier release" if waiting else "ok"


@require_safe
@never_cache
def metrics(request: HttpRequest) -> HttpResponse:
    """Counters of all processes in the open exposition format; only for this machine itself."""
    if request.META.get("REMOTE_ADDR") not in ("127.0.0.1", "::1") or "X-Forwarded-For" in request.headers:
        return HttpResponse("Only from this machine itself.", status=403, content_type="text/plain")
    registry = REGISTRY
    if settings.METRICS_FOLDER:
        registry = CollectorRegistry()
        multiprocess.MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    return HttpResponse(generate_latest(registry) + generate_latest(_standing()), content_type=CONTENT_TYPE_LATEST)


def _standing() -> CollectorRegistry:
    """What stands at this moment, for all processes alike."""
    registry = CollectorRegistry()
    jobs = Gauge("leitung_jobs", "Jobs of the worker", ["queue", "status"], registry=registry)
    oldest = Gauge("leitung_oldest_job_seconds", "How long the oldest job waits", registry=registry)
    backup = Gauge("leitung_backup_age_seconds", "How old the newest daily backup is; -1: none", registry=registry)
    with connection.cursor() as cursor:
        cursor.execute("SELECT queue_name, status, count(*) FROM procrastinate_jobs GROUP BY 1, 2")
        for queue, status, count in cursor.fetchall():
            jobs.labels(queue, status).set(count)
        cursor.execute("SELECT extract(epoch FROM now() - min(e.at)) FROM procrastinate_jobs j "
                       "JOIN procrastinate_events e ON e.job_id = j.id WHERE j.status = 'todo'")  # fmt: skip
        oldest.set(float(cursor.fetchone()[0] or 0))
    newest = max((file.stat().st_mtime for file in (settings.STATE / "backups").glob("leitung-*.zip")), default=None)
    backup.set(-1 if newest is None else timezone.now().timestamp() - newest)
    return registry
