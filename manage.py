#!/usr/bin/env python3
"""Django's command line; the profile is named by DJANGO_SETTINGS_MODULE."""

import os
import sys

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "emplastra.config.settings.demo")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
