"""What ink says: how dark the paper is, how well a whole drawing lies on it, and where a line runs near its place."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from wise_compass.camera.raster import Pixels
from wise_compass.geometry.vectors import Array

INK = 0.09
"""Of the paper's lightness: by how much ink is darker at least."""
FAR = 3.0
"""mm from ink beyond which a place is as badly off as can be."""
ARM, ARM_OF_CURVE, NEAR = 7.0, 4.5, 0.7
"""mm along a line, and along a curve, to either side of a crossing at which it is looked at, and how near to the
crossing it is not."""
LIGHT, HEAVY = 0.2, 0.8
"""How dark a place can count for: of a line of the construction, and of one that is lined in."""
STEP = 0.06
"""mm from place to place across a line."""
SAGITTA = 0.9
"""mm that a curve may bend away from its tangent where it is looked at."""
LEAN, LEAN_OF_CURVE = 0.045, 0.10
"""By how much a line, and a curve, may lean away from its place, as a slope."""
SHORT, WHOLE = 3.0, 0.7
"""mm of a stroke by which a place is ticked, and the share of the clearest one's places that another has to have dark:
crossing lines look like strokes, with gaps."""
MOST_TURNED = 0.08
"""The most that a line may lean beyond that."""
CLEAR = 0.55
"""The share of a line's places that have to be dark for it to be one."""


class Inked(NamedTuple):
    """A sheet flattened: how dark each pixel is against the paper round it (0 to 1), ``fine`` pixels to a mm, ``high``
    mm, and the distance of every pixel of a coarser map, ``coarse`` to a mm, from ink, in mm."""

    dark: NDArray[np.float32]
    fine: float
    high: float
    away: NDArray[np.float32]
    coarse: float

    def at(self, places: Array) -> Array:
        """How dark places are, (…, 2) in mm from the lower left corner."""
        return _looked_up(self.dark, places, self.fine, self.high)

    def off(self, places: Array) -> Array:
        """How far places are from ink, in mm, :data:`FAR` at most."""
        return np.minimum(_looked_up(self.away, places, self.coarse, self.high), FAR)


def _looked_up(field: NDArray[np.float32], places: Array, fine: float, high: float) -> Array:
    """Bilinear interpolation of a field at places (…, 2) in mm; beyond its edge, what stands on the edge."""
    flat = np.asarray(places, dtype=float).reshape(-1, 2)
    x, y = flat[:, 0] * fine - 0.5, (high - flat[:, 1]) * fine - 0.5
    i, j = np.floor(x).astype(int), np.floor(y).astype(int)
    i, j = np.clip(i, 0, field.shape[1] - 2), np.clip(j, 0, field.shape[0] - 2)
    s, t = np.clip(x - i, 0, 1), np.clip(y - j, 0, 1)
    found = (field[j, i] * (1 - s) + field[j, i + 1] * s) * (1 - t) + (
        field[j + 1, i] * (1 - s) + field[j + 1, i + 1] * s
    ) * t
    return np.asarray(found).reshape(np.shape(places)[:-1])


def inked(flat: Pixels, fine: float) -> Inked:
    """A flattened sheet as ink on paper, whatever the light."""
    small = cv2.resize(flat, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    light = cv2.morphologyEx(small, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (15, 15)))
    light = cv2.resize(
        cv2.GaussianBlur(light, (0, 0), 7), (flat.shape[1], flat.shape[0]), interpolation=cv2.INTER_LINEAR
    )
    dark = np.clip(1.0 - flat.astype(np.float32) / np.maximum(light.astype(np.float32), 30.0), 0.0, 1.0)
    calm = cv2.GaussianBlur(dark, (0, 0), 0.07 * fine)
    factor = 4.0 / fine
    shrunk = cv2.resize((calm > INK).astype(np.float32), None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    free = (shrunk < 0.3).astype(np.uint8)
    away = cv2.distanceTransform(free, cv2.DIST_L2, 5) / 4.0
    return Inked(dark.astype(np.float32), fine, flat.shape[0] / fine, np.asarray(away, dtype=np.float32), 4.0)


class SeenInk(NamedTuple):
    """A line as it was found near its place: how far it lies off it there (mm, to its left), its lean, the share of its
    places that are dark, and one deviation of where it lies."""

    off: float
    lean: float
    clear: float
    sd: float


def lines_seen(
    ink: Inked,
    at: Array,
    way: Array,
    reach: tuple[float, float],
    wide: float,
    bent: float = 0.0,
    heavy: bool = False,
    near: float = NEAR,
    turned: float = 0.0,
) -> list[SeenInk]:
    """The dark lines that may run through ``at`` along ``way``, within ``wide`` mm across it, the likeliest first.

    ``reach`` is how far the line is drawn backward and forward, ``bent`` its curvature (1/mm, to the left); a ``heavy``
    one is darker than those of the construction; nearer than ``near`` to the crossing it is not looked at. ``turned``
    is by how much more it may lean, its ends being uncertain.
    """
    t = _along(reach, near, min(ARM_OF_CURVE, (2.0 * SAGITTA / abs(bent)) ** 0.5) if bent else ARM)
    if len(t) < 4:
        return []
    normal = np.array([-way[1], way[0]])
    steps = np.arange(-wide, wide + 1e-9, STEP)
    base = at + t[:, None] * way + (0.5 * bent * t * t)[:, None] * normal
    seen = np.minimum(ink.at(base[:, None] + steps[None, :, None] * normal), HEAVY if heavy else LIGHT)
    most = (LEAN_OF_CURVE if bent else LEAN) + min(turned, MOST_TURNED)
    leans = (
        np.linspace(-most, most, 9 + 2 * round(min(turned, MOST_TURNED) / 0.02))
        if float(np.ptp(t)) > 3.5
        else np.zeros(1)
    )
    columns = np.arange(len(steps))[None, None] + np.round(leans[:, None, None] * t[None, :, None] / STEP).astype(int)
    inside = (columns >= 0) & (columns < len(steps))
    laid = np.where(inside, seen[np.arange(len(t))[None, :, None], np.clip(columns, 0, len(steps) - 1)], 0.0)
    score = laid.mean(axis=1) - 0.1 * np.abs(leans)[:, None]
    best = score.max(axis=0)
    found: list[SeenInk] = []
    for k in _peaks(best):
        one = _refined(ink, base, normal, t, float(steps[k]), float(leans[int(np.argmax(score[:, k]))]), heavy)
        if one is not None and abs(one.lean) < most + 0.04 and all(abs(one.off - other.off) > 0.12 for other in found):
            found.append(one)
    if sum(reach) < SHORT:
        found = [one for one in found if one.clear > WHOLE * max(other.clear for other in found)]
    return found


def _along(reach: tuple[float, float], near: float, arm: float) -> Array:
    """The places along a line at which it is looked at, the crossing itself left out where it is long enough."""
    back, ahead = min(reach[0], arm), min(reach[1], arm)
    if max(back, ahead) < near + 1.5:
        return np.arange(-back, ahead + 1e-9, 0.15)
    return np.concatenate([np.arange(-back, -near + 1e-9, 0.3), np.arange(near, ahead + 1e-9, 0.3)])


def _peaks(score: Array) -> list[int]:
    """Where a score has its highest summits, nine at most."""
    # across a line as dark as counts the score is level: smoothed, it is highest in the middle
    score = np.convolve(np.pad(score, 2, mode="edge"), np.ones(5) / 5, mode="valid")
    padded = np.concatenate([[-1.0], score, [-1.0]])
    tops = np.flatnonzero((padded[1:-1] >= padded[:-2]) & (padded[1:-1] > padded[2:]) & (score > 0.6 * INK))
    return sorted(tops.tolist(), key=lambda k: -score[k])[:9]


def _refined(ink: Inked, base: Array, normal: Array, t: Array, off: float, lean: float, heavy: bool) -> SeenInk | None:
    """Robust regression (iteratively reweighted): the line's place by the centroids of its darkness, fitted
    straight."""
    steps = np.arange(-0.4, 0.401, 0.05)
    middle = off + lean * t
    seen = ink.at(base[:, None] + (middle[:, None] + steps[None])[..., None] * normal)
    deepest = seen[:, 3:-3].max(axis=1)
    ranked = np.sort(deepest)
    if not heavy:  # what is darker than a line of the construction is another line beside it
        seen = np.minimum(seen, 1.25 * max(_share_of(ranked, 0.3), INK))
    floor = np.minimum(seen[:, :2].mean(axis=1), seen[:, -2:].mean(axis=1))[:, None]
    weight = np.clip(seen - floor - 0.3 * (seen[:, 3:-3].max(axis=1, keepdims=True) - floor), 0.0, None)
    dark = deepest > max(INK, (0.55 if heavy else 0.35) * _share_of(ranked, 0.7 if heavy else 0.4))
    clear = float(dark.mean())
    if clear < CLEAR or dark.sum() < 3:
        return None
    places = middle + (weight * steps).sum(axis=1) / np.maximum(weight.sum(axis=1), 1e-9)
    beside = places - middle
    good = dark & (np.abs(beside - _share_of(np.sort(beside[dark]), 0.5)) < 0.12)
    if good.sum() < 3:
        return None
    spread = bool(np.ptp(t[good]) > 2.0)
    for _ in range(4):
        at, slope = _straight(t[good], places[good]) if spread else (float(beside[good].mean()) + off, lean)
        left = np.abs(places - at - slope * t)
        limit = max(2.5 * _share_of(np.sort(left[good]), 0.5), 0.04)
        fresh = dark & (left < limit)
        if fresh.sum() < 3 or (fresh == good).all():
            break
        good = fresh
    if abs(at - off) > 0.35:
        return None
    sd = float(np.std(left[good])) / float(np.sqrt(good.sum()))
    return SeenInk(at, slope, clear, max(sd, 0.01))


def _share_of(ranked: Array, share: float) -> float:
    """The one of values in order that so large a share of them do not exceed."""
    return float(ranked[round(share * (len(ranked) - 1))])


def _straight(t: Array, places: Array) -> tuple[float, float]:
    """Where a straight line through places is at t = 0, and its slope, by least squares."""
    middle, level = float(t.mean()), float(places.mean())
    off = t - middle
    slope = float(off @ (places - level)) / float(off @ off)
    return level - slope * middle, slope
