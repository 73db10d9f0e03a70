"""App registration."""

from django.apps import AppConfig


class SimulationsConfig(AppConfig):
    name = "simulations"
