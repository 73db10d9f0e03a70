from django.apps import AppConfig


class AtlasConfig(AppConfig):
    """How sensors are built, how they fail, what people wrongly believe of them; and search over everything."""

    name = "atlas"
