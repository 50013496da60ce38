"""One setting far off, however far: what it would make of the measures is run, not straightened, and weighed along the
curve that it makes of them.

Each error of the hands is pushed by sizes from :data:`LEAST` to :data:`MOST` of its deviations, all of them in one run.
Between two sizes next to each other the measures move along a chord, and the evidence of a blunder of unknown size is
the integral of a normal density along it (marginal likelihood, size log-uniform). Where a chord leaves its curve by
more than the scatter, what looks likely is run again in between. ``misreads.py`` tells what a person makes of a number:
those are points of the curve.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wise_compass.geometry.vectors import Array

LEAST, MOST, MOST_OF_PLACES = 4.0, 320.0, 80.0
"""Deviations by which a blundered setting is off, at least and at most; a needle, a pencil or a line is set down on
what is seen, and strays less far."""
SIZES = 10
"""Sizes that are run first, each way."""
BETWEEN, ROUNDS = 12, 3
"""Sizes that are run between two of them, where it matters, and how often anew."""
NEAR, TRIED = 16.0, 24
"""Nats under the best, and how many chords, within which it matters."""
BENT = 0.05
"""The square of a chord's sagitta, in the scatter's own measure, that is no longer of account."""

Runner = Callable[[dict[int, Array]], Array]
"""What the measures come to, (lanes, m), where errors by their numbers are those of each lane."""


class Metric:
    """A normal distribution about some place, (m,), of covariance (m, m): quadratic forms of it, array-first."""

    def __init__(self, cover: Array) -> None:
        self.weigh = np.linalg.inv(cover)
        self.constant = float(np.linalg.slogdet(cover)[1]) + len(cover) * math.log(2.0 * math.pi)

    def form(self, one: Array, other: Array) -> Array:
        """The inner product of vectors, (..., m) each."""
        return np.asarray(np.einsum("...i,ij,...j->...", one, self.weigh, other))

    def log(self, off: Array, bent: Array | None = None) -> Array:
        """The log density at ``off`` from the middle; ``bent`` are vectors along which it is spread by one deviation
        more (Sherman-Morrison)."""
        if bent is None:
            return -0.5 * (self.form(off, off) + self.constant)
        more = self.form(bent, bent)
        return -0.5 * (self.form(off, off) - self.form(off, bent) ** 2 / (1.0 + more) + np.log1p(more) + self.constant)

    def along(self, off: Array, chord: Array, bent: Array) -> tuple[Array, Array, Array]:
        """The log of the mean density along chords, each from ``off`` before the seen place by ``chord``; where on each
        it is densest (0 to 1), and one deviation of that, in chords.

        ``bent`` are vectors, one a chord, along which the density is spread by one deviation more.
        """
        more = self.form(bent, bent)
        less = 1.0 / (1.0 + more)
        ov, oo, vv = self.form(off, chord), self.form(off, off), self.form(chord, chord)
        ob, vb = self.form(off, bent), self.form(chord, bent)
        a = np.maximum(vv - less * vb**2, 1e-12)
        b, c = ov - less * ob * vb, oo - less * ob**2
        middle, root = b / a, np.sqrt(a)
        inside = np.array([_between(-m * r, (1.0 - m) * r) for m, r in zip(middle.tolist(), root.tolist())])
        log = -0.5 * (c - b**2 / a) + 0.5 * np.log(2.0 * np.pi / a) + inside
        return log - 0.5 * (np.log1p(more) + self.constant), np.clip(middle, 0.0, 1.0), 1.0 / root


def _between(low: float, high: float) -> float:
    """The log of a standard normal's probability between two places."""
    if low > 0.0:
        low, high = -high, -low
    share = 0.5 * (math.erfc(-high / math.sqrt(2.0)) - math.erfc(-low / math.sqrt(2.0)))
    return math.log(share) if share > 1e-300 else -700.0


class Pushable(NamedTuple):
    """An error that may be far off: its number, one deviation, and how many of them it may be off at most."""

    number: int
    sd: float
    most: float = MOST


class Pushed(NamedTuple):
    """What comes of an error far off: the log of the evidence, by how much it is off, and one deviation of that, both
    in the error's unit."""

    log: float
    off: float
    sd: float


class _Chords(NamedTuple):
    """Chords of the curves that errors make: which error, from which size to which, the share of the sizes beforehand,
    and the measures at both ends and at their bend, each (n, m)."""

    error: Array
    low: Array
    high: Array
    share: Array
    first: Array
    last: Array
    bent: Array

    def some(self, which: NDArray[np.bool_]) -> _Chords:
        return _Chords(*(part[which] for part in self))


def pushed(errors: Sequence[Pushable], run: Runner, seen: Array, metric: Metric, honest: Array) -> list[Pushed]:
    """Each error held to have been far off, by a size nobody knows: in the order of ``errors``. Their log is ``-inf``
    where no hand that is so far off comes to the end.

    ``seen`` (m,) is what was measured, ``honest`` (m,) what an exact hand makes.
    """
    if not errors:
        return []
    found = [Pushed(-math.inf, 0.0, 0.0)] * len(errors)
    chords = _coarse(errors, run, honest)
    settled: list[tuple[Array, Array, Array, Array]] = []
    for again in range(ROUNDS + 1):
        if not len(chords.error):
            break
        log, at, wide = metric.along(seen - chords.first, chords.last - chords.first, chords.bent)
        log = log + np.log(chords.share)
        sag = metric.form(chords.bent, chords.bent)
        known = max([float(log.max()), *(float(one[1].max()) for one in settled if len(one[1]))])
        finer = (sag > BENT) & (log > known - NEAR)
        if again == ROUNDS or not finer.any():
            finer = np.zeros(len(log), dtype=bool)
        elif finer.sum() > TRIED:
            finer &= log >= np.sort(log[finer])[-TRIED]
        long = chords.high - chords.low
        kept = ~finer
        settled.append((chords.error[kept], log[kept], (chords.low + at * long)[kept], np.abs(wide * long)[kept]))
        if not finer.any():
            break
        chords = _finer(errors, chords.some(finer), run)
    which, logs, offs, sds = (np.concatenate([one[k] for one in settled]) for k in range(4))
    for k in sorted({int(one) for one in which}):
        mine = np.flatnonzero(which == k)
        best = mine[int(np.argmax(logs[mine]))]
        top = float(logs[best])
        found[k] = Pushed(top + math.log(float(np.exp(logs[mine] - top).sum())), float(offs[best]), float(sds[best]))
    return found


def _coarse(errors: Sequence[Pushable], run: Runner, honest: Array) -> _Chords:
    """The chords between the sizes that are tried first, each way."""
    sizes = np.stack([np.geomspace(LEAST, max(one.most, 2 * LEAST), SIZES) * one.sd for one in errors])
    both = np.concatenate([-sizes[:, ::-1], sizes], axis=1)
    curve = _run(errors, both, run)
    parts = []
    for side in (slice(0, SIZES), slice(SIZES, 2 * SIZES)):
        parts.append(_between_sizes(np.arange(len(errors), dtype=float), both[:, side], curve[:, side], 0.5))
    return _joined(parts)


def _finer(errors: Sequence[Pushable], chords: _Chords, run: Runner) -> _Chords:
    """The chords of sizes between the ends of others, an equal share each."""
    inner = np.linspace(0.0, 1.0, BETWEEN + 2)
    sizes = chords.low[:, None] + inner * (chords.high - chords.low)[:, None]
    own = [errors[int(k)] for k in chords.error.tolist()]
    curve = np.concatenate([chords.first[:, None], _run(own, sizes[:, 1:-1], run), chords.last[:, None]], axis=1)
    made = _between_sizes(chords.error, sizes, curve, 1.0)
    share = np.repeat(chords.share / (BETWEEN + 1), BETWEEN + 1)[_whole(curve)]
    return made._replace(share=share)


def _run(errors: Sequence[Pushable], sizes: Array, run: Runner) -> Array:
    """What errors make at sizes (errors, n), each alone: (errors, n, m)."""
    count = sizes.shape[1]
    told: dict[int, Array] = {}
    for k, one in enumerate(errors):
        column = told.setdefault(one.number, np.zeros(1 + sizes.size))
        column[1 + k * count : 1 + (k + 1) * count] = sizes[k]
    made = run(told)
    return made.reshape(len(errors), count, -1)


def _whole(curve: Array) -> NDArray[np.bool_]:
    """Which chords of curves (errors, n, m) have both their ends, in one row."""
    good: NDArray[np.bool_] = np.asarray(np.isfinite(curve).all(axis=2))
    return (good[:, 1:] & good[:, :-1]).ravel()


def _between_sizes(number: Array, sizes: Array, curve: Array, whole: float) -> _Chords:
    """The chords of curves (errors, n, m) at sizes (errors, n); they share ``whole`` by the logarithm of size."""
    with np.errstate(divide="ignore", invalid="ignore"):
        share = np.abs(np.diff(np.log(np.abs(sizes)), axis=1))
        share = whole * share / share.sum(axis=1, keepdims=True)
    second = np.zeros_like(curve)
    second[:, 1:-1] = curve[:, 2:] - 2.0 * curve[:, 1:-1] + curve[:, :-2]
    second = np.where(np.isfinite(second), second, 0.0)
    ends = np.stack([second[:, :-1], second[:, 1:]])
    larger = np.argmax(np.abs(ends).sum(axis=3), axis=0)
    bent = np.take_along_axis(ends, larger[None, :, :, None], axis=0)[0] / 8.0
    n, m = sizes.shape[1] - 1, curve.shape[2]
    which = _whole(curve)
    return _Chords(
        np.repeat(number, n),
        sizes[:, :-1].ravel(),
        sizes[:, 1:].ravel(),
        share.ravel(),
        curve[:, :-1].reshape(-1, m),
        curve[:, 1:].reshape(-1, m),
        bent.reshape(-1, m),
    ).some(which)


def _joined(parts: Sequence[_Chords]) -> _Chords:
    return _Chords(*(np.concatenate(each) for each in zip(*parts)))
