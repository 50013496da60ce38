"""One set of places laid over another."""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Array


def laid_over(here: Array, there: Array) -> tuple[Array, Array]:
    """The turn (2, 2), with a mirroring where that lies nearer, and the shift that lay places over others as near as
    may be (orthogonal Procrustes problem)."""
    middle, other = here.mean(axis=0), there.mean(axis=0)
    u, _, v = np.linalg.svd((here - middle).T @ (there - other))
    turn = (u @ v).T
    return turn, other - turn @ middle
