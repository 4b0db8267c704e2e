"""App configuration."""

from django.apps import AppConfig


class DaysConfig(AppConfig):
    name = "emplastra.days"
    label = "days"
