"""App registration."""

from django.apps import AppConfig


class BenchesConfig(AppConfig):
    name = "benches"
