"""App configuration."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "emplastra.jobs"
    label = "jobs"
