"""App configuration."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "emplastra.bench"
    label = "bench"
