"""App configuration."""

from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "emplastra.demo"
    label = "demo"
