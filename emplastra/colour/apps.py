"""App configuration."""

from django.apps import AppConfig


class ColourConfig(AppConfig):
    name = "emplastra.colour"
    label = "colour"
