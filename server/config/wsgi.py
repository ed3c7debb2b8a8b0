"""The WSGI application."""

import os
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent.parent
sys.path[:0] = [path for path in (str(ROOT / "core"), str(ROOT / "server")) if path not in sys.path]
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")

from django.core.wsgi import get_wsgi_application  # noqa: E402

application = get_wsgi_application()

# Loaded once before the workers fork: their first request is as quick as any other, and what was loaded stays
# out of every later garbage collection.
import gc  # noqa: E402

from collecting import rarely  # noqa: E402

import config.urls  # noqa: E402, F401

gc.collect()
gc.freeze()
rarely()
