"""Squaring a photograph up by the frame of its sheet: homography and lens, fitted along the frame's whole length, and
tried at other marks.

The frame is found as the largest closed outline of four straight sides; its sides are then looked for line by line,
each place by the centroid of its darkness, and eight numbers of a homography and two of radial distortion are fitted to
them by robust least squares.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import product
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from wise_compass.camera.frames import SQUARE, FrameSegment, KnownFrame, known_frames, reframed
from wise_compass.camera.outlines import tries
from wise_compass.camera.raster import Pixels
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.paper import SIZES, Paper

PLACES = 70
"""Places along a side of the frame that are fitted."""
WINDOWS = (26.0, 10.0, 7.0)
"""Pixels to either side in which the line is looked for, round after round."""
COARSE, BLURRED, CURLED = 5.0, 0.24, 0.3
"""Pixels a mm that are too few; mm of blur (one deviation), and mm off at the other marks, that are too much."""
FRAME_WIDTH = 0.5
NO_FRAME = (
    "No whole frame is found in the picture. Take in the whole sheet, frame and margins, "
    "from straight above, in even light; a frame that is "
    "cut off cannot be squared up."
)


class Squared(NamedTuple):
    """A photograph squared up: ``to_picture`` takes paper mm to pixels. ``off`` is the worst of the marks that were not
    fitted, ``rms`` how well the frame fits, both in mm; ``fine`` pixels to a mm, ``blur`` in mm; ``sure`` is one
    deviation of a place, in mm."""

    paper: Paper
    numbers: Array
    size: tuple[int, int]
    fine: float
    rms: float
    off: float
    blur: float
    sure: float
    by: str = "frame"

    def to_picture(self, points: Array) -> Array:
        return _project(self.numbers, np.asarray(points, dtype=float), self.size)


def _project(numbers: Array, points: Array, size: tuple[int, int]) -> Array:
    """Places of the paper, (…, 2) in mm, as pixels of the picture."""
    h = np.append(numbers[:8], 1.0).reshape(3, 3)
    deep = points[..., 0] * h[2, 0] + points[..., 1] * h[2, 1] + 1.0
    ideal = np.stack([points @ h[0, :2] + h[0, 2], points @ h[1, :2] + h[1, 2]], axis=-1) / deep[..., None]
    centre = np.array(size) / 2.0
    off = ideal - centre
    square = (off * off).sum(axis=-1, keepdims=True) / float(centre @ centre)
    return np.asarray(centre + off * (1.0 + numbers[8] * square + numbers[9] * square * square))


def square_up(grey: Pixels, paper: Paper | None = None, sides: tuple[float, float] | None = None) -> Squared:
    """Square a photograph up; ``paper`` where it is known, ``sides`` (across and up, mm) for a frame drawn by hand.

    Where the largest outline is not the frame (squared paper, a ruler that lies over it, a lens that bends it), others
    are tried in turn. Raises :class:`Refused` where no whole frame is found, for too few pixels, blur, and paper that
    is curled or creased.
    """
    first: Refused | None = None
    for quads, bent in tries(grey):
        try:
            return _squared(grey, quads, bent, paper, sides)
        except Refused as refusal:
            if first is None or (first.says == NO_FRAME and not bent):
                first = refusal
    raise first or Refused("photo", NO_FRAME)


def _squared(
    grey: Pixels, quads: Sequence[Array], bent: float, paper: Paper | None, sides: tuple[float, float] | None
) -> Squared:
    """The fit of the likeliest of some outlines, of a lens that bends them so much; raises :class:`Refused`."""
    size = (grey.shape[1], grey.shape[0])
    best: tuple[float, KnownFrame, Array] | None = None
    for quad in quads[:3]:
        # a frame of any shape is a square seen askew, so that one fit serves for every paper and turn
        unit = SQUARE._replace(edge=sides in SIZES.values())
        start = _start(unit, quad)
        start[8] = bent
        try:
            square, _ = _fitted(grey, start, unit, WINDOWS[0], size)
        except Refused:
            continue
        for known, turn in product(known_frames(paper, sides), range(4)):
            numbers = reframed(square, known, turn)
            score = _evidence(grey, numbers, known.segments) if known.segments else _upright(numbers, known, turn, size)
            if best is None or score > best[0] + 1e-9:
                best = (score, known, numbers)
    if best is None:
        raise Refused("photo", NO_FRAME)
    _, known, numbers = best
    for window in WINDOWS:
        numbers, rms = _fitted(grey, numbers, known, window, size)
    if not np.isfinite(numbers).all() or rms > 1.0:
        raise Refused("photo", NO_FRAME)
    return _judged(grey, numbers, known, rms, size)


def _start(known: KnownFrame, quad: Array) -> Array:
    """A homography from the frame's corners; the quad's first corner is taken for the frame's upper left."""
    left, bottom, right, top = known.frame
    paper = np.array([[left, top], [right, top], [right, bottom], [left, bottom]], dtype=np.float32)
    matrix = cv2.getPerspectiveTransform(paper, quad.astype(np.float32))
    return np.append((matrix / matrix[2, 2]).ravel()[:8], [0.0, 0.0])


def sampled(grey: Pixels | NDArray[np.float32], places: Array) -> Array:
    """The grey at places of a picture, (…, 2) in pixels, between its pixels by the nearest four; white outside."""
    flat = places.reshape(-1, 2).astype(np.float32)
    rows = -(-len(flat) // 4096)
    padded = np.full((rows * 4096, 2), -9.0, np.float32)
    padded[: len(flat)] = flat
    maps = padded.reshape(rows, 4096, 2)
    found = cv2.remap(
        grey, maps[..., 0], maps[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=(255.0,)
    )
    return np.asarray(found.reshape(-1)[: len(flat)], dtype=float).reshape(places.shape[:-1])


def _upright(numbers: Array, known: KnownFrame, turn: int, size: tuple[int, int]) -> float:
    """How likely a frame lies so where nothing is printed to tell: as many pixels to a mm across as up, and not upside
    down."""
    left, bottom, right, top = known.frame
    middle = np.array([(left + right) / 2, (bottom + top) / 2])
    across, up = (_project(numbers, middle + way, size) - _project(numbers, middle - way, size) for way in np.eye(2))
    return -abs(float(np.log(np.hypot(*across) / np.hypot(*up)))) - 0.05 * turn


def _evidence(grey: Pixels, numbers: Array, segments: Sequence[FrameSegment]) -> float:
    """How much darker printed lines are than what lies beside them: their mean, each worth no more than a clear
    line."""
    size = (grey.shape[1], grey.shape[0])
    scores = []
    for segment in segments:
        start, end = np.array(segment.start), np.array(segment.end)
        way = (end - start) / float(np.hypot(*(end - start)))
        along = start + np.linspace(0.1, 0.9, 9)[:, None] * (end - start)
        across = np.linspace(-1.6, 1.6, 17)[:, None, None] * np.array([-way[1], way[0]])
        seen = sampled(grey, _project(numbers, along[None] + across, size))
        beside = np.median(seen, axis=0)
        scores.append(float(np.clip((beside - seen[4:13].min(axis=0)) / 40.0, 0.0, 1.0).mean()))
    return float(np.mean(scores)) if scores else 0.0


def _fitted(
    grey: Pixels, numbers: Array, known: KnownFrame, window: float, size: tuple[int, int]
) -> tuple[Array, float]:
    """The fit after one round, and how far the frame's places are off it, root mean square in mm."""
    from scipy.optimize import least_squares

    places = _side_places(known)
    normals, offs, good = _found_across(grey, numbers, places, window, size, known.edge)
    if good.mean() < 0.6:
        raise Refused("photo", NO_FRAME)
    at = _project(numbers, places[:, 0], size)
    target, normal = (at + offs[:, None] * normals)[good], normals[good]
    scale = np.where(np.abs(numbers) > 1e-9, np.abs(numbers), 1e-3)
    scale[8:] = 0.05

    def missed(scaled: Array) -> Array:
        return np.asarray(((_project(scaled * scale, places[good, 0], size) - target) * normal).sum(axis=1))

    found = least_squares(missed, numbers / scale, loss="soft_l1", f_scale=0.7, max_nfev=60)
    numbers = found.x * scale
    left = missed(found.x)
    fine = _fineness(numbers, known, size)
    return numbers, float(np.sqrt(np.mean(np.clip(left, -6, 6) ** 2))) / fine


def _side_places(known: KnownFrame) -> Array:
    """Places along the frame and the way each side runs, (n, 2, 2) in mm."""
    left, bottom, right, top = known.frame
    corners = np.array([[left, bottom], [right, bottom], [right, top], [left, top]])
    made = []
    for a, b in zip(corners, np.roll(corners, -1, axis=0)):
        way = (b - a) / float(np.hypot(*(b - a)))
        for t in np.linspace(0.015, 0.985, PLACES):
            made.append((a + t * (b - a), way))
    return np.array(made)


def _found_across(
    grey: Pixels, numbers: Array, places: Array, window: float, size: tuple[int, int], edge: bool = False
) -> tuple[Array, Array, NDArray[np.bool_]]:
    """Across each place: the normal in the picture, how far along it the dark line lies in pixels, and whether there is
    one."""
    at = _project(numbers, places[:, 0], size)
    ahead = _project(numbers, places[:, 0] + 0.5 * places[:, 1], size) - at
    ahead /= np.hypot(*ahead.T)[:, None]
    normals = np.stack([-ahead[:, 1], ahead[:, 0]], axis=1)
    steps = np.arange(-window, window + 0.25, 0.5)
    seen = sampled(grey, at[:, None] + steps[None, :, None] * normals[:, None])
    offs, good = step_in(seen, steps) if edge else ridge(seen, steps)
    return normals, offs, good


def ridge(seen: Array, steps: Array) -> tuple[Array, NDArray[np.bool_]]:
    """Where across each profile, (n, m) of grey, the dark line lies: the centroid of what is clearly darker; and
    whether there is one."""
    light = np.percentile(seen, 80, axis=1, keepdims=True)
    depth = light - seen.min(axis=1, keepdims=True)
    weight = np.clip(light - seen - 0.4 * depth, 0.0, None)
    peak = steps[np.argmax(light - seen, axis=1)][:, None]
    weight *= np.abs(steps[None] - peak) < max(5.0, 0.4 * float(steps[-1]))
    total = weight.sum(axis=1)
    # a line has paper on both sides; the edge of the paper itself, on a darker table, has not
    before = np.where(steps[None] < peak, seen, 0.0).max(axis=1) - seen.min(axis=1)
    behind = np.where(steps[None] > peak, seen, 0.0).max(axis=1) - seen.min(axis=1)
    offs = (weight * steps).sum(axis=1) / np.maximum(total, 1e-9)
    return offs, np.asarray((depth[:, 0] > 18.0) & (total > 0) & (np.minimum(before, behind) > 14.0))


def step_in(seen: Array, steps: Array) -> tuple[Array, NDArray[np.bool_]]:
    """Where across each profile, (n, m) of grey, the paper ends: the centroid of how steeply it darkens; and whether it
    does."""
    slope = np.abs(np.diff(seen, axis=1))
    middle = (steps[1:] + steps[:-1]) / 2
    peak = middle[np.argmax(slope, axis=1)][:, None]
    weight = np.clip(slope - 0.3 * slope.max(axis=1, keepdims=True), 0.0, None) * (np.abs(middle[None] - peak) < 4.0)
    offs = (weight * middle).sum(axis=1) / np.maximum(weight.sum(axis=1), 1e-9)
    rise = np.abs(seen[:, : len(steps) // 4].mean(axis=1) - seen[:, -(len(steps) // 4) :].mean(axis=1))
    return offs, np.asarray(rise > 25.0)


def _fineness(numbers: Array, known: KnownFrame, size: tuple[int, int]) -> float:
    """Pixels to a mm, where the frame has fewest."""
    places = _side_places(known)
    ahead = _project(numbers, places[:, 0] + places[:, 1], size) - _project(numbers, places[:, 0], size)
    return float(np.percentile(np.hypot(*ahead.T), 5))


def _blur(grey: Pixels, numbers: Array, known: KnownFrame, size: tuple[int, int]) -> float:
    """One deviation of the blur across the frame's own line, in mm."""
    places = _side_places(known)
    at = _project(numbers, places[:, 0], size)
    ahead = _project(numbers, places[:, 0] + places[:, 1], size) - at
    fine = np.hypot(*ahead.T)
    normals = np.stack([-ahead[:, 1], ahead[:, 0]], axis=1) / fine[:, None]
    steps = np.arange(-1.6, 1.61, 0.05)
    seen = sampled(grey, at[:, None] + (steps[None, :] * fine[:, None])[..., None] * normals[:, None])
    dark = np.clip(np.percentile(seen, 70, axis=1, keepdims=True) - seen, 0.0, None)
    dark *= dark > 0.1 * dark.max(axis=1, keepdims=True)
    total = np.maximum(dark.sum(axis=1), 1e-9)
    middle = (dark * steps).sum(axis=1) / total
    spread = (dark * (steps[None] - middle[:, None]) ** 2).sum(axis=1) / total
    return float(np.sqrt(max(float(np.median(spread)) - FRAME_WIDTH**2 / 12.0, 0.0)))


def _misses(
    grey: Pixels, numbers: Array, segments: Sequence[FrameSegment], size: tuple[int, int], fine: float
) -> dict[str, float]:
    """By how many mm each printed line that was not fitted is off, across itself; those that are not seen are left
    out."""
    misses = {}
    for segment in segments:
        start, end = np.array(segment.start), np.array(segment.end)
        way = (end - start) / float(np.hypot(*(end - start)))
        count = max(int(np.hypot(*(end - start)) * 2), 5)
        along = start + np.linspace(0.08, 0.92, count)[:, None] * (end - start)
        steps = np.arange(-2.2, 2.21, 0.05)
        across = steps[:, None] * np.array([-way[1], way[0]])
        seen = sampled(grey, _project(numbers, along[:, None] + across[None], size))
        if "bar" in segment.name or "centring" in segment.name:
            seen = seen.mean(axis=0, keepdims=True)
        offs, good = ridge(seen, steps)
        if good.mean() > 0.6:
            misses[segment.name] = float(np.median(offs[good]))
    return misses


def _judged(grey: Pixels, numbers: Array, known: KnownFrame, rms: float, size: tuple[int, int]) -> Squared:
    """The fit with what it is worth; raises :class:`Refused` with what to do where that is too little."""
    fine = _fineness(numbers, known, size)
    if fine < COARSE:
        raise Refused(
            "photo",
            f"The picture has {fine:.1f} px a mm, which is too little; {COARSE:g} are "
            "needed. Go nearer, or take a finer picture.",
        )
    blur = 0.0 if known.edge else _blur(grey, numbers, known, size)
    if blur > BLURRED:
        raise Refused(
            "photo",
            f"The picture is blurred by {blur:.2f} mm, and lines are no wider. Hold "
            "still, and let the camera find its focus.",
        )
    if not known.segments:
        if rms > CURLED:
            raise Refused(
                "photo",
                f"The frame is {rms:.1f} mm off being straight. Lay the paper flat, or draw the frame by the rule.",
            )
        return Squared(known.paper, numbers, size, fine, rms, rms, blur, max(0.2, rms), "sides")
    misses = _misses(grey, numbers, known.segments, size, fine)
    if len(misses) < 0.5 * len(known.segments):
        raise Refused(
            "photo",
            "There is a frame in the picture, but none of ours: its centring marks and "
            "its bar are not to be seen. Tell its sides.",
        )
    off = float(np.max(np.abs(list(misses.values()))))
    if max(off, rms) > CURLED:
        worst = max(misses, key=lambda name: abs(misses[name]))
        raise Refused(
            "photo",
            f"The paper is curled, creased or not as it was printed: {worst} is {off:.1f} "
            "mm off. Lay it flat, under glass if need be.",
        )
    return Squared(known.paper, numbers, size, fine, rms, off, blur, float(np.hypot(0.03, 0.6 * off)))


def flattened(
    grey: Pixels, squared: Squared, fine: float, area: tuple[float, float, float, float] | None = None
) -> Pixels:
    """The sheet as if scanned, ``fine`` pixels to a mm, y downward; the whole paper, or an ``area``: left, bottom,
    right, top in mm."""
    left, bottom, right, top = area or (0.0, 0.0, squared.paper.width, squared.paper.height)
    columns, rows = round((right - left) * fine), round((top - bottom) * fine)
    # the map is smooth: every eighth place of it is worked out, and the others lie between
    x = left + (np.arange(0, columns + 8, 8) + 0.5) / fine
    y = top - (np.arange(0, rows + 8, 8) + 0.5) / fine
    coarse = squared.to_picture(np.stack(np.meshgrid(x, y), axis=-1)).astype(np.float32)
    maps = []
    for axis in range(2):
        # every place of the coarse map stands at the first pixel of its eight
        place = np.stack(np.meshgrid(np.arange(columns) / 8.0, np.arange(rows) / 8.0), axis=-1).astype(np.float32)
        maps.append(cv2.remap(coarse[..., axis], place[..., 0], place[..., 1], cv2.INTER_LINEAR))
    return np.asarray(
        cv2.remap(grey, maps[0], maps[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=(255,)),
        dtype=np.uint8,
    )
