"""WSGI entry."""

import os

from django.conf import settings
from django.core.wsgi import get_wsgi_application

from emplastra.shared.wsgi import behind, bodiless_head

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "emplastra.config.settings.lan")
application = bodiless_head(behind(get_wsgi_application(), settings.PROXIES))
