"""Settings.

Everything that differs between machines comes from the environment, which the start command fills (docs/deployment.md).
"""

import os
import secrets
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent.parent


def _flag(name: str) -> bool:
    return os.environ.get(name, "") not in {"", "0", "no"}


# Nothing to fall back to: without a secret from the environment each process has its own, and nobody stays signed in.
SECRET_KEY = os.environ.get("LEITFADEN_SECRET") or secrets.token_urlsafe(50)
DEBUG = False
#: One switch: TLS ends at a proxy in front of us that sets X-Forwarded-Proto and X-Forwarded-For.
HTTPS_PROXY = _flag("LEITFADEN_HTTPS")
#: The server can be reached by others than this machine: demo accounts do not sign in.
BEYOND_LOOPBACK = _flag("LEITFADEN_BEYOND_LOOPBACK") or HTTPS_PROXY
_named_hosts = [host for host in os.environ.get("LEITFADEN_HOSTS", "").split(",") if host]
ALLOWED_HOSTS = [*_named_hosts, "127.0.0.1", "localhost", "[::1]", "testserver"]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "procrastinate.contrib.django",
    "ninja",
    "channels",
    "config",
    "people",
    "jobs",
    "simulations",
    "benches",
    "values",
    "atlas",
    "signatures",
    "lessons",
    "practice",
    "drills",
    "demo",
]
MIDDLEWARE = [
    "config.middleware.ReturnConnection",
    "django.middleware.security.SecurityMiddleware",
    "config.middleware.Headers",
    "django.middleware.gzip.GZipMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "config.middleware.ApiCsrf",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
]
ROOT_URLCONF = "config.urls"
TEMPLATES: list[dict[str, object]] = []

#: Connections of a process that serves or computes, at most. 0: no pool: for commands and tests, which use one, and
#: where a pooler stands outside.
_CONNECTIONS = int(os.environ.get("LEITFADEN_DB_CONNECTIONS", "0"))
_POOL = {"pool": {"min_size": 1, "max_size": _CONNECTIONS, "timeout": 6.0, "max_idle": 60.0}} if _CONNECTIONS else {}
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": os.environ.get("LEITFADEN_DB_NAME", "leitfaden"),
        "USER": os.environ.get("LEITFADEN_DB_USER", "leitfaden"),
        "PASSWORD": os.environ.get("LEITFADEN_DB_PASSWORD", ""),
        "HOST": os.environ.get("LEITFADEN_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("LEITFADEN_DB_PORT", "5432"),
        # Connections belong to the process, not to threads: few, and each request takes one for as long as it needs it.
        "CONN_MAX_AGE": 0,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": _POOL | {"connect_timeout": 3},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

# --- people
# ---------------------------------------------------------------------------------------------------------------------

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "people.sign_in.MemberBackend"]
# Older hashes are known, so that they are replaced at the next sign-in.
PASSWORD_HASHERS = ["people.sign_in.Argon2id", "django.contrib.auth.hashers.PBKDF2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {
        "NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator",
        "OPTIONS": {"user_attributes": ("username", "first_name", "last_name")},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
#: Wrong passwords for one name before it pauses, and how many more an address may have (a class shares one).
AXES_FAILURE_LIMIT, ADDRESS_SHARE = 5, 10
AXES_LOCKOUT_PARAMETERS = ["username", "ip_address"]
AXES_HANDLER = "people.sign_in.Handler"
AXES_COOLOFF_TIME = "people.sign_in.pause"
AXES_CLIENT_IP_CALLABLE = "people.sign_in.address_of"
AXES_ENABLE_ACCESS_FAILURE_LOG = True
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
# The API gives its own answer to whoever is locked out.
SILENCED_SYSTEM_CHECKS = ["axes.W002"]

# --- computations
# -----------------------------------------------------------------------------------------------------------------

#: Compute in the request itself instead of in a worker: for tests and management commands only.
JOBS_INLINE = _flag("LEITFADEN_JOBS_INLINE")

# --- language and files
# -----------------------------------------------------------------------------------------------------------

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

# --- hardening
# --------------------------------------------------------------------------------------------------------------------

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 14
CSRF_COOKIE_SAMESITE = "Lax"
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
DATA_UPLOAD_MAX_MEMORY_SIZE = 12_000_000  # of files; the gate bounds everything else
if HTTPS_PROXY:
    ALLOWED_HOSTS = _named_hosts
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_SSL_REDIRECT = SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_HSTS_SECONDS = 60 * 60 * 24 * 365
    SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = True
    CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in _named_hosts]

# What people enter, their names and their addresses stay out of the logs.
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "%(asctime)s %(levelname)s %(name)s: %(message)s"}},
    "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "line"}},
    "root": {"handlers": ["stderr"], "level": "WARNING"},
    "loggers": {
        "axes": {"level": "CRITICAL"},
        "procrastinate": {"level": "WARNING"},
        # A database that is away is said once, in the answer.
        "psycopg.pool": {"level": "ERROR"},
        # Each refused request would be a line with its address in it.
        "django.request": {"level": "CRITICAL"},
        "django.security.DisallowedHost": {"level": "CRITICAL"},
    },
}
