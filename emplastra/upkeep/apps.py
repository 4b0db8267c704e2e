"""App configuration."""

from django.apps import AppConfig


class UpkeepConfig(AppConfig):
    name = "emplastra.upkeep"
    label = "upkeep"
