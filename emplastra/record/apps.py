"""App configuration."""

from django.apps import AppConfig


class RecordConfig(AppConfig):
    name = "emplastra.record"
    label = "record"
