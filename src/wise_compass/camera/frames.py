"""What is known of a frame before it is looked for: its sides in mm, and the printed marks that it is tried at."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np

from wise_compass.geometry.vectors import Array
from wise_compass.sheet.paper import LIES, SIZES, Paper


class FrameSegment(NamedTuple):
    """A printed line by which a fit is tried: its ends in mm, and what it is called."""

    start: tuple[float, float]
    end: tuple[float, float]
    name: str


class KnownFrame(NamedTuple):
    """A paper with its frame, and the other lines that are printed on it."""

    paper: Paper
    frame: tuple[float, float, float, float]
    segments: tuple[FrameSegment, ...]
    edge: bool = False
    """Whether the frame is the edge of the paper itself, lighter than what it lies on."""


SQUARE = KnownFrame(Paper("A4", "landscape"), (0.0, 0.0, 100.0, 100.0), ())


def reframed(square: Array, known: KnownFrame, turn: int) -> Array:
    """A fit of a square frame as one of a paper's frame, so many quarter turns on."""
    left, bottom, right, top = known.frame
    paper = np.array([[left, top], [right, top], [right, bottom], [left, bottom]], dtype=np.float32)
    corners = np.array([[0, 100], [100, 100], [100, 0], [0, 0]], dtype=np.float32)
    into = cv2.getPerspectiveTransform(paper, np.roll(corners, -turn, axis=0))
    whole = np.append(square[:8], 1.0).reshape(3, 3) @ into
    return np.append((whole / whole[2, 2]).ravel()[:8], square[8:])


def known_frames(paper: Paper | None, sides: tuple[float, float] | None) -> list[KnownFrame]:
    if sides is not None:
        return [KnownFrame(Paper("A4", "landscape"), (0.0, 0.0, *sides), (), sides in SIZES.values())]
    papers = [paper] if paper is not None else [Paper(size, lie) for size in SIZES for lie in LIES]
    return [KnownFrame(one, one.frame, printed_segments(one)) for one in papers]


def printed_segments(paper: Paper) -> tuple[FrameSegment, ...]:
    """The centring marks, the bar of 100 mm and the title strip."""
    left, bottom, right, top = paper.frame
    middle, level = paper.width / 2, paper.height / 2
    strip_left, _, _, strip_top = paper.strip
    strips = (
        [FrameSegment((strip_left, bottom + 0.8), (strip_left, strip_top), "strip’s side")]
        if strip_left > left + 1
        else []
    )
    return (
        FrameSegment((middle, bottom - 3.6), (middle, bottom - 0.6), "lower centring mark"),
        FrameSegment((middle, top + 0.6), (middle, paper.height - 5.2), "upper centring mark"),
        FrameSegment((5.4, level), (left - 0.6, level), "left centring mark"),
        FrameSegment((right + 0.6, level), (paper.width - 5.4, level), "right centring mark"),
        FrameSegment((max(strip_left, left) + 0.8, strip_top), (right - 0.8, strip_top), "strip’s upper edge"),
        *strips,
        *(
            FrameSegment((left + 10.0 * k, 3.4), (left + 10.0 * k, 4.1 if k % 5 else 4.8), f"{10 * k} mm of the bar")
            for k in range(11)
        ),
        FrameSegment((left + 0.4, 3.2), (left + 99.6, 3.2), "the bar"),
    )
