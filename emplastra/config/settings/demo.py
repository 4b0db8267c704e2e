"""The demo: its own data folder, its own clock, this machine only."""

import os

from .base import *  # noqa: F403
from .base import BASE_DIR, DATABASES, INSTALLED_APPS, Path, own_folder, secret_key

PROFILE = "demo"
DATA_DIR = Path(os.environ.get("EMPLASTRA_DEMO_DATA", BASE_DIR / "data" / "demo"))
DATABASES["default"]["NAME"] = DATA_DIR / "emplastra.sqlite3"
MEDIA_ROOT = DATA_DIR / "media"
SECRET_KEY = secret_key(own_folder(DATA_DIR))
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
CLOCK_MAY_DIFFER = True
INSTALLED_APPS = [*INSTALLED_APPS, "emplastra.demo"]
