"""App configuration."""

from django.apps import AppConfig


class HandoverConfig(AppConfig):
    name = "emplastra.handover"
    label = "handover"
