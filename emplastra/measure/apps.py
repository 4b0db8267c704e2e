"""App configuration."""

from django.apps import AppConfig


class MeasureConfig(AppConfig):
    name = "emplastra.measure"
    label = "measure"
