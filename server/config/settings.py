"""Django's settings; whatever differs from machine to machine comes from the environment."""

import os
import sys
from datetime import timedelta
from pathlib import Path

from csp.constants import NONCE, NONE, SELF
from django.core.exceptions import ImproperlyConfigured


def _from_environment(name: str, default: str | None = None) -> str:
    value = os.environ.get(name, default)
    if value is None:
        raise ImproperlyConfigured(f"{name} is not set; run Jalebi through ./jalebi, which sets it.")
    return value


BASE_DIR = Path(__file__).resolve().parent.parent.parent
SECRET_KEY = _from_environment("JALEBI_SECRET_KEY")
DEMO_PASSWORD = _from_environment("JALEBI_DEMO_PASSWORD")
INTERFACE = Path(_from_environment("JALEBI_INTERFACE", "") or "no-interface")
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost"]
TESTING = "test" in sys.argv

INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django.contrib.auth",
    "django.contrib.sessions",
    "axes",
    "csp",
    "config",
    "demo",
    "kitchens",
    "idempotency",
    "ingredients",
    "mixes",
    "batches",
]
MIDDLEWARE = [
    "api.answers.answers_middleware",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": _from_environment("JALEBI_DATABASE", "jalebi"),
        "USER": "jalebi",
        "PASSWORD": _from_environment("JALEBI_DATABASE_PASSWORD"),
        "HOST": "127.0.0.1",
        "PORT": _from_environment("JALEBI_DATABASE_PORT"),
        "CONN_MAX_AGE": None,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "kitchens.Person"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "kitchens.sign_in.PersonBackend"]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]

AXES_FAILURE_LIMIT = 6
AXES_COOLOFF_TIME = timedelta(minutes=5)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_USERNAME_FORM_FIELD = "username"
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_CALLABLE = "kitchens.sign_in.locked_out"
AXES_VERBOSE = False

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
SESSION_COOKIE_NAME = "jalebi_session"
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

STATIC_URL = "/assets/"
STATIC_ROOT = INTERFACE / "assets"
WHITENOISE_IMMUTABLE_FILE_TEST = r"-[A-Za-z0-9_-]{8}\.[a-z0-9]+$"

USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = False

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "ERROR" if TESTING else "WARNING"},
}
SILENCED_SYSTEM_CHECKS: list[str] = []
