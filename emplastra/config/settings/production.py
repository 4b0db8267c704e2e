"""Behind TLS: passes check --deploy. EMPLASTRA_HOSTS names the hosts, comma-separated.

The proxy that ends TLS is named in EMPLASTRA_PROXIES (addresses or networks; this machine if unset): the scheme and
the caller's address are taken from its X-Forwarded-Proto and X-Forwarded-For, and from nobody else's.
"""

import os

from .base import *  # noqa: F403
from .base import DATA_DIR, own_folder, secret_key

PROFILE = "production"
own_folder(DATA_DIR)
SECRET_KEY = os.environ.get("EMPLASTRA_SECRET_KEY") or secret_key(DATA_DIR)
ALLOWED_HOSTS = [host.strip() for host in os.environ.get("EMPLASTRA_HOSTS", "").split(",") if host.strip()]
PROXIES = [each.strip() for each in os.environ.get("EMPLASTRA_PROXIES", "127.0.0.1,::1").split(",") if each.strip()]
CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS]
SECURE_SSL_REDIRECT = True
SECURE_HSTS_SECONDS = 31536000
SECURE_HSTS_INCLUDE_SUBDOMAINS = True
SECURE_HSTS_PRELOAD = True
SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
#: Names that a browser takes over TLS alone, for this host alone, from nobody below or beside it.
SESSION_COOKIE_NAME = "__Host-session"
CSRF_COOKIE_NAME = "__Host-csrf"
