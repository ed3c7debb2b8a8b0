"""The API: one router per app, strict JSON, problem+json errors."""

from __future__ import annotations

from typing import Any

import orjson
from accounts.api import router as accounts
from accounts.people_api import router as people
from bench.api import router as bench
from catalogue.api import router as catalogue
from django.http import HttpRequest
from documents.api import router as documents
from installs.api import router as installs
from installs.board import router as board
from installs.entry import router as entry
from installs.rulebook import router as rulebook
from installs.since import router as since
from installs.starts import router as starts
from leitung_core.validation import parse_json
from meters.api import router as meters
from ninja import NinjaAPI
from ninja.parser import Parser
from ninja.renderers import BaseRenderer
from ninja.responses import NinjaJSONEncoder
from ninja.security import SessionAuth
from photos.api import router as photos
from practice.api import router as practice
from problems import register
from readers.api import router as readers
from records.api import router as records
from records.packing import router as packing
from records.work import router as work
from weeks.api import router as weeks


class StrictParser(Parser):
    """Bodies by the core's strict reader: bad JSON and hostile nesting become a message."""

    def parse_body(self, request: HttpRequest) -> Any:
        return parse_json(request.body, "body")


class Renderer(BaseRenderer):
    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        return orjson.dumps(data, default=NinjaJSONEncoder().default, option=orjson.OPT_NON_STR_KEYS)


api = NinjaAPI(
    title="Leitung",
    version="1",
    auth=SessionAuth(csrf=True),
    parser=StrictParser(),
    renderer=Renderer(),
    docs_url=None,
    # Generated and kept as a file (config/views.py): put together at each call it costs a second and a half.
    openapi_url=None,
)
register(api)
api.add_router("", accounts)
api.add_router("", people)
api.add_router("", board)
api.add_router("", installs)
api.add_router("", bench)
api.add_router("", photos)
api.add_router("", records)
api.add_router("", packing)
api.add_router("", work)
api.add_router("", weeks)
api.add_router("", meters)
api.add_router("", documents)
api.add_router("", catalogue)
api.add_router("", rulebook)
api.add_router("", entry)
api.add_router("", starts)
api.add_router("", since)
api.add_router("", practice)
api.add_router("", readers)
