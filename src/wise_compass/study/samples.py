"""Normal distributions of measures: of simulated hands, the measuring's own error added, and how likely something that
was measured is under one."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array

UNSTEADY = ((1.0, 0.6), (1.4, 0.25), (2.0, 0.15))
"""How many times as unsteady as assumed hands are, and what share of them."""


class Sample(NamedTuple):
    """A normal distribution of measures: mean (m,), covariance (m, m)."""

    mean: Array
    cover: Array


def sample_of(sizes: Array, sds: Array) -> Sample | None:
    """Mean and covariance of what hands measure, the measuring's own error added (deviations, or a covariance); None
    where most hands do not finish."""
    good = np.isfinite(sizes).all(axis=1)
    if good.sum() < 0.5 * len(sizes):
        return None
    kept = sizes[good]
    cover = np.atleast_2d(np.cov(kept, rowvar=False)) if len(kept) > 1 else np.zeros((sizes.shape[1],) * 2)
    return Sample(kept.mean(axis=0), cover + (np.diag(sds**2) if sds.ndim == 1 else sds))


MANY = 2
"""Times as many observations as predictors there are for normal equations to be well conditioned, of independent
predictors."""


def regression(predictors: Array, responses: Array) -> Array:
    """Multiple linear regression of responses (n, m) on predictors (n, k): the coefficients (k, m) of least squares,
    and of these the shortest where there are many.

    By Cholesky's decomposition of the normal equations where observations are many, by singular values else.
    """
    matrix, right = predictors - predictors.mean(axis=0), responses - responses.mean(axis=0)
    rows, columns = matrix.shape
    if rows >= MANY * columns:
        try:
            factor = np.linalg.cholesky(matrix.T @ matrix)
        except np.linalg.LinAlgError:  # one of them never varies, or goes with others
            pass
        else:
            return np.asarray(np.linalg.solve(factor.T, np.linalg.solve(factor, matrix.T @ right)))
    return np.asarray(np.linalg.lstsq(matrix, right, rcond=1e-8)[0])


def log_of(sample: Sample, seen: Array) -> float:
    """The log-likelihood of a multivariate normal distribution at ``seen``."""
    off = seen - sample.mean
    _, size = np.linalg.slogdet(sample.cover)
    return float(-0.5 * (off @ np.linalg.solve(sample.cover, off) + size + len(off) * np.log(2 * np.pi)))


def log_of_any_hand(honest: Sample, sds: Array, seen: Array) -> float:
    """The log-likelihood under honest hands, some of which are less steady than others (a scale mixture)."""
    reading = np.diag(sds**2) if sds.ndim == 1 else sds
    logs = [
        math.log(share) + log_of(Sample(honest.mean, reading + times**2 * (honest.cover - reading)), seen)
        for times, share in UNSTEADY
    ]
    top = max(logs)
    return top + math.log(sum(math.exp(one - top) for one in logs))
