"""App configuration: keeps the append-only triggers in step with the tables."""

from django.apps import AppConfig
from django.db.models.signals import post_migrate, pre_migrate


class SharedConfig(AppConfig):
    name = "emplastra.shared"
    label = "shared"

    def ready(self):
        from . import appendonly

        # A migration may rebuild a table: triggers go before it and are made anew after it.
        pre_migrate.connect(appendonly.on_pre_migrate, dispatch_uid="append-only-drop")
        post_migrate.connect(appendonly.on_post_migrate, dispatch_uid="append-only-make")
