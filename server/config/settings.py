"""Settings, by environment:

ORTHOTROPE_DATA     folder of the database and the secret key (default: var/ in the project)
ORTHOTROPE_DEMO     1: the sign-in page offers the demo accounts
ORTHOTROPE_HOSTS    host names that are served, by commas (default: this machine only)
ORTHOTROPE_WORKERS  processes that prove (default: one a core)
ORTHOTROPE_CLUSTER  address of a Dask scheduler that proves instead, as tcp://host:8786 (default: none)
ORTHOTROPE_PRACTICE address of the practice machines (default: this machine, port 8720)
"""

import os
import secrets
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("ORTHOTROPE_DATA", ROOT / "var"))
DEMO = os.environ.get("ORTHOTROPE_DEMO") == "1"
WORKERS = int(os.environ.get("ORTHOTROPE_WORKERS", os.cpu_count() or 1))
PRACTICE = os.environ.get("ORTHOTROPE_PRACTICE", "http://127.0.0.1:8720").rstrip("/")
CLUSTER = os.environ.get("ORTHOTROPE_CLUSTER", "")
WEB = ROOT / "web" / "dist"


def _secret_key() -> str:
    DATA.mkdir(parents=True, exist_ok=True)
    file = DATA / "secret-key"
    if not file.exists():
        file.touch(mode=0o600)
        file.write_text(secrets.token_urlsafe(50), encoding="utf-8")
    return file.read_text(encoding="utf-8")


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("ORTHOTROPE_HOSTS", "localhost,127.0.0.1,[::1]").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "ninja",
    "shop",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "config.urls"
ASGI_APPLICATION = "config.asgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "orthotrope.sqlite3",
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",  # a deferred transaction that turns into a write fails: "database is locked"
            "init_command": "PRAGMA journal_mode=WAL;PRAGMA synchronous=FULL;PRAGMA foreign_keys=ON;",
        },
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_PASSWORD_VALIDATORS = [{"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"}]

USE_TZ = True
TIME_ZONE = "UTC"
DATA_UPLOAD_MAX_MEMORY_SIZE = 6_000_000
WHITENOISE_ROOT = WEB
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[A-Za-z0-9_-]{8}\.[a-z0-9]+$"
SESSION_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
X_FRAME_OPTIONS = "DENY"
