"""App configuration."""

from django.apps import AppConfig


class MaterialsConfig(AppConfig):
    name = "emplastra.materials"
    label = "materials"
