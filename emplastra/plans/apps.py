"""App configuration."""

from django.apps import AppConfig


class PlansConfig(AppConfig):
    name = "emplastra.plans"
    label = "plans"
