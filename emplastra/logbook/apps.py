"""App configuration."""

from django.apps import AppConfig


class LogbookConfig(AppConfig):
    name = "emplastra.logbook"
    label = "logbook"
