"""App registration."""

from django.apps import AppConfig


class PeopleConfig(AppConfig):
    name = "people"
    # Its tables and migrations keep the name that they were made with.
    label = "accounts"
