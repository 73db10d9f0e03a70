"""App registration."""

from django.apps import AppConfig


class LessonsConfig(AppConfig):
    name = "lessons"
    # Its tables and migrations keep the name that they were made with.
    label = "library"
