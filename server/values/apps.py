from django.apps import AppConfig


class ValuesConfig(AppConfig):
    """What sound engines show, and what a school holds against it."""

    name = "values"
