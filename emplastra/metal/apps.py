"""App configuration."""

from django.apps import AppConfig


class MetalConfig(AppConfig):
    name = "emplastra.metal"
    label = "metal"
