"""App configuration."""

from django.apps import AppConfig


class SurveyConfig(AppConfig):
    name = "emplastra.survey"
    label = "survey"
