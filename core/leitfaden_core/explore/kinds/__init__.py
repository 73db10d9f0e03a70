"""The drawings, a module per family: each registers its own."""

from leitfaden_core.explore.kinds import airflow, electrical, fuelling, oxygen, pressure

__all__ = ["airflow", "electrical", "fuelling", "oxygen", "pressure"]
