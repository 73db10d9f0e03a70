"""One module per family of calculations; importing this package registers them all."""

from leitfaden_core.workings.kinds import air, circuits, fuelling, oxygen, pressure, temperature

__all__ = ["air", "circuits", "fuelling", "oxygen", "pressure", "temperature"]
