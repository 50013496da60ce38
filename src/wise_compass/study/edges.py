"""An honest edge: how far points that should lie in one line stray by a steady hand, and which earlier distance moves
them.

Hands run the method; each of their errors is known, so that how much it moves a point is read off by least squares.
What a drafter measures off the paper is held against that: how many steady hands are as far out, and which one setting
explains it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, lanes_of
from wise_compass.drafting.wording import bare, mm
from wise_compass.geometry.vectors import Array, left_of, unit

HANDS = 500
WIDE = 2.4477
"""Standard deviations within which 95 in 100 of a plane's normal errors lie (the root of chi-square with two
degrees)."""
DISTANCES = ("rule mark", "dividers taken", "dividers stepped")
"""The errors that measuring a distance again can find."""
HONEST = 0.05
"""The share of steady hands under which a measured edge is out of the ordinary."""


class ScatterEllipse(NamedTuple):
    """What 95 steady hands in 100 stay within about a spot: half axes in mm, and the angle of the longer one in
    degrees."""

    key: str
    at: Array
    long: float
    short: float
    turn: float
    step: int
    says: str


class Cause(NamedTuple):
    """A setting that moves the edge: its step, what is wrong, by how much it would have to be off, and its share of the
    scatter."""

    step: int
    says: str
    off: float
    unit: str
    share: float


class EdgeVerdict(NamedTuple):
    """What is held of a measured edge: how far out it is, the share of steady hands that are as far, and what to check
    first."""

    out: float
    share: float
    furthest: str
    says: str
    causes: tuple[Cause, ...]


class EdgeOn(NamedTuple):
    """A plane seen on edge: the view, and the letters of its corners along the line."""

    view: str
    letters: tuple[str, ...]


def edge_of(run: Run) -> EdgeOn | None:
    """The last view in which a face of the figure is one line; None where there is none."""
    views = run.views
    for view in reversed(views.auxiliary if views is not None else []):
        for face in run.figure.body(list(run.found)) if isinstance(run.figure, InViews) else ():
            letters = tuple(dict.fromkeys(face))
            keys = [view.key(letter) for letter in letters]
            if face[0] != face[-1] or len(letters) < 3 or any(key not in run.spots for key in keys):
                continue
            at = np.array([run.spots[key].here for key in keys])
            away = np.linalg.svd(at - at.mean(axis=0))[1]
            if away[1] < 1e-6 * max(float(away[0]), 1.0):
                return EdgeOn(view.id, letters)
    return None


class Hands:
    """Many hands that ran one method, with every error they made: ``strays`` has a column an error, in its own
    deviations."""

    def __init__(self, run: Run, scale: float = 1.0, count: int = HANDS) -> None:
        lanes = lanes_of(run.figure, run.method, count, 0, run.conventions, scale)
        self.run, self.scale = run, scale
        self.spots = {name: spot.at for name, spot in lanes.draft.spots.items() if spot.at.ndim > 1}
        keep = np.ones(count, dtype=bool)
        for at in self.spots.values():
            keep &= np.isfinite(at[1:]).all(axis=1)
        self.keep = keep
        errors, self.labels = lanes.errors()
        self.strays = errors[keep]
        self._solved: Array | None = None

    def off(self, key: str) -> Array:
        """How far each hand's spot is off the steady one's, (hands, 2)."""
        at = self.spots.get(key)
        return np.zeros((int(self.keep.sum()), 2)) if at is None else np.asarray((at[1:] - at[0])[self.keep])

    def moved(self, off: Array) -> Array:
        """How much each error, made by one of its deviations, moves quantities (hands, n): (errors, n), by least
        squares."""
        if self._solved is None:
            self._solved = np.asarray(np.linalg.pinv(self.strays), dtype=float)
        return np.asarray(self._solved @ off)

    def cause(self, off: Array) -> tuple[int, float]:
        """The step whose distance explains most of a scatter, and by which share."""
        power = (self.moved(off) ** 2).sum(axis=1) * np.array([label[1] in DISTANCES for label in self.labels])
        steps = np.array([label[0] for label in self.labels])
        shares = np.bincount(steps, weights=power)
        most = int(np.argmax(shares))
        return most, float(shares[most] / max(float((off * off).mean(axis=0).sum()), 1e-24))


@lru_cache(maxsize=4)
def ellipses(hands: Hands) -> tuple[ScatterEllipse, ...]:
    """The scatter of every spot of the last auxiliary view, and the step that moves it most."""
    run = hands.run
    views = run.views.auxiliary if run.views is not None else []
    found = []
    for key, spot in run.spots.items():
        if (
            not views
            or not key.endswith(f".{views[-1].id}")
            or key not in hands.spots
            or spot.kind in ("plain", "label")
        ):
            continue
        off = hands.off(key)
        spread, ways = np.linalg.eigh(off.T @ off / len(off))
        step, share = hands.cause(off)
        long, short = (WIDE * float(np.sqrt(max(x, 0.0))) for x in (spread[1], spread[0]))
        says = (
            f"a steady hand stays within {mm(round(long, 2))}; of all distances that "
            f"of step {step} moves it most ({share:.0%})"
        )
        turn = float(np.rad2deg(np.arctan2(ways[1, 1], ways[0, 1])))
        found.append(ScatterEllipse(key, spot.here, long, short, turn, step, says))
    return tuple(found)


def _off_line(along: Array, offs: Array) -> Array:
    """What is left of offs (…, n) from a line once the best line through them is taken away."""
    basis = np.stack([np.ones(len(along)), along - along.mean()], axis=1)
    fit = basis @ np.linalg.pinv(basis)
    return np.asarray(offs - offs @ fit.T)


def judge_edge(hands: Hands, edge: EdgeOn, measured: Mapping[str, float]) -> EdgeVerdict:
    """What measured offs of the corners from the drawn edge say, in mm on the paper, + to the left along it.

    Whichever line the drafter drew, only what no line takes away counts. Raises :class:`Refused` for a letter that is
    none of the edge's, or where fewer than all of its corners are told.
    """
    run, letters = hands.run, edge.letters
    for letter in measured:
        if letter not in letters:
            raise Refused(letter, f"{letter} is no corner on this edge; they are {', '.join(letters)}.")
    missing = [letter for letter in letters if letter not in measured]
    if missing:
        raise Refused(
            missing[0],
            f"{', '.join(missing)} is not told: say how far each of {', '.join(letters)} stands off the line, 0 on it.",
        )
    at = np.array([run.spots[f"{letter}.{edge.view}"].here for letter in letters])
    u = unit(at[np.argmax(np.linalg.norm(at - at[0], axis=1))] - at[0])
    along = (at - at[0]) @ u
    told = _off_line(along, np.array([measured[letter] / hands.scale for letter in letters]))
    off = np.stack([hands.off(f"{letter}.{edge.view}") @ left_of(u) for letter in letters], axis=1)
    left = _off_line(along, off)
    ways = np.linalg.svd(left, full_matrices=False)[2][: max(len(letters) - 2, 1)]
    scatter, seen = left @ ways.T, told @ ways.T
    cover = scatter.T @ scatter / len(scatter)
    weigh = np.linalg.pinv(cover)
    miss = float(seen @ weigh @ seen)
    share = float((np.einsum("ij,jk,ik->i", scatter, weigh, scatter) >= miss).mean())
    causes = _causes(hands, hands.moved(scatter), seen, weigh)
    out = float(np.abs(told).max()) * hands.scale
    furthest = f"{letters[int(np.argmax(np.abs(told)))]}.{edge.view}"
    return EdgeVerdict(out, share, furthest, _says(out, share, furthest, causes, hands), causes)


def _causes(hands: Hands, moved: Array, seen: Array, weigh: Array) -> tuple[Cause, ...]:
    """The settings that alone would explain what was measured, the likeliest first: the one that need be off by
    least."""
    best: dict[int, Cause] = {}
    whole = max(float(np.einsum("ij,jk,ik->", moved, weigh, moved)), 1e-24)
    for (step, tolerance, sd, kind, _), move in zip(hands.labels, moved):
        power = float(move @ weigh @ move)
        if power < 1e-6 or tolerance not in DISTANCES:
            continue
        times = float(move @ weigh @ seen) / power
        drawn = hands.run.steps[step - 1]
        setting = f" at {drawn.setting(scale=hands.scale)}" if drawn.settings else ""
        cause = Cause(
            step,
            f"{drawn.tool(hands.scale).lower()}{setting}",
            times * sd * hands.scale if kind == "mm" else times * sd,
            kind,
            power / whole,
        )
        if step not in best or abs(cause.share) > best[step].share:
            best[step] = cause
    return tuple(sorted(best.values(), key=lambda cause: -cause.share)[:4])


def _says(out: float, share: float, furthest: str, causes: Sequence[Cause], hands: Hands) -> str:
    many = f"{share:.0%} of steady hands are" if share >= 0.01 else "fewer than 1 steady hand in 100 is"
    head = f"{furthest} stands {mm(round(out, 2))} off the line that suits the others best; {many} as far out."
    if share >= HONEST or not causes:
        return f"{head} That is a steady hand's scatter: leave the points where they are."
    first = causes[0]
    off = mm(round(abs(first.off), 2)) if first.unit == "mm" else f"{bare(abs(first.off))}°"
    again = f"Measure step {first.step} again first ({first.says}): {off} there would do it"
    return f"{head} Do not push a point about. {again}."
