"""App configuration."""

from django.apps import AppConfig


class ShelfConfig(AppConfig):
    name = "emplastra.shelf"
    label = "shelf"
