from django.apps import AppConfig


class SignaturesConfig(AppConfig):
    """Good against faulty: what a fault shows, what looks like it, from which size on it can be told."""

    name = "signatures"
