"""App configuration."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "emplastra.accounts"
    label = "accounts"
