"""Tests: a file database without WAL, so that live servers and parallel clones can share it."""

import os
import tempfile
from pathlib import Path

from .base import *  # noqa: F403
from .base import DATABASES, INSTALLED_APPS

PROFILE = "test"
DATA_DIR = Path(tempfile.mkdtemp(prefix="emplastra-test-"))
MEDIA_ROOT = DATA_DIR / "media"
SECRET_KEY = "for tests only, never served beyond this machine"
ALLOWED_HOSTS = ["*"]
CLOCK_MAY_DIFFER = True
PLAN_SECONDS = 2.0
RISK_DRAWS = 60
INSTALLED_APPS = [*INSTALLED_APPS, "emplastra.demo"]
DATABASES["default"]["TEST"] = {
    "NAME": str(DATA_DIR / "test.sqlite3"),
    # A second run beside a first one, which migrates, may make its tables straight from the models.
    "MIGRATE": os.environ.get("EMPLASTRA_TEST_TABLES") != "models",
}
DATABASES["default"]["OPTIONS"]["init_command"] = (
    "PRAGMA journal_mode=MEMORY;PRAGMA synchronous=OFF;PRAGMA recursive_triggers=ON;"
)
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
TEST_RUNNER = "tests.runner.Runner"
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
