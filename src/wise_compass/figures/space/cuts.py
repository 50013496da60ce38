"""Which cutting planes to lay through two laminae: each is square to the front or the top view and seen there as a
line.

A cut crosses both laminae in lines; in the other view these cross in a point of the line in which the laminae meet.
What a good hand chooses is chosen here: cuts through given corners where one serves, crossings that are not slack,
points well apart.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from itertools import combinations
from typing import NamedTuple

import numpy as np

from wise_compass.figures.space.visible import AXES
from wise_compass.geometry.vectors import Array, unit

SURE = 0.2
"""A crossing's sine, and what two found points stand apart to the laminae's size, with which a hand is content."""
SLACK = 0.015
"""The sine under which two lines have no crossing that a hand could find."""
SLANTS = (35.0, -35.0)


class Crossed(NamedTuple):
    """Where a cut crosses a lamina: at a corner, or on an edge by its two letters; ``at`` in space."""

    on: str
    at: tuple[float, ...]


class Cut(NamedTuple):
    """A cutting plane seen as a line through ``through`` along ``way`` in ``view``; what it crosses of each lamina;
    their meet."""

    view: str
    through: Array
    way: Array
    corner: str
    crossed: tuple[tuple[Crossed, Crossed], tuple[Crossed, Crossed]]
    meet: Array
    sure: float


class Sheets(NamedTuple):
    """Both laminae by the letters of their corners, and where these are; ``flat`` has the same places as plain
    numbers."""

    letters: tuple[str, str]
    places: dict[str, Array]
    same: float
    size: float
    flat: dict[str, tuple[float, ...]]


def crossed_by(sheets: Sheets, letters: str, view: str, through: Array, way: Array) -> tuple[Crossed, Crossed] | None:
    """The two places at which a lamina is crossed: corners that lie on the line, and edges, produced where it passes
    by."""
    i, j = AXES[view]
    (tx, ty), (wx, wy) = through.tolist(), way.tolist()
    off = {letter: wx * (sheets.flat[letter][j] - ty) - wy * (sheets.flat[letter][i] - tx) for letter in letters}
    on = [letter for letter in letters if abs(off[letter]) <= sheets.same]
    if len(on) == 3:
        return None
    found = [Crossed(letter, sheets.flat[letter]) for letter in on]
    edges = []
    for p, q in combinations(letters, 2):
        if p in on or q in on or abs(off[p] - off[q]) <= SLACK * sheets.size:
            continue
        share = off[p] / (off[p] - off[q])
        at = tuple(a + (b - a) * share for a, b in zip(sheets.flat[p], sheets.flat[q]))
        edges.append((max(0.0, -share, share - 1.0), Crossed(p + q, at)))
    edges.sort(key=lambda one: one[0])
    found += [edge for beyond, edge in edges if beyond < 1.5]
    return (found[0], found[1]) if len(found) >= 2 else None


def cut_by(sheets: Sheets, view: str, through: Array, way: Array, corner: str = "") -> Cut | None:
    """The cut seen as this line in ``view``; None where it gives no point of the line of both laminae."""
    one, other = (crossed_by(sheets, letters, view, through, way) for letters in sheets.letters)
    if one is None or other is None:
        return None
    i, j = AXES["top" if view == "front" else "front"]
    (a, b), (c, e) = ((pair[0].at, pair[1].at) for pair in (one, other))
    u, w = (b[i] - a[i], b[j] - a[j]), (e[i] - c[i], e[j] - c[j])
    spans = math.hypot(*u), math.hypot(*w)
    if min(spans) <= 0.04 * sheets.size:
        return None
    area = u[0] * w[1] - u[1] * w[0]
    sine = abs(area) / (spans[0] * spans[1])
    if sine < SLACK:
        return None
    t = ((c[i] - a[i]) * w[1] - (c[j] - a[j]) * w[0]) / area
    meet = tuple(p + (q - p) * t for p, q in zip(a, b))
    sure = min(sine, 4 * min(spans) / sheets.size, (sheets.size / max(math.dist(meet, a), sheets.size)) ** 2)
    return Cut(view, through, way, corner, (one, other), np.array(meet), sure)


def traces(sheets: Sheets, view: str, slants: Iterable[float]) -> Iterator[Cut]:
    """Cuts of a view at these angles: through every corner, and level ones between the corners too."""
    k = list(AXES[view])
    for slant in slants:
        way = np.array([np.cos(np.deg2rad(slant)), np.sin(np.deg2rad(slant))])
        for letters in sheets.letters:
            for letter in letters:
                if cut := cut_by(sheets, view, sheets.places[letter][k], way, letter):
                    yield cut
        levels = sorted({round(float(place[k[1]]), 9) for place in sheets.places.values()})
        for low, high in zip(levels[:-1], levels[1:]) if not slant else ():
            if cut := cut_by(sheets, view, np.array([0.0, round((low + high) / 2, 1)]), way):
                yield cut


def along_edges(sheets: Sheets) -> Iterator[Cut]:
    """Cuts that stand on an edge of either lamina, square to a view: they find where that edge goes through the
    other."""
    for view, k in AXES.items():
        for letters in sheets.letters:
            for p, q in combinations(letters, 2):
                a, b = sheets.places[p][list(k)], sheets.places[q][list(k)]
                if abs(float(b[0] - a[0])) > 0.05 * sheets.size and (
                    cut := cut_by(sheets, view, a, unit(b - a), p + q)
                ):
                    yield cut


def _pair(cuts: Sequence[Cut], known: Sequence[Array], size: float) -> tuple[float, tuple[Cut, ...]]:
    """The cuts, as many as are needed beside the known points, that are surest and furthest apart; and how sure they
    are."""
    best: tuple[float, tuple[Cut, ...]] = (0.0, ())
    for chosen in combinations(cuts, 2 - len(known)):
        ends = [*known, *(cut.meet for cut in chosen)]
        apart = math.dist(ends[0].tolist(), ends[1].tolist()) / size
        worth = min(apart, *(cut.sure for cut in chosen)) * (1.2 if all(cut.corner for cut in chosen) else 1.0)
        if worth > best[0] + 1e-9:
            best = worth, chosen
    return best


def chosen_cuts(sheets: Sheets, known: Sequence[Array], families: Iterable[Iterable[Cut]]) -> tuple[Cut, ...]:
    """The cuts that find what the ``known`` points leave open: of the first family that is sure enough, else the
    surest."""
    best: tuple[float, tuple[Cut, ...]] = (0.0, ())
    if len(known) >= 2:
        return ()
    for family in families:
        found = _pair(list(family), known, sheets.size)
        if found[0] > best[0]:
            best = found
        if best[0] >= SURE:
            break
    return best[1]


def level_families(sheets: Sheets) -> Iterator[Iterator[Cut]]:
    """Level cuts; upright ones parallel to the front plane, where the line runs level; slanting ones, where neither
    serves."""
    yield traces(sheets, "front", (0.0,))
    yield traces(sheets, "top", (0.0,))
    yield traces(sheets, "front", SLANTS)
    yield traces(sheets, "top", SLANTS)
