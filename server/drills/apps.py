"""App registration."""

from django.apps import AppConfig


class DrillsConfig(AppConfig):
    name = "drills"
