"""App configuration."""

from django.apps import AppConfig


class ClimateConfig(AppConfig):
    name = "emplastra.climate"
    label = "climate"
