"""Settings. All that differs between machines comes from the environment:

SULVET_DATA            folder for database, clips and key (default: ``data`` beside the code)
SULVET_HOSTS           further host names the server answers to, comma separated
SULVET_SHARE           address at which others reach Sulvet through a server that speaks HTTPS, such
                       as https://band.school.example: cookies for HTTPS alone, HSTS, redirects
SULVET_CERTIFICATE     folder of certificates of Sulvet's own: it is shared on a network, without
                       another server before it, and browsers are told nothing for later
SULVET_FIRST_CODE      what who makes the first account must enter; run.py makes one at each start
SULVET_IDLE_MINUTES    after so long without a request a session ends (240)
SULVET_BACKUPS         folder for an archive of each account a day, read back after it was written
SULVET_BACKUPS_KEPT    so many of an account stay (7)
SULVET_BACKUP_PASSPHRASE_FILE  what they are encrypted with stands there
SULVET_TIME_ZONE       where the school is, such as Europe/Zurich (this computer's)
SULVET_LOCAL_CLIPS_GB  so much of a storage's clips is kept at hand on this computer (20)
SULVET_METRICS_TOKEN   who says it may read /metrics/; nobody without one
SULVET_LOG             json for a line of JSON an event, without names of people

Servers instead of the data folder, each by its address:
DATABASE_URL           postgres://…        (SQLite in the data folder)
STORAGE_URL            s3://key:secret@host/bucket, for clips and what is made of them
TASKS_URL              redis://…, the queue of jobs (the database)
CACHE_URL              redis://…, what all processes remember together (each for itself)
SULVET_MAX_CLIP_MB     largest clip (500)
SULVET_MAX_CLIP_SECONDS  longest clip (180)
SULVET_DEBUG           1 for Django's error pages
"""

from __future__ import annotations

import contextlib
import os
import secrets
import sys
from pathlib import Path
from urllib.parse import urlsplit

import environ
from django.core.exceptions import ImproperlyConfigured
from tzlocal import get_localzone_name

from sulvet.web import services
from sulvet.web.databases import database

env = environ.Env()
ROOT = Path(__file__).resolve().parents[2]
DATA_DIR = Path(env("SULVET_DATA", default=str(ROOT / "data"))).resolve()
FRONTEND_DIST = ROOT / "frontend" / "dist"
TESTING = "test" in sys.argv[1:2]
# Whatever any process of Sulvet writes is for its own account alone.
os.umask(0o077)


def _secret_key() -> str:
    """This installation's own key, made once and kept beside the database."""
    file = DATA_DIR / "secret.key"
    with contextlib.suppress(FileNotFoundError):
        # One that a full disk has left empty counts as none.
        if key := file.read_text("ascii").strip():
            return key
    DATA_DIR.mkdir(parents=True, exist_ok=True)
    key, half = secrets.token_urlsafe(50), file.with_suffix(f".{os.getpid()}")
    with os.fdopen(os.open(half, os.O_WRONLY | os.O_CREAT, 0o600), "w") as handle:
        handle.write(key)
    half.replace(file)
    return key


SECRET_KEY = env("SULVET_SECRET_KEY", default="") or _secret_key()
DEBUG = env.bool("SULVET_DEBUG", default=False)
ALLOWED_HOSTS = ["localhost", "127.0.0.1", "[::1]", *env.list("SULVET_HOSTS", default=[])]
SHARE = env("SULVET_SHARE", default="").rstrip("/")
CERTIFICATE = env("SULVET_CERTIFICATE", default="")
FIRST_CODE = env("SULVET_FIRST_CODE", default="")
IDLE_MINUTES = env.int("SULVET_IDLE_MINUTES", default=240)
if SHARE:
    if not SHARE.startswith("https://") or not urlsplit(SHARE).hostname:
        raise ImproperlyConfigured(
            f"SULVET_SHARE is “{SHARE}”; it must be an address such as https://band.school.example."
        )
    ALLOWED_HOSTS.append(str(urlsplit(SHARE).hostname))
    CSRF_TRUSTED_ORIGINS = [SHARE]
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_SSL_REDIRECT = True
    # What starts Sulvet, and the server before it, ask here without HTTPS.
    SECURE_REDIRECT_EXEMPT = [r"^health/", r"^metrics/$"]
    # Other names under the school's are not ours to speak for.
    SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W021"]
    if CERTIFICATE:
        # A browser that was told to insist lets nobody past a certificate it does not know.
        SILENCED_SYSTEM_CHECKS.append("security.W004")
    else:
        SECURE_HSTS_SECONDS = 365 * 24 * 3600

INSTALLED_APPS = [
    "whitenoise.runserver_nostatic",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "rest_framework",
    "drf_spectacular",
    "django_tasks",
    "django_tasks_db",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "django_otp.plugins.otp_static",
    "sulvet.accounts",
    "sulvet.hand",
    "sulvet.band",
    "sulvet.standards",
    "sulvet.reeds",
    "sulvet.closeups",
    "sulvet.lessons",
    "sulvet.takes",
    "sulvet.booth",
    "sulvet.eye",
    "sulvet.calibration",
    "sulvet.plans",
    "sulvet.records",
    "sulvet.practice_page",
    "sulvet.demo",
]
MIDDLEWARE = [
    "sulvet.web.health.Measured",
    "sulvet.web.middleware.HeadWithoutBody",
    "sulvet.web.bodies.BodySizes",
    "django.middleware.security.SecurityMiddleware",
    "sulvet.web.middleware.ContentSecurityPolicy",
    "sulvet.web.middleware.NothingKept",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
    "sulvet.accounts.idle.IdleTimeout",
    "sulvet.accounts.roles.Roles",
    "sulvet.accounts.preferences.SchoolPlace",
    "sulvet.web.accesses.AccessLog",
]
ROOT_URLCONF = "sulvet.web.urls"
WSGI_APPLICATION = "sulvet.web.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]

DATABASES = {"default": database(env("DATABASE_URL", default=""), DATA_DIR, TESTING)}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
if TESTING:
    # Every test makes its teachers anew; a hash that is slow on purpose took a quarter of the time.
    PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 8},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
OTP_TOTP_ISSUER = "Sulvet"
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
AXES_LOCKOUT_CALLABLE = "sulvet.web.failures.locked_out"

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

USE_TZ = True
#: Where a teacher has set none and no browser tells: that of this computer.
TIME_ZONE = env("SULVET_TIME_ZONE", default=None) or (
    "UTC" if TESTING else get_localzone_name() or "UTC"
)
LANGUAGE_CODE = "en"
#: What there are tables of words for, here and in the front end.
LANGUAGES = [("en", "English"), ("de", "Deutsch")]

STATIC_URL = "/static/"
STATICFILES_DIRS = [FRONTEND_DIST] if FRONTEND_DIST.is_dir() else []
# Straight from the build: Vite has put a hash into the names already, and a
# second one would load React twice.
WHITENOISE_USE_FINDERS = True
WHITENOISE_ALLOW_ALL_ORIGINS = False
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/assets/.+-[A-Za-z0-9_-]{8}\.\w+$"

#: Clips and all that is made of them. Never below a URL that serves files by itself.
CLIPS_DIR = DATA_DIR / "clips"
#: Who opened, exported and deleted what; see ``accounts/access_log.py``.
ACCESS_DIR = DATA_DIR / "access"
BACKUPS = env("SULVET_BACKUPS", default="")
BACKUPS_KEPT = env.int("SULVET_BACKUPS_KEPT", default=7)
BACKUP_PASSPHRASE_FILE = env("SULVET_BACKUP_PASSPHRASE_FILE", default="")
#: What is done at the start and every hour, each by itself: in the data folder of every computer,
#: and by the workers beside it.
OWN_FOLDER = (
    "sulvet.takes.files.sweep",
    "sulvet.takes.storage.make_room",
    "sulvet.records.moving.sweep",
)
HOURLY = (
    *OWN_FOLDER,
    "sulvet.takes.retention.delete_what_is_over",
    "sulvet.accounts.pruning.prune",
    "sulvet.records.backups.daily",
)
FILE_UPLOAD_TEMP_DIR = str(DATA_DIR / "incoming")
FILE_UPLOAD_HANDLERS = ["django.core.files.uploadhandler.TemporaryFileUploadHandler"]
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000
Path(FILE_UPLOAD_TEMP_DIR).mkdir(parents=True, exist_ok=True)

_queue, RQ_QUEUES, _apps = services.tasks(env("TASKS_URL", default=""))
TASKS = {"default": _queue}
INSTALLED_APPS += _apps
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
    **services.clip_storage(env("STORAGE_URL", default="")),
}
LOCAL_CLIPS_BYTES = env.int("SULVET_LOCAL_CLIPS_GB", default=20) * 10**9
CACHES = {"default": services.cache(env("CACHE_URL", default=""))}
if TESTING:
    # The logins of one test don't count against those of another.
    CACHES = {"default": {"BACKEND": "django.core.cache.backends.dummy.DummyCache"}}
METRICS_TOKEN = env("SULVET_METRICS_TOKEN", default="")

#: Accounts of made-up bands: in their booth a made-up student may play where there is no camera.
STAND_IN_ACCOUNTS = ("demo",)
REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["rest_framework.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["sulvet.accounts.shapes.DataRenderer"],
    "DEFAULT_PARSER_CLASSES": ["rest_framework.parsers.JSONParser"],
    # Before a password is hashed, which is slow on purpose.
    "DEFAULT_THROTTLE_RATES": {"login": "20/min", "link": "240/min"},
    # Who asks is REMOTE_ADDR, into which the server puts what a trusted proxy says: a header of the
    # browser's own tells nothing.
    "NUM_PROXIES": 0,
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "sulvet.accounts.errors.handle",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Sulvet",
    "VERSION": "1",
    "SERVE_INCLUDE_SCHEMA": False,
    "SERVE_PERMISSIONS": ["rest_framework.permissions.IsAuthenticated"],
    "COMPONENT_SPLIT_REQUEST": True,
    "ENUM_NAME_OVERRIDES": {
        "TakeStateEnum": "sulvet.takes.pages.shapes.TAKE_STATES",
        "ChairStateEnum": "sulvet.takes.pages.shapes.CHAIR_STATES",
        "VerdictEnum": "sulvet.takes.pages.shapes.VERDICTS",
        "CloseUpVerdictEnum": "sulvet.closeups.serializers.VERDICTS",
        "ResultEnum": "sulvet.takes.pages.shapes.RESULTS",
        "ViewEnum": "sulvet.takes.pages.shapes.VIEWS",
        "ShownEnum": ["front", "side", "ear"],
        "PurposeEnum": "sulvet.takes.pages.shapes.PURPOSES",
        "DecisionAnswerEnum": "sulvet.takes.pages.shapes.ANSWERS",
        "ChangeAnswerEnum": "sulvet.records.serializers.ANSWERS",
        "StageEnum": ["lips", "mouthpiece", "instrument"],
        "CellEnum": "sulvet.records.serializers.CELLS",
    },
}
TEST_RUNNER = "tests.runner.CountingRunner"
_as_json = env("SULVET_LOG", default="") == "json"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"masked": {"()": "sulvet.web.logs.Masked"}},
    "formatters": {
        "plain": {"format": "%(message)s"},
        "json": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "format": "%(asctime)s %(levelname)s %(name)s %(message)s",
        },
    },
    "handlers": {
        "console": {
            "class": "logging.StreamHandler",
            "filters": ["masked"],
            "formatter": "json" if _as_json else "plain",
        }
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
    # Who collects lines of many processes wants to know which take was read where, and when.
    "loggers": {"sulvet": {"level": "INFO" if _as_json else "WARNING"}},
}
