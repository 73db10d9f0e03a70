"""Settings, addresses and the ASGI entry."""
