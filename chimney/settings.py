"""Everything that can be set, in one file. What differs from machine to machine comes from
CHIMNEY_* variables.
"""

import os
import sys
from datetime import timedelta
from pathlib import Path

from csp.constants import NONE, SELF

from chimney import folder

ROOT = folder.ROOT

# --- what a person may set
# ------------------------------------------------------------------------------------- Where the
# database and the secret live; one folder a photographer (CHIMNEY_DATA).
DATA = folder.DATA
# The zone in which times are typed and shown: an IANA name, else the machine's own.
HOME_ZONE = os.environ.get("CHIMNEY_ZONE", "")
# "1" lets phones on the home network in, after the passphrase; else only this machine is answered.
SERVE = os.environ.get("CHIMNEY_SERVE") == "1"
# The name under which a proxy on this machine serves a club by TLS, see docs/club.md; with SERVE.
TLS_HOST = os.environ.get("CHIMNEY_TLS_HOST", "")
# "1" where an invented year is looked at: its first page is a sheet that costs nothing.
DEMO = os.environ.get("CHIMNEY_DEMO") == "1"
# An ISO moment at which the only clock stands still, for pictures and tests; empty lets it run.
FROZEN_NOW = os.environ.get("CHIMNEY_FROZEN_NOW", "")


def _machine_zone():
    link = Path("/etc/localtime")
    name = str(link.resolve()).partition("zoneinfo/")[2] if link.exists() else ""
    return name or "UTC"


TESTING = "test" in sys.argv[1:2]
DEBUG = os.environ.get("CHIMNEY_DEBUG") == "1"
SECRET_KEY = folder.secret()
# This machine asking itself needs no passphrase; under any other name somebody else may be asking
# through it.
LOOPBACK_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
ALLOWED_HOSTS = ["*"] if SERVE and not TLS_HOST else [*LOOPBACK_HOSTS, *filter(None, [TLS_HOST])]

# --- the house: imports go down this list only
# ---------------------------------------------------------------
APPS = [
    "hearth",
    "exchange",
    "field",
    "solar",
    "lessons",
    "results",
    "darkroom",
    "logbook",
    "kit",
    "places",
    "ledger",
    "parts",
]
INSTALLED_APPS = [
    *(f"chimney.{app}" for app in APPS),
    "demo",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "django.forms",
    "django_htmx",
    "csp",
    "axes",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "chimney.parts.middleware.NothingBegun",
    "django.middleware.gzip.GZipMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "chimney.parts.middleware.Door",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "chimney.parts.middleware.VaryOnHtmx",
    "chimney.ledger.middleware.Seen",
    "chimney.hearth.guests.middleware.Guests",
    "chimney.ledger.middleware.Once",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "chimney.urls"
WSGI_APPLICATION = "chimney.wsgi.application"
LOADERS = [
    "django.template.loaders.filesystem.Loader",
    "django.template.loaders.app_directories.Loader",
]
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [ROOT / "chimney" / "templates"],
        "OPTIONS": {
            "loaders": LOADERS if DEBUG else [("django.template.loaders.cached.Loader", LOADERS)],
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.messages.context_processors.messages",
                "chimney.parts.darkroom_dress.dress",
                "chimney.hearth.navigation.navigation",
            ],
            "builtins": ["chimney.parts.templatetags.said", "chimney.parts.templatetags.trade"],
        },
    }
]
FORM_RENDERER = "chimney.parts.renderer.Renderer"

# --- who comes in from the home network
# -----------------------------------------------------------------------
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 10},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
LOGIN_URL = "hearth:door"
SESSION_COOKIE_AGE = 60 * 86_400
# Five wrong passphrases from one address, then a quarter of an hour of nothing. Headers name no
# address: a phone could.
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = ["ip_address"]
AXES_LOCKOUT_TEMPLATE = "hearth/locked.html"
AXES_CLIENT_IP_CALLABLE = "chimney.parts.middleware.address"
AXES_VERBOSE = False

# --- what is kept
# --------------------------------------------------------------------------------------------
# IMMEDIATE takes the write lock at once, so that two devices wait for each other instead of
# failing.
DATABASES = {
    "default": {
        "ENGINE": "chimney.parts.sqlite",
        "NAME": folder.DATABASE,
        "OPTIONS": {
            # Short: a process that waits in here answers nobody. Verbs wait outside of it.
            "timeout": 20 if TESTING else 1,
            "transaction_mode": "IMMEDIATE",
            "init_command": f"PRAGMA synchronous={'OFF' if TESTING else 'FULL'};",
        },
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
MESSAGE_STORAGE = "django.contrib.messages.storage.cookie.CookieStorage"
TEST_RUNNER = "tests.runner.Runner"

# --- time and words
# ------------------------------------------------------------------------------------------
USE_TZ = True
TIME_ZONE = HOME_ZONE or _machine_zone()
USE_I18N = False
LANGUAGE_CODE = "en-gb"

# --- files and headers
# ---------------------------------------------------------------------------------------
STATIC_URL = "/static/"
STATIC_ROOT = ROOT / "var" / "static"
STATICFILES_FINDERS = [
    "django.contrib.staticfiles.finders.FileSystemFinder",
    "django.contrib.staticfiles.finders.AppDirectoriesFinder",
    "chimney.parts.bundles.Finder",
]
STATICFILES_DIRS = [ROOT / "chimney" / "static"]
_MANIFEST = "chimney.parts.storage.Hashed"
_PLAIN = "django.contrib.staticfiles.storage.StaticFilesStorage"
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": _PLAIN if TESTING or DEBUG else _MANIFEST},
}
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],
        "object-src": [NONE],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
        "form-action": [SELF],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
# Behind a proxy cookies go by TLS alone, and it says who asks. The proxy redirects; this machine
# itself is answered plainly. At home there is no TLS, and so nothing that asks for it.
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = bool(TLS_HOST)
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if TLS_HOST else None
SECURE_HSTS_SECONDS = 365 * 86_400 if TLS_HOST else 0
CSRF_TRUSTED_ORIGINS = [f"https://{TLS_HOST}"] if TLS_HOST else []
SILENCED_SYSTEM_CHECKS = ["security.W008"]
SILENCED_SYSTEM_CHECKS += (
    ["security.W005", "security.W021"]
    if TLS_HOST
    else ["security.W004", "security.W012", "security.W016"]
)
# Bodies longer than these are refused before they are read: a stranger's, a form's, and one with a
# picture in it.
MOST_BYTES_OF_A_STRANGER, MOST_UPLOAD_BYTES, MOST_BYTES_WITH_PICTURE = (
    8 * 1024,
    2 * 1024 * 1024,
    84 * 1024 * 1024,
)
# Scans of 300 megapixels in 16 bits, and where alone they are taken in.
MOST_BYTES_OF_SCANS, SCANS_GO_TO = 4 * 1024**3, ("results:scans", "exchange:data")
# What has no passphrase but a token of its own.
OPEN_BY_TOKEN = ("exchange:light", "exchange:calendar")
CSRF_FAILURE_VIEW = "chimney.hearth.views.csrf_failure"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {
        "axes": {"handlers": ["console"], "level": "CRITICAL" if TESTING else "WARNING"},
        "django.request": {"handlers": ["console"], "level": "CRITICAL" if TESTING else "ERROR"},
    },
}
