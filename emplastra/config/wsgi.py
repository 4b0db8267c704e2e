"""WSGI entry."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "emplastra.config.settings.lan")
application = get_wsgi_application()
