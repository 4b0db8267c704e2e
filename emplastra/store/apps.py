"""App configuration."""

from django.apps import AppConfig


class StoreConfig(AppConfig):
    name = "emplastra.store"
    label = "store"
