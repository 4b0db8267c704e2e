"""App configuration."""

from django.apps import AppConfig


class ScalesConfig(AppConfig):
    name = "emplastra.scales"
    label = "scales"
