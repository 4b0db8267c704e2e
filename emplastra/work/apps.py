"""App configuration."""

from django.apps import AppConfig


class WorkConfig(AppConfig):
    name = "emplastra.work"
    label = "work"
