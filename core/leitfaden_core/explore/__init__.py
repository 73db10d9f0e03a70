"""Grids for the explorable drawings: what a learner moves are steps of a computed table, so that no screen computes."""

from leitfaden_core.explore.narrowband import NarrowbandGrid, narrowband_grid

__all__ = ["NarrowbandGrid", "narrowband_grid"]
