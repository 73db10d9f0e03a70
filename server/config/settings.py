"""Settings. Everything that differs between machines comes from the environment, which the start command fills."""

import os
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent.parent

SECRET_KEY = os.environ.get("LEITFADEN_SECRET", "only-for-tests-and-schema-export")
DEBUG = False
ALLOWED_HOSTS = [*filter(None, os.environ.get("LEITFADEN_HOSTS", "").split(",")), "127.0.0.1", "localhost", "[::1]", "testserver"]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "ninja",
    "accounts",
    "library",
    "practice",
    "demo",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "config.middleware.ContentSecurityPolicy",
    "django.middleware.gzip.GZipMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "config.middleware.ApiCsrf",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
]
ROOT_URLCONF = "config.urls"
ASGI_APPLICATION = "config.asgi.application"
TEMPLATES: list[dict[str, object]] = []

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": os.environ.get("LEITFADEN_DB_NAME", "leitfaden"),
        "USER": os.environ.get("LEITFADEN_DB_USER", "leitfaden"),
        "PASSWORD": os.environ.get("LEITFADEN_DB_PASSWORD", ""),
        "HOST": "127.0.0.1",
        "PORT": os.environ.get("LEITFADEN_DB_PORT", "5432"),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_USER_MODEL = "accounts.User"
AUTH_PASSWORD_VALIDATORS = [{"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"}]

LANGUAGE_CODE = "en"
TIME_ZONE = os.environ.get("LEITFADEN_TIME_ZONE", "Europe/Berlin")
USE_TZ = True

STATIC_URL = "/static/"
WEB_DIST = ROOT / "web" / "dist"
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.is_dir() else []
# The build is served as it is: Vite has put a hash into every name that may be cached for ever.
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = False
WHITENOISE_IMMUTABLE_FILE_TEST = r"^.*/assets/.+$"

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 14
CSRF_COOKIE_SAMESITE = "Lax"
X_FRAME_OPTIONS = "DENY"
DATA_UPLOAD_MAX_MEMORY_SIZE = 2_000_000
