"""Chance from names: the same seed and names give the same stream, other names another one."""

import zlib

import numpy as np


def chance(seed: int, *names: str | int) -> np.random.Generator:
    """A stream of its own for a seed and names, such as the id of a station.

    >>> chance(1, "fuse box").random() == chance(1, "fan motor").random()
    False
    """
    return np.random.default_rng(
        [seed, *(name if isinstance(name, int) else zlib.crc32(name.encode()) for name in names)]
    )
