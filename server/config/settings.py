"""Django's settings; whatever differs from machine to machine comes from the environment."""

import os
import sys
from math import inf
from pathlib import Path

import dj_database_url
from csp.constants import NONCE, NONE, SELF
from django.core.exceptions import ImproperlyConfigured

from serving.request_head import LONGEST_FILE


def _from_environment(name: str, default: str | None = None) -> str:
    value = os.environ.get(name, default)
    if value is None:
        raise ImproperlyConfigured(f"{name} is not set; run Jalebi through ./jalebi, which sets it.")
    return value


BASE_DIR = Path(__file__).resolve().parent.parent.parent
INSTALLATION = _from_environment("JALEBI_INSTALLATION")
SECRET_KEY = _from_environment("JALEBI_SECRET_KEY")
DEMO_PASSWORD = _from_environment("JALEBI_DEMO_PASSWORD")
DEVICE_FILES = [one for one in _from_environment("JALEBI_DEVICES", "").split(os.pathsep) if one]
INTERFACE = Path(_from_environment("JALEBI_INTERFACE", "") or "no-interface")
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost"]
TESTING = "test" in sys.argv
TEST_RUNNER = "testing.runner.Runner"

INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django.contrib.auth",
    "django.contrib.sessions",
    "csp",
    "config",
    "demo",
    "kitchens",
    "idempotency",
    "procrastinate.contrib.django",
    "jobs",
    "ingredients",
    "stock",
    "mixes",
    "batches",
    "instruments",
    "plans",
    "making",
    "tastings",
    "trials",
]
MIDDLEWARE = [
    "api.answers.answers_middleware",
    "serving.code_stamp.moved_middleware",
    "kitchens.zones.zone_middleware",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"

DATABASE_URL = _from_environment("JALEBI_DATABASE_URL")
MIGRATION_DATABASE_URL = _from_environment("JALEBI_MIGRATION_DATABASE_URL", DATABASE_URL)
"""The same database as the role that owns its tables, reached directly: for what makes tables or removes kitchens."""
OWNS_THE_TABLES = any(command in sys.argv for command in ("prepare", "migrate", "makemigrations", "test"))
DATABASES = {
    "default": {
        **dj_database_url.parse(MIGRATION_DATABASE_URL if OWNS_THE_TABLES else DATABASE_URL),
        "CONN_MAX_AGE": None,
        # A connection whose backend was killed is renewed before the next request, instead of failing it.
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {"connect_timeout": 3},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "kitchens.Person"
AUTHENTICATION_BACKENDS = ["kitchens.sign_in.PersonBackend"]
PASSWORD_HASHERS = [
    "testing.quick_hasher.QuickArgon2" if TESTING else "django.contrib.auth.hashers.Argon2PasswordHasher"
]

# Sessions are read at every keystroke: from files that all workers share, so that signing out holds everywhere.
SESSION_ENGINE = "django.contrib.sessions.backends.cached_db"
CACHES = {
    "default": {
        "BACKEND": "django.core.cache.backends.filebased.FileBasedCache",
        "LOCATION": _from_environment("JALEBI_CACHE"),
        "OPTIONS": {"MAX_ENTRIES": 10_000},
    }
}
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
# Cookies do not know ports: two installations on one machine would sign each other out.
SESSION_COOKIE_NAME = f"jalebi_session_{INSTALLATION}"
CSRF_COOKIE_NAME = f"jalebi_csrf_{INSTALLATION}"
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "config.page.csrf_failure"
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        "font-src": [SELF],
        "img-src": [SELF, "data:"],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}
DATA_UPLOAD_MAX_MEMORY_SIZE = 1_000_000
# Files stay in memory, of which the server bounds how much: nothing is spooled to a disk that may be full.
FILE_UPLOAD_HANDLERS = ["django.core.files.uploadhandler.MemoryFileUploadHandler"]
FILE_UPLOAD_MAX_MEMORY_SIZE = LONGEST_FILE

JOB_BODIES = {
    "balance": "analysis.balance_job.balance_job",
    "ingredient-file": "ingredients.file_job.file_job",
    "plan": "plans.planning_job.planning_job",
    "readiness": "plans.readiness_job.readiness_job",
}
PREPARED = None if TESTING else Path(_from_environment("JALEBI_PREPARED"))
"""The file that says for which version of the code the database was prepared."""
JOBS_INLINE = TESTING
"""Tests do jobs within the request; those of the worker itself do not."""
BALANCE_IN_REQUEST_S = inf if TESTING else 0.3
"""What somebody waits for without wondering; nine in ten balances take a fifth of it."""

STATIC_URL = "/assets/"
STATIC_ROOT = INTERFACE / "assets"
WHITENOISE_IMMUTABLE_FILE_TEST = r"-[A-Za-z0-9_-]{8}\.[a-z0-9]+$"

USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = False

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"json": {"()": "serving.log.JsonFormatter"}},
    "handlers": {
        "log": {
            "class": "serving.log.PrivateFileHandler",
            "filename": _from_environment("JALEBI_LOG"),
            "formatter": "json",
            "delay": True,
        }
    },
    "root": {"handlers": ["log"], "level": "ERROR" if TESTING else "WARNING"},
}
SILENCED_SYSTEM_CHECKS: list[str] = []
