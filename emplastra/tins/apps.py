"""App configuration."""

from django.apps import AppConfig


class TinsConfig(AppConfig):
    name = "emplastra.tins"
    label = "tins"
