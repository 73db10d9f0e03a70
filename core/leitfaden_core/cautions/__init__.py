"""Cautions: what can hurt people or spoil parts and evidence, and at which act it stands."""

from leitfaden_core.cautions.catalogue import CAUTIONS, Caution, Measures, acts_known, cautions_for

__all__ = ["CAUTIONS", "Caution", "Measures", "acts_known", "cautions_for"]
