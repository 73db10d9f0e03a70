"""The commands of the core: how it is tried without a browser."""
