"""One module per group of instruments; importing this package registers them all."""

from leitfaden_core.instruments.kinds import air, electrical, eyes, gauges, oscilloscope, parts, scan, stimulus

__all__ = ["air", "electrical", "eyes", "gauges", "oscilloscope", "parts", "scan", "stimulus"]
