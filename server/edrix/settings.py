"""All settings, from environment variables. `docs/architecture.md` lists the variables."""

import os
from pathlib import Path
from typing import Any

from csp.constants import NONCE, NONE, SELF
from psycopg.conninfo import conninfo_to_dict
from tzlocal import get_localzone_name

ROOT = Path(__file__).resolve().parents[2]
WEB_DIST = ROOT / "web" / "dist"
"""The built front end: the page as a template, and in site/ what is served as it is."""


def _database(url: str) -> dict[str, Any]:
    parts = conninfo_to_dict(url)
    known = {"dbname": "NAME", "user": "USER", "password": "PASSWORD", "host": "HOST"}
    settings = {name: str(parts.pop(key, "")) for key, name in known.items()}
    port = str(parts.pop("port", ""))
    return {
        "ENGINE": "django.db.backends.postgresql",
        **settings,
        "PORT": port,
        "OPTIONS": parts,
        "CONN_MAX_AGE": 600,
        "CONN_HEALTH_CHECKS": True,
    }


SECRET_KEY = os.environ.get("EDRIX_SECRET_KEY", "")
DEBUG = False
ALLOWED_HOSTS = os.environ.get("EDRIX_HOSTS", "localhost,127.0.0.1,[::1]").split(",")
ADDRESS = os.environ.get("EDRIX_ADDRESS", "").rstrip("/")
"""Where phones open it, as the start command says; empty where it does not know."""
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("EDRIX_ORIGINS", "").split(",") if o]
DATABASES = {"default": _database(os.environ.get("EDRIX_DATABASE_URL", "postgresql:///edrix"))}

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "ninja",
    "pgactivity",
    "pglock",
    "procrastinate.contrib.django",
    "edrix.starting",
    "edrix.accounts",
    "edrix.longforms",
    "edrix.jobs",
    "edrix.shop",
    "edrix.engines",
    "edrix.classes",
    "edrix.stands",
    "edrix.drills",
    "edrix.safety",
    "edrix.logbook",
    "edrix.store",
    "edrix.practice",
    "edrix.sheets",
    "edrix.marking",
    "edrix.intake",
    "edrix.progress",
    "edrix.rota",
    "edrix.asking",
    "edrix.today",
    "edrix.lessons",
    "edrix.archive",
    "edrix.demo",
]
MIDDLEWARE = [
    "edrix.middleware.client_address",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "edrix.middleware.private_answers",
    "edrix.middleware.body_limit",
    "edrix.middleware.known_methods",
    "edrix.middleware.session_keys",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.http.ConditionalGetMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "edrix.urls"
WSGI_APPLICATION = "edrix.wsgi.application"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
TEMPLATES = [
    {"BACKEND": "django.template.backends.django.DjangoTemplates", "DIRS": [str(WEB_DIST)]}
]
USE_TZ = True
TIME_ZONE = os.environ.get("EDRIX_TIME_ZONE") or get_localzone_name()
"""The school's clock: on pages, in prints and in files. Without a word, the machine's own."""
LANGUAGE = os.environ.get("EDRIX_LANGUAGE", "en")
"""The school's language, for the order of names; `de`, `sv`, `pl` …"""
COLLATION = f"{LANGUAGE}-x-icu"
USE_I18N = False

# Signing in: accounts of our own, slow hashes, and a pause after five wrong passcodes for the same
# name from the same address (a class of thirty shares one) on devices that are not that person's;
# accounts/devices.py puts the device where axes looks for a browser's name for itself.
AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
PASSWORD_HASHERS = ["edrix.accounts.hashers.PasscodeHasher"]
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = 1 / 6  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address", "user_agent"]]
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False  # it ends when it was said to end
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_CALLABLE = "edrix.problems.locked_out"
AXES_DISABLE_ACCESS_LOG = True
AXES_VERBOSE = False

# The page is one document with scripts of our own; antd writes style elements and gets a
# nonce for them. Style attributes are let in, for antd places its tables and panels by them: they
# run nothing and fetch nothing. Nothing is loaded from elsewhere, and nobody frames us.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        "style-src-attr": ["'unsafe-inline'"],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
DISK = os.environ.get("EDRIX_DISK", "")
"""Where the database writes, if it is on this machine: readiness looks whether there is room."""
BEHIND_FRONT = os.environ.get("EDRIX_FRONT") == "1"
"""Set by the start command: its own front says who asks, and nobody else reaches this process."""
HTTPS = os.environ.get("EDRIX_HTTPS") == "1"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if HTTPS else None
SECURE_SSL_REDIRECT = HTTPS
# The start command asks on loopback, where there is no proxy in front.
SECURE_REDIRECT_EXEMPT = [r"^api/(health|ready)$"]
SECURE_HSTS_SECONDS = int(os.environ.get("EDRIX_HSTS_S") or 365 * 24 * 3600) if HTTPS else 0
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 12 * 3600  # one working day
CSRF_FAILURE_VIEW = "edrix.problems.csrf_failure"

MOST_BODY_BYTES = 1_000_000
MOST_FILE_BYTES = 12_000_000
"""A term of readings of a big school; only for addresses that take files."""
DATA_UPLOAD_MAX_MEMORY_SIZE = MOST_BODY_BYTES

# The built front end: hashed file names, so they may be kept for ever.
STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB_DIST / "site" if WEB_DIST.is_dir() else None
WHITENOISE_INDEX_FILE = False


def WHITENOISE_IMMUTABLE_FILE_TEST(_path: str, url: str) -> bool:  # noqa: N802 (a setting)
    return url.startswith("/assets/")


LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
