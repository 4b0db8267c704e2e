"""Behind TLS: passes check --deploy. EMPLASTRA_HOSTS names the hosts, comma-separated."""

import os

from .base import *  # noqa: F403
from .base import DATA_DIR, secret_key

PROFILE = "production"
SECRET_KEY = os.environ.get("EMPLASTRA_SECRET_KEY") or secret_key(DATA_DIR)
ALLOWED_HOSTS = [host for host in os.environ.get("EMPLASTRA_HOSTS", "").split(",") if host]
CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS]
SECURE_SSL_REDIRECT = True
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SECURE_HSTS_SECONDS = 31536000
SECURE_HSTS_INCLUDE_SUBDOMAINS = True
SECURE_HSTS_PRELOAD = True
SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
