"""Figures that stand on a point of another: which goes with which, and where each lies from the first of its group."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array, turned
from wise_compass.sheet.piece import Piece


def first_point(run: Run) -> Array:
    """What a figure stands with: the first of its points, in figure mm."""
    spots = list(run.spots.values())
    return min(spots, key=lambda spot: spot.step).here if spots else np.zeros(2)


def roots(pieces: Sequence[Piece]) -> list[int]:
    """For each piece the one that its group is arranged by; raises :class:`Refused` for a circle of places."""
    found = []
    for k in range(len(pieces)):
        seen = [k]
        while pieces[seen[-1]].on is not None:
            on = pieces[seen[-1]].on
            assert on is not None
            if on[0] in seen:
                names = ", ".join(pieces[j].title or pieces[j].run.figure.title for j in seen)
                raise Refused("on", f"{names} stand on each other in a circle. Put one of them in its own place.")
            seen.append(on[0])
        found.append(seen[-1])
    return found


def offsets(pieces: Sequence[Piece], scale: float) -> list[Array]:
    """Where the origin of each piece lies from that of its group's first, in sheet mm."""
    known: dict[int, Array] = {}

    def offset(k: int) -> Array:
        if k not in known:
            piece = pieces[k]
            if piece.on is None:
                known[k] = np.zeros(2)
            else:
                under = pieces[piece.on[0]]
                place = turned(under.run.spots[piece.on[1]].here * scale, under.turn)
                known[k] = offset(piece.on[0]) + place - turned(first_point(piece.run) * scale, piece.turn)
        return known[k]

    return [offset(k) for k in range(len(pieces))]
