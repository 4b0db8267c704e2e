"""App configuration."""

from django.apps import AppConfig


class PracticeConfig(AppConfig):
    name = "emplastra.practice"
    label = "practice"
