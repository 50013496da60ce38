"""A Kalman filter over the errors of a hand: their normal distribution while points are found, and where the others
lie.

The state is every error in its own deviations, a priori independent and of variance 1; how each point moves with each
error is a linear regression on simulated hands; a point that is found is an observation of two coordinates.
"""

from __future__ import annotations

import numpy as np

from wise_compass.camera.laid import Laid
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.run import Lanes, Run, lanes_of
from wise_compass.geometry.vectors import Array
from wise_compass.study.blunders import SETTINGS

HANDS = 400


class Beliefs:
    """What is believed of a hand's errors, a normal distribution over all of them, and so of where its points lie:
    about those of ``drawn``, which may itself be a drawing with one setting far off. Raises :class:`KeyError` where
    that has not all the points."""

    def __init__(self, laid: Laid, slip: str | None, drawn: Run | Draft) -> None:
        run = laid.run
        self.lanes: Lanes = lanes_of(run.figure, run.method, HANDS, 3, run.conventions, laid.scale, slip)
        self.errors, self.labels = self.lanes.errors()
        spots = {name: spot for name, spot in self.lanes.draft.spots.items() if spot.kind not in ("plain", "label")}
        self.names = list(spots)
        self.exact = np.array([drawn.spots[name].here for name in self.names]) * laid.scale
        at = np.stack([np.broadcast_to(spot.at, (HANDS + 1, 2)) for spot in spots.values()], axis=1)
        good = np.array(np.isfinite(at).all(axis=(1, 2)))
        good[0] = False
        off = ((at[good] - at[0]) * laid.scale).reshape(int(good.sum()), -1)
        errors = self.errors[good[1:]]
        # a hand whose crossing jumped to another place tells nothing of how points scatter
        middle = np.median(off, axis=0)
        wide = 8.0 * 1.4826 * np.median(np.abs(off - middle), axis=0) + 1e-6
        off = np.clip(off, middle - wide, middle + wide)
        # each point hangs on few errors; what the others seem to move it by is chance and is left out
        move = errors.T @ off / max(len(errors), 1)
        limit = 2.6 * off.std(axis=0) / np.sqrt(max(len(errors), 1))
        steps = np.array([label.step for label in self.labels])
        late = steps[:, None] > np.repeat([spot.step for spot in spots.values()], 2)[None]
        keep = (np.abs(move) > limit) & ~late
        self.move = np.zeros_like(move)
        for column in range(off.shape[1]):
            rows = np.flatnonzero(keep[:, column])
            if len(rows):
                self.move[rows, column] = np.linalg.lstsq(errors[:, rows], off[:, column], rcond=1e-6)[0]
        self.move = self.move.reshape(len(self.labels), len(self.names), 2)
        self.left = (off - errors @ self.move.reshape(len(self.labels), -1)).std(axis=0).reshape(-1, 2).max(axis=1)
        self.mean = np.zeros(len(self.labels))
        self.cover = np.eye(len(self.labels))

    def place(self, k: int) -> tuple[Array, Array]:
        """Where point number k is believed to lie, in mm of the paper from the figure's origin, and its covariance."""
        g = self.move[:, k]
        return self.exact[k] + self.mean @ g, g.T @ self.cover @ g + np.eye(2) * (self.left[k] ** 2 + 1e-4)

    def spread(self, k: int) -> float:
        """How far point number k is believed to stray, one deviation the way that it strays most."""
        return float(np.sqrt(np.linalg.eigvalsh(self.place(k)[1])[-1]))

    def learn(self, k: int, at: Array, sd: float, blunder: int = -1) -> None:
        """The Kalman update by point number k, observed at a place with noise ``sd``.

        ``blunder`` is an error that is taken to be far off: its variance is widened first.
        """
        if blunder >= 0:
            self.cover[blunder, blunder] += 20.0**2
        g = self.move[:, k]
        where, cover = self.place(k)
        gain = self.cover @ g @ np.linalg.inv(cover + np.eye(2) * sd**2)
        self.mean = self.mean + gain @ (at - where)
        self.cover = self.cover - gain @ g.T @ self.cover

    def without(self, k: int, at: Array, sd: float) -> tuple[Array, Array]:
        """Leave-one-out prediction: where point number k, learned to be at a place, would be believed to lie by all
        the others alone, and its covariance there (the update taken back)."""
        g = self.move[:, k]
        noise = np.eye(2) * (self.left[k] ** 2 + 1e-4 + sd**2)
        back = self.cover @ g @ np.linalg.inv(noise - g.T @ self.cover @ g)
        mean = self.mean + back @ (self.mean @ g - (at - self.exact[k]))
        return self.exact[k] + mean @ g, g.T @ (self.cover + back @ g.T @ self.cover) @ g + np.eye(2) * (
            self.left[k] ** 2 + 1e-4
        )

    def settings_of(self, k: int) -> list[int]:
        """The errors of settings, not yet known, that a blunder would move point number k by."""
        size = np.hypot(*self.move[:, k].T)
        return [
            e
            for e in np.flatnonzero(size > 0.02).tolist()
            if self.cover[e, e] > 0.3 and self.labels[e].tolerance in SETTINGS
        ]
