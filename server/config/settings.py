"""Settings, by environment.

- ``ORTHOTROPE_DATA``: folder of the database and the secret key (default: var/ in the project); it is kept private
- ``ORTHOTROPE_DEMO``: 1: the sign-in page offers the demo accounts; without it they can't be used
- ``ORTHOTROPE_HOSTS``: host names that are served, by commas (default: this machine only)
- ``ORTHOTROPE_TLS``: 1: behind a proxy that speaks TLS: secure cookies, redirect to https, strict transport security
- ``ORTHOTROPE_PROXY``: address of the proxy whose X-Forwarded-For and X-Forwarded-Proto are trusted (default: none)
- ``ORTHOTROPE_WORKERS``: processes that prove (default: one a core)
- ``ORTHOTROPE_ANSWERS``: processes that calculate previews and the like (default: 3)
- ``ORTHOTROPE_CLUSTER``: address of a Dask scheduler that proves instead, as tcp://host:8786 (default: none)
- ``ORTHOTROPE_PRACTICE``: address of the practice machines (default: this machine, port 8720)
- ``ORTHOTROPE_NETWORKS``: networks in which agents of machines are read, by commas (default: this machine and private networks)
- ``ORTHOTROPE_LOG``: how much is logged: debug, info, warning, error (default: info)
"""

import logging.config
import os
import secrets
from datetime import timedelta
from pathlib import Path

import structlog
from csp.constants import NONE, SELF
from django.core.exceptions import ImproperlyConfigured

ROOT = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("ORTHOTROPE_DATA", ROOT / "var"))
DEMO = os.environ.get("ORTHOTROPE_DEMO") == "1"
TLS = os.environ.get("ORTHOTROPE_TLS") == "1"
PROXY = os.environ.get("ORTHOTROPE_PROXY", "")
WORKERS = int(os.environ.get("ORTHOTROPE_WORKERS", os.cpu_count() or 1))
ANSWERS = int(os.environ.get("ORTHOTROPE_ANSWERS", 3))
PRACTICE = os.environ.get("ORTHOTROPE_PRACTICE", "http://127.0.0.1:8720").rstrip("/")
CLUSTER = os.environ.get("ORTHOTROPE_CLUSTER", "")
NETWORKS = os.environ.get(
    "ORTHOTROPE_NETWORKS", "127.0.0.0/8,::1/128,10.0.0.0/8,172.16.0.0/12,192.168.0.0/16,fc00::/7"
).split(",")
WEB = ROOT / "web" / "dist"

ANSWER_SECONDS, ANSWER_MEMORY = 10.0, 84_000_000
"""What one preview, drawing, table … may take."""
PROOF_SECONDS, PROOF_MEMORY = 60.0, 150_000_000
"""What a dozen exchanges of a proof may take, under all their faults."""
REVIEW_SECONDS, REVIEW_MEMORY = 1800.0, 200_000_000
"""What the review of one program may take, of up to 100 MB."""


def _private(path: Path, mode: int) -> None:
    if path.exists() and path.stat().st_mode & 0o077 and path.stat().st_uid == os.getuid():
        path.chmod(mode)


def _secret_key() -> str:
    file = DATA / "secret-key"
    if not file.exists():
        file.touch(mode=0o600)
        file.write_text(secrets.token_urlsafe(50), encoding="utf-8")
    _private(file, 0o600)
    key = file.read_text(encoding="utf-8").strip()
    if len(key) < 50:
        raise ImproperlyConfigured(
            f"The key file {file} holds {len(key)} characters, a key has 50 or more. Take the file away and "
            "start again: a new one is made, and everyone signs in again."
        )
    return key


DATABASE = DATA / "orthotrope.sqlite3"
if not DATA.exists():
    DATA.mkdir(parents=True, mode=0o700)
SECRET_KEY = _secret_key()
for _file in (DATABASE, DATABASE.with_name(DATABASE.name + "-wal"), DATABASE.with_name(DATABASE.name + "-shm")):
    _private(_file, 0o600)
if not DATABASE.exists():
    DATABASE.touch(mode=0o600)  # the files beside it take over its mode
DEBUG = False
ALLOWED_HOSTS = [
    host.strip() for host in os.environ.get("ORTHOTROPE_HOSTS", "localhost,127.0.0.1,[::1]").split(",") if host.strip()
]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "ninja",
    "shop",
]
MIDDLEWARE = [
    "shop.requests.FromProxy",
    "shop.requests.Logged",
    "django.middleware.security.SecurityMiddleware",
    "django.middleware.common.CommonMiddleware",
    "csp.middleware.CSPMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "config.urls"
ASGI_APPLICATION = "config.asgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATABASE,
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",  # a deferred transaction that turns into a write fails: "database is locked"
            "init_command": "PRAGMA journal_mode=WAL;PRAGMA synchronous=FULL;PRAGMA foreign_keys=ON;",
        },
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "shop.roles.Accounts"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in (
        "UserAttributeSimilarityValidator",
        "MinimumLengthValidator",
        "CommonPasswordValidator",
        "NumericPasswordValidator",
    )
]
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = timedelta(minutes=5)
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False  # the wait that was reported is the wait
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_CALLABLE = "shop.roles.locked_out"
AXES_RESET_ON_SUCCESS = True
AXES_DISABLE_ACCESS_LOG = True
AXES_VERBOSE = False
AXES_CLIENT_IP_CALLABLE = "shop.roles.address"

USE_TZ = True
TIME_ZONE = "UTC"
DATA_UPLOAD_MAX_MEMORY_SIZE = 6_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 6_000_000
APPEND_SLASH = False
WHITENOISE_ROOT = WEB
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[A-Za-z0-9_-]{8}\.[a-z0-9]+$"
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_HTTPONLY = True
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = TLS
SECURE_SSL_REDIRECT = TLS
SECURE_HSTS_SECONDS = 365 * 24 * 3600 if TLS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = TLS
if PROXY:
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "script-src": [SELF],
        "style-src": [SELF, "'unsafe-inline'"],  # the widths of panels and the places of what is drawn are styles
        "img-src": [SELF, "data:"],
        "font-src": [SELF, "data:"],
        "connect-src": [SELF],
        "object-src": [NONE],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

LOGGING_CONFIG = None
_shared: list[structlog.typing.Processor] = [
    structlog.contextvars.merge_contextvars,
    structlog.stdlib.add_logger_name,
    structlog.stdlib.add_log_level,
    structlog.processors.TimeStamper(fmt="iso", utc=True),
]
structlog.configure(
    processors=[*_shared, structlog.stdlib.ProcessorFormatter.wrap_for_formatter],
    logger_factory=structlog.stdlib.LoggerFactory(),
    wrapper_class=structlog.stdlib.BoundLogger,
    cache_logger_on_first_use=True,
)
logging.config.dictConfig(
    {
        "version": 1,
        "disable_existing_loggers": False,
        "formatters": {
            "json": {
                "()": structlog.stdlib.ProcessorFormatter,
                "foreign_pre_chain": _shared,
                "processors": [
                    structlog.stdlib.ProcessorFormatter.remove_processors_meta,
                    structlog.processors.format_exc_info,
                    structlog.processors.JSONRenderer(ensure_ascii=False),
                ],
            }
        },
        "handlers": {"out": {"class": "logging.StreamHandler", "formatter": "json", "stream": "ext://sys.stdout"}},
        "root": {"handlers": ["out"], "level": os.environ.get("ORTHOTROPE_LOG", "info").upper()},
        "loggers": {
            "httpx": {"level": "WARNING"},
            "uvicorn.access": {"level": "WARNING"},
            "axes": {"level": "WARNING"},
            "django.request": {"level": "CRITICAL"},  # what goes wrong in a request is logged with its id, once
            "ezdxf": {"level": "ERROR"},
            "websockets": {"level": "WARNING"},
        },
    }
)
