"""Settings that every profile shares."""

import contextlib
import os
from datetime import timedelta
from pathlib import Path

from csp.constants import NONE, SELF

BASE_DIR = Path(__file__).resolve().parents[3]
PACKAGE_DIR = BASE_DIR / "emplastra"
DATA_DIR = Path(os.environ.get("EMPLASTRA_DATA", BASE_DIR / "data" / "workshop"))
PROFILE = "base"
#: How long days are planned before the best plan found is shown [s].
PLAN_SECONDS = 14.0
#: In how many weathers a plan is replayed.
RISK_DRAWS = 500

DEBUG = False
ALLOWED_HOSTS: list[str] = []
#: Reverse proxies whose word on scheme and address is taken.
PROXIES: list[str] = []
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"
USE_I18N = False

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "django_htmx",
    "csp",
    "axes",
    "emplastra.shared",
    "emplastra.accounts",
    "emplastra.climate",
    "emplastra.materials",
    "emplastra.jobs",
    "emplastra.store",
    "emplastra.logbook",
    "emplastra.scales",
    "emplastra.work",
    "emplastra.plans",
    "emplastra.bench",
    "emplastra.record",
    "emplastra.survey",
    "emplastra.tins",
    "emplastra.measure",
    "emplastra.colour",
    "emplastra.shelf",
    "emplastra.metal",
    "emplastra.days",
    "emplastra.handover",
    "emplastra.practice",
    "emplastra.upkeep",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "django_permissions_policy.PermissionsPolicyMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "emplastra.shared.middleware.NotKept",
    "emplastra.accounts.middleware.PrivateNetworkOnly",
    "emplastra.shared.middleware.Guarded",
    "emplastra.shared.middleware.Leads",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "emplastra.accounts.middleware.SignInEverywhere",
    "emplastra.accounts.middleware.Quota",
    "emplastra.shared.middleware.Written",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "emplastra.config.urls"
WSGI_APPLICATION = "emplastra.config.wsgi.application"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [PACKAGE_DIR / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "emplastra.accounts.context.workshop",
                "emplastra.bench.context.bands",
            ],
            "builtins": ["emplastra.shared.templatetags.show", "emplastra.accounts.templatetags.rights"],
        },
    }
]

FORM_RENDERER = "emplastra.shared.controls.InCode"

DATABASES = {
    "default": {
        "ENGINE": "emplastra.shared.sqlite",
        "NAME": DATA_DIR / "emplastra.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL;PRAGMA synchronous=FULL;PRAGMA recursive_triggers=ON;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesBackend", "django.contrib.auth.backends.ModelBackend"]
_VALIDATION = "django.contrib.auth.password_validation"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"{_VALIDATION}.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": f"{_VALIDATION}.CommonPasswordValidator"},
    {"NAME": f"{_VALIDATION}.UserAttributeSimilarityValidator", "OPTIONS": {"user_attributes": ["username"]}},
    {"NAME": "emplastra.accounts.passwords.NotMadeOfNames"},
]
#: Wrong tries are counted for a name from an address together, never for the name alone: nobody locks another out.
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = timedelta(minutes=5)
AXES_RESET_ON_SUCCESS = True
AXES_USERNAME_CALLABLE = "emplastra.accounts.throttle.name_of"
AXES_CLIENT_IP_CALLABLE = "emplastra.accounts.security.address_of"
AXES_LOCKOUT_CALLABLE = "emplastra.accounts.throttle.locked_out"
AXES_DISABLE_ACCESS_LOG = True
AXES_SENSITIVE_PARAMETERS = ["username", "ip_address", "code", "csrfmiddlewaretoken"]
AXES_ENABLE_ADMIN = False
AXES_VERBOSE = False
LOGIN_URL = "accounts:sign-in"
LOGIN_REDIRECT_URL = "bench:home"
CSRF_FAILURE_VIEW = "emplastra.accounts.views.csrf_failure"
SESSION_ENGINE = "emplastra.accounts.sessions"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"

#: What no page of the workshop uses of a device.
PERMISSIONS_POLICY = {
    name: []
    for name in (
        "accelerometer",
        "camera",
        "display-capture",
        "geolocation",
        "gyroscope",
        "magnetometer",
        "microphone",
        "midi",
        "payment",
        "serial",
        "usb",
    )
}

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "object-src": [NONE],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
        "form-action": [SELF],
    }
}

STATIC_URL = "static/"
STATIC_ROOT = BASE_DIR / "static-collected"
STATICFILES_DIRS = [PACKAGE_DIR / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedManifestStaticFilesStorage"},
}
MEDIA_ROOT = DATA_DIR / "media"
FILE_UPLOAD_MAX_MEMORY_SIZE = 6 * 1024 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 6 * 1024 * 1024
#: So much of files one person may send in a day [bytes], and so many of their works may run at once.
UPLOADS_A_DAY = 3_000_000_000
WORKS_AT_ONCE = 4

#: A scaled or fixed clock is for the demo and tests only.
CLOCK_MAY_DIFFER = False
MESSAGE_STORAGE = "django.contrib.messages.storage.session.SessionStorage"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"secrets": {"()": "emplastra.shared.private.WithoutSecrets"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["secrets"]}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # What was guessed and locked out stands in the security log, where an owner reads it.
    "loggers": {"axes": {"level": "ERROR"}},
}


def own_folder(data_dir: Path) -> Path:
    """The data folder, this user's alone, as is whatever this process writes from now on: database, journal, photos."""
    os.umask(0o077)
    try:
        data_dir.mkdir(parents=True, exist_ok=True)
        if not os.access(data_dir, os.W_OK | os.X_OK):
            raise PermissionError(f"{data_dir} may not be written by this user")
    except OSError as error:
        raise SystemExit(f"EMPLASTRA_DATA names no folder for the workshop’s data: {error}") from error
    private = [data_dir, *data_dir.glob("*.sqlite3*"), *data_dir.glob("backups/*"), *data_dir.glob("before-restore-*")]
    for path in private:
        with contextlib.suppress(OSError):  # another user's: told by whatever needs to write there
            path.chmod(0o700 if path.is_dir() else 0o600)
    return data_dir


def secret_key(data_dir: Path) -> str:
    """The secret of this installation, made once and kept in its data folder."""
    from django.core.management.utils import get_random_secret_key

    path = data_dir / "secret-key"
    if not path.exists():
        path.write_text(get_random_secret_key() + get_random_secret_key())
    return path.read_text()
