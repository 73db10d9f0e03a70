"""Chance from a counter: the same seed, stream and frame give the same number, whatever was asked before.

splitmix64 (Steele, Lea and Flood, OOPSLA 2014) as a hash; the sum of four uniform numbers stands for a normal one
(Irwin–Hall).
"""

import numpy as np

from leitfaden_core.compiled import compiled_as


@compiled_as("uint64(uint64, int64, int64)")
def _hashed(seed: np.uint64, stream: int, count: int) -> np.uint64:
    """64 bits that depend on all three."""
    z = (
        np.uint64(seed)
        + np.uint64(stream) * np.uint64(0x9E3779B97F4A7C15)
        + np.uint64(count) * np.uint64(0xD1B54A32D192ED03)
    )
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return z ^ (z >> np.uint64(31))


@compiled_as("float64(uint64, int64, int64)")
def uniform(seed: np.uint64, stream: int, count: int) -> float:
    """Uniform from 0 to below 1. [-]"""
    return float(_hashed(seed, stream, count) >> np.uint64(11)) * (1.0 / 9007199254740992.0)


@compiled_as("float64(uint64, int64, int64)")
def normal(seed: np.uint64, stream: int, frame: int) -> float:
    """About normal, mean 0, standard deviation 1, within ±3.5. [-]"""
    z = _hashed(seed, stream, frame)
    mask = np.uint64(0xFFFF)
    total = (
        float(z & mask)
        + float((z >> np.uint64(16)) & mask)
        + float((z >> np.uint64(32)) & mask)
        + float(z >> np.uint64(48))
    )
    return (total / 65536.0 - 2.0) * 1.7320508
