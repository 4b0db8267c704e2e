"""App configuration."""

from django.apps import AppConfig
from django.db.models.signals import post_migrate


class ClimateConfig(AppConfig):
    name = "emplastra.climate"
    label = "climate"

    def ready(self):
        from . import live

        # A flush or a migration may give old ids to new rows: nothing that was kept by ids holds.
        post_migrate.connect(lambda **_: live.forget(), sender=self, weak=False)
