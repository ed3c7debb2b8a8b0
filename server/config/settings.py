"""Settings. What differs by machine (database, secret key, ports) is read from the state directory's config.json."""

import json
import os
import sys
from pathlib import Path

import structlog
from csp.constants import NONE, SELF

from config import machine

ROOT = Path(__file__).resolve().parent.parent.parent
STATE = Path(os.environ.get("LEITUNG_STATE", ROOT / "var"))
_config_file = STATE / "config.json"
CONFIG = json.loads(_config_file.read_text("utf-8")) if _config_file.exists() else {}

DEBUG = False
_env = machine.with_secrets(os.environ)
SECRET_KEY = _env.get("LEITUNG_SECRET_KEY") or CONFIG.get("secret_key") or os.urandom(32).hex()
# While a key is exchanged: what the one before has signed still holds.
SECRET_KEY_FALLBACKS = [key] if (key := _env.get("LEITUNG_SECRET_KEY_BEFORE")) else []
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]", *machine.hosts(_env)]
HTTPS = machine.flag(_env, "LEITUNG_HTTPS")
BEHIND_PROXY = machine.flag(_env, "LEITUNG_BEHIND_PROXY")

INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django.contrib.auth",
    "django.contrib.sessions",
    "axes",
    "csp",
    "procrastinate.contrib.django",
    "accounts",
    "installs",
    "links",
    "meters",
    "bench",
    "photos",
    "records",
    "documents",
    "weeks",
    "practice",
    "readers",
    "catalogue",
    "upkeep",
]
MIDDLEWARE = [
    *(["config.middleware.BehindProxy"] if BEHIND_PROXY else []),
    "config.telemetry.Telemetry",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "config.middleware.Problems",
    "config.middleware.LimitBody",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "config.middleware.OneCompany",
    "config.budget.Budget",
    "config.middleware.Looks",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "config.middleware.WriteOnce",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]
APPEND_SLASH = False

_db = CONFIG.get("database", {})
# Tables and rules belong to the owner; what serves requests reads and writes rows, of one company at a time.
OWNERS_WORK = {"prepare", "migrate", "makemigrations", "generate", "backup", "restore", "company"}
DATABASE_ROLE, DATABASE_ROLE_PASSWORD = machine.application_role(_env, _db)
_alone = DATABASE_ROLE_PASSWORD is None and "LEITUNG_DATABASE_URL" not in _env
AS_OWNER = bool(OWNERS_WORK & set(sys.argv)) or "LEITUNG_AS_OWNER" in _env or _alone
_place = machine.database(_env, _db, AS_OWNER)
# No request holds the database for ever; bringing it up to a new release may take its time.
_limited_s = int(_env.get("LEITUNG_STATEMENT_S", "0" if AS_OWNER else "30"))
_limits = " ".join(
    f"-c {name}={_limited_s}s" for name in ("statement_timeout", "lock_timeout", "idle_in_transaction_session_timeout")
)
DATABASE_ANSWERS_S = _limited_s + 5 if _limited_s else 0
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "HOST": _place["host"],
        "PORT": _place["port"],
        # The benchmark fills a database of its own.
        "NAME": _env.get("LEITUNG_DATABASE") or _place["name"],
        "USER": _place["user"],
        "PASSWORD": _place["password"],
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {"connect_timeout": 5, "options": _limits, "tcp_user_timeout": 20_000, **_place["more"]},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_DISABLE_ACCESS_LOG = True
AXES_HTTP_RESPONSE_CODE = 429
AXES_VERBOSE = False

# With the prefix no other name below the same domain can plant one.
SESSION_COOKIE_NAME = "__Host-session" if HTTPS else "sessionid"
CSRF_COOKIE_NAME = "__Host-csrf" if HTTPS else "csrftoken"
CSRF_TRUSTED_ORIGINS = [f"https://{name}" for name in machine.hosts(_env)]
# The proxy says by what its own client came; without one the header says nothing.
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if BEHIND_PROXY else None
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 14 * 24 * 3600
CSRF_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
SECURE_HSTS_SECONDS = 31_536_000 if HTTPS else 0
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
SECURE_REDIRECT_EXEMPT = [r"^health/", r"^metrics$"]  # asked by this machine itself, behind the proxy
X_FRAME_OPTIONS = "DENY"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF, "data:"],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "worker-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

# No plan comes near this; a larger body is refused before it is read.
# A log of a whole day is larger than anything else that is brought; nothing else may be so large.
LARGEST_BODY, LARGEST_LOG = 5_000_000, 24_000_000
DATA_UPLOAD_MAX_MEMORY_SIZE = LARGEST_LOG

# Seconds of a core a minute that each process computes for one person, and for one company (budget.py).
BUDGET_PERSON_S, BUDGET_COMPANY_S = 30.0, 48.0
# Whatever prints is made by the worker.
SHEETS_BY_WORKER = True

_files = machine.files(_env)
STORAGES = {"staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
            **({"files": _files} if _files else {})}  # fmt: skip

LANGUAGE_CODE = "en-us"
TIME_ZONE = "UTC"
USE_TZ = True
USE_I18N = False
STATIC_URL = "/static/"
WEB_DIST = ROOT / "web" / "dist"
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.exists() else None
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[A-Za-z0-9_-]{8,}\.\w+$"
_shared = [
    structlog.contextvars.merge_contextvars, structlog.stdlib.add_log_level, structlog.stdlib.add_logger_name,
    structlog.stdlib.ExtraAdder(), structlog.processors.TimeStamper(fmt="iso", utc=True),
    structlog.processors.format_exc_info,
]  # fmt: skip
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {
        "line": {
            "()": structlog.stdlib.ProcessorFormatter, "foreign_pre_chain": _shared,
            "processors": [structlog.stdlib.ProcessorFormatter.remove_processors_meta,
                           structlog.processors.JSONRenderer(sort_keys=True)],
        }
    },
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "line"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {"leitung": {"level": _env.get("LEITUNG_LOG", "INFO")}},
}  # fmt: skip
# Where the counters of several processes meet; without, each has its own.
METRICS_FOLDER = _env.get("PROMETHEUS_MULTIPROC_DIR")
