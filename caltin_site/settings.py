"""Settings. Everything Caltin keeps lies in one folder, ``var/`` unless CALTIN_VAR says otherwise."""

import os
from pathlib import Path

from django.core.management.utils import get_random_secret_key

ROOT = Path(__file__).resolve().parent.parent
VAR = Path(os.environ.get("CALTIN_VAR", ROOT / "var")).resolve()
VAR.mkdir(parents=True, exist_ok=True)


def _secret() -> str:
    """The signing key, made once and readable by its owner only."""
    path = VAR / "secret"
    try:
        with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as file:
            file.write(get_random_secret_key())
    except FileExistsError:
        pass
    return path.read_text()


SECRET_KEY = _secret()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
# Set by `manage.py launch` alone: the exact host and port at which an artist is let in, and who.
DOOR, DOOR_ARTIST = os.environ.get("CALTIN_DOOR", ""), os.environ.get("CALTIN_DOOR_ARTIST", "")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "ninja",
    "django_tasks",
    "django_tasks_db",
    *(
        f"caltin_site.{app}"
        for app in ("accounts", "kits", "references", "studies", "plans", "journal", "library", "jobs", "cards")
    ),
]
MIDDLEWARE = [
    "caltin_site.middleware.security_headers",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "caltin_site.accounts.doors.door",
]
ROOT_URLCONF = "caltin_site.urls"
WSGI_APPLICATION = "caltin_site.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [ROOT / "caltin_site" / "templates"],
        "OPTIONS": {"context_processors": []},
    }
]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": VAR / "caltin.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            # FULL: what was marked as drawn is on the disk before it is answered.
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON; PRAGMA busy_timeout=8000;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}

PICTURES = VAR / "pictures"
CARDS = VAR / "cards"
DATA_UPLOAD_MAX_MEMORY_SIZE = 20 * 1024 * 1024
UPLOAD_MOST_BYTES = 120 * 1024 * 1024

SESSION_COOKIE_SAMESITE = "Strict"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_AGE = 60 * 60 * 24 * 60
CSRF_COOKIE_SAMESITE = "Strict"
CSRF_FAILURE_VIEW = "caltin_site.problems.csrf_failure"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"

STATIC_URL = "/static/"
STATIC_ROOT = VAR / "static"
WEB_DIST = ROOT / "web" / "dist"
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.exists() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
WHITENOISE_SKIP_COMPRESS_EXTENSIONS = ("map", "jpg", "png", "webp", "woff2", "br", "gz")


def _hashed(path: str, url: str) -> bool:
    """Whether a file's name carries its content's hash, as Vite writes them."""
    stem = Path(path).stem
    return url.startswith("/static/assets/") and len(stem) > 9 and stem[-9] == "-"


WHITENOISE_IMMUTABLE_FILE_TEST = _hashed

LANGUAGE_CODE = "en-gb"
USE_TZ = True
TIME_ZONE = "UTC"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"stderr": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["stderr"], "level": "WARNING"},
}

# A colour reader on this machine, such as 127.0.0.1:9760; empty where there is none.
CALTIN_READER = os.environ.get("CALTIN_READER", "")
