"""Finding the named points of a drawing on the squared-up sheet.

The drawing that lies best on the ink is taken first, the honest one or one with a known slip. Then each point is looked
for in the order of the steps, where the hand's own scatter and what was found before say that it lies; where it is not,
as far out along each setting's influence as a blunder would have moved it. What is found is the crossing of the lines
there.

``squaring.py`` fits a homography and two numbers of the lens to the frame's whole length, and tries them at marks that
were not fitted. ``sketches.py`` asks which drawing lies best on the ink: the honest one, one with a slip, one with a
single setting far off. ``finding.py`` follows it step by step: ``beliefs.py`` has a normal distribution over all errors
of the hand, which each point that is found makes narrower; at the end each is held against what all others tell, and
looked for once more. ``fitting.py`` decides between drawings: drawn again with the errors that its points tell of, one
has to lie on the ink *and* take it up. ``crossings.py`` and ``evidence.py`` find the lines of a point. What a point is
on paper, the crossing of its heaviest lines, is told once (``pencil.py: lines_at``) for the stand-in and the reader.
``judging.py`` takes distances with their joint error. ``python -m bench.photograph`` counts what comes of simulated
photographs.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from wise_compass.camera.beliefs import Beliefs
from wise_compass.camera.crossings import APART, READ, FoundCrossing, InkLine, crossing_seen, dark_there, lines_of
from wise_compass.camera.evidence import Inked
from wise_compass.camera.fitting import accounts, drawn_ink
from wise_compass.camera.laid import Laid
from wise_compass.camera.pencil import marks_of, marks_through, ticked
from wise_compass.camera.sketches import TRIED, Sketch, sketches_of
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import Mark
from wise_compass.drafting.recorder import NoMeet
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.geometry.vectors import Array
from wise_compass.study.judge import unheard

PUSHED = tuple(float(x) for x in np.concatenate([np.arange(-26, -5.9, 0.5), np.arange(6, 26.1, 0.5)]))
"""How many deviations a blundered setting may be off."""
MOST_LOOKS, AT_ONCE = 40, 0.6
"""How many places a blundered point is looked for at, and mm within which one look takes in all."""
SAME, CROWDED = 0.05, 2.0
"""mm on the paper within which two points are one, and within which two are too near to each other."""
PRINTED = 0.02
"""mm within which a point is known that the sheet itself shows: where the work starts there is a cross."""
SNAP = 1.0
"""mm within which a ring that is put down snaps to a crossing."""
DOUBTED = 9.0
"""Squared deviations from where all other points would have it, from which a point is looked for once more."""
TORN = 0.25
"""How much better one place has to be than another to be taken for a point among blunders, and how much worse it may be
where the other points would have it."""
MISSING, BLUNDERED = 6.0, 9.0
"""How much a point that is not found, and one that only a blunder explains, speak against a drawing."""
LOST = 12.0
"""mm, one deviation of steady hands, from which a point may be anywhere and tells nothing: any crossing could be it."""
ACCOUNTS = 100.0
"""How much it counts, against points that lie off or are missing, that a drawing lies on the ink and takes it up."""
SETTLED = 1.97
"""How well a drawing has to account for the ink, of 2, for no other to be thought of, if its points lie as a steady
hand has them."""
SEEN, PLAIN = 0.5, 0.8
"""Of a drawing's outline: what has to lie on ink for it to be this drawing at all, and for it to be so though most of
its points are not found."""


class Finding(NamedTuple):
    """What was found of a drawing, what was not, the slip with which it was drawn if it lies best so, and how well it
    lies (0 to 1); ``crowded`` are points that lie too near to others to be told from them, and ``adrift`` those that a
    steady hand itself does not keep within :data:`LOST`: neither are looked for."""

    points: dict[str, FoundCrossing]
    missing: tuple[str, ...]
    slip: str | None
    lies: float
    crowded: tuple[str, ...] = ()
    adrift: tuple[str, ...] = ()


def find(ink: Inked, laid: Laid, hear: Callable[[int, int], None] = unheard) -> Finding:
    """Find the named points; raises :class:`Refused` where the sheet does not show this drawing."""
    sketches = sketches_of(ink, laid, hear)
    lies = max(sketch.lies for sketch in sketches)
    if lies < SEEN:
        raise _other_sheet(laid, lies)
    best: _Search | None = None
    drawn_there = drawn_ink(ink, laid)
    score = -np.inf
    for k, sketch in enumerate(sketches):
        hear(TRIED + k, 2 * TRIED)
        try:
            search = _Search(ink, laid, sketch)
        except NoMeet:
            continue
        search.follow()
        accounted = accounts(ink, drawn_there, laid, sketch, search.beliefs)
        if search.likely + ACCOUNTS * accounted > score:
            best, score = search, search.likely + ACCOUNTS * accounted
        if accounted >= SETTLED and search.whole:
            break
    if best is None:
        return Finding({}, tuple(sketches[0].through), None, lies)
    best.look_again()
    if lies < PLAIN and 2 * len(best.hits) < len(best.order):
        raise _other_sheet(laid, lies)
    return best.finding()


def _other_sheet(laid: Laid, lies: float) -> Refused:
    return Refused(
        "photo",
        f"The sheet does not show {laid.run.figure.title.lower()} as it is asked for: {100 * max(lies, 0):.0f} % of "
        "its lines are there. Take its own sheet; where it is, measure on the paper: its first length may be far off.",
    )


def snapped(ink: Inked, laid: Laid, slip: str | None, name: str, at: Array) -> Array:
    """The crossing of a point's lines nearest to where its ring was put; that place itself where there is none."""
    drawn = laid.run if slip is None else run(laid.run.figure, laid.run.method, laid.run.conventions, slip)
    through = marks_through(drawn, laid.scale)
    if name not in through:
        return at
    sketch = Sketch(slip, drawn, through, ticked(drawn, laid.scale, through), 1.0)
    found, _ = crossing_seen(ink, at, _lines(laid, sketch, drawn.marks, name), np.eye(2) * 0.15**2)
    return at if found is None or float(np.hypot(*(found.at - at))) > SNAP else found.at


def crowded_in(drawn: Run | Draft, scale: float) -> list[str]:
    """The named points that lie so near to another, yet not on it, that no photograph tells which lines are whose."""
    spots = {name: spot for name, spot in drawn.spots.items() if spot.kind not in ("plain", "label")}
    at = np.array([spot.here for spot in spots.values()]) * scale
    apart = np.hypot(*np.moveaxis(at[:, None] - at[None], -1, 0))
    near = ((apart > SAME) & (apart < CROWDED)).any(axis=1)
    return [name for name, one in zip(spots, near) if one]


def adrift_in(laid: Laid) -> list[str]:
    """The named points that a steady hand itself does not keep within :data:`LOST`: wherever one lies, it tells
    nothing."""
    return _adrift(Beliefs(laid, None, laid.run))


def _adrift(beliefs: Beliefs) -> list[str]:
    return [name for k, name in enumerate(beliefs.names) if beliefs.spread(k) > LOST]


class _Search:
    """The points of a drawing looked for on a sheet, one after another; what is believed of the others follows those
    that are found."""

    def __init__(self, ink: Inked, laid: Laid, sketch: Sketch) -> None:
        self.ink, self.laid, self.sketch = ink, laid, sketch
        self.beliefs = Beliefs(laid, sketch.slip, sketch.drawn)
        self.marks = marks_of(sketch.drawn)
        self.crowded = tuple(crowded_in(laid.run, laid.scale))
        names = self.beliefs.names
        self.adrift = tuple(_adrift(self.beliefs))
        left_out = {*self.crowded, *self.adrift}
        asked = [k for k, name in enumerate(names) if name in sketch.through and name not in left_out]
        self.order = sorted(asked, key=lambda k: sketch.drawn.spots[names[k]].step)
        self.hits: dict[int, _Hit] = {}
        self.likely = 0.0
        self._lines: dict[int, list[InkLine]] = {}

    def lines(self, k: int) -> list[InkLine]:
        """The lines through point number k."""
        if k not in self._lines:
            self._lines[k] = _lines(self.laid, self.sketch, self.marks, self.beliefs.names[k])
        return self._lines[k]

    @property
    def whole(self) -> bool:
        """Whether every point was found, and all of them as near as a steady hand has them."""
        return len(self.hits) == len(self.order) and self.likely >= -len(self.order)

    def follow(self) -> None:
        """Every point in the order of the steps."""
        for k in self.order:
            hit = self._looked_for(k)
            if hit is None:
                self.likely -= MISSING
                continue
            where, cover = self.beliefs.place(k)
            off = hit.found.at - self.laid.origin - where
            self.likely -= 0.5 * _out(off, cover) if hit.blunder < 0 else BLUNDERED
            self._keep(k, hit)

    def look_again(self) -> None:
        """What is missing, with what all the others tell; and every point that they would have elsewhere: taken from
        there where as good a crossing is to be seen."""
        origin = self.laid.origin
        for k in self.order:
            hit = self.hits.get(k)
            if hit is None:
                where, cover = self.beliefs.place(k)
                again = self._on_paper(*crossing_seen(self.ink, origin + where, self.lines(k), cover, certain=True))
                if again is not None:
                    self._keep(k, again)
                elif float(np.trace(cover)) < PRINTED**2:
                    self.hits[k] = _Hit(FoundCrossing(origin + where, READ), 0.0, -1)
                continue
            where, cover = self.beliefs.without(k, hit.found.at - origin, _deviation(hit.found))
            off = hit.found.at - origin - where
            if _out(off, cover) < DOUBTED:
                continue
            found, score = crossing_seen(self.ink, origin + where, self.lines(k), cover)
            if found is not None and score > hit.score - TORN and float(np.hypot(*(found.at - hit.found.at))) > APART:
                self.hits[k] = _Hit(found, score, -1)

    def _keep(self, k: int, hit: _Hit) -> None:
        self.hits[k] = hit
        self.beliefs.learn(k, hit.found.at - self.laid.origin, _deviation(hit.found), hit.blunder)

    def _looked_for(self, k: int) -> _Hit | None:
        """Point number k where it is believed to lie; else as far out as a blunder of one setting would have it, with
        that setting."""
        origin = self.laid.origin
        where, cover = self.beliefs.place(k)
        lines = self.lines(k)
        found, score = crossing_seen(self.ink, origin + where, lines, cover)
        near = self._on_paper(found, score)
        if near is not None and near.found.whole:
            return near
        far = self._blundered(k, where, lines)
        return near if far is None or near is not None and near.score > far.score - TORN else far

    def _blundered(self, k: int, where: Array, lines: list[InkLine]) -> _Hit | None:
        """Point number k as far out along the influence of each setting as a blunder would have moved it; None where it
        may be here or there."""
        hits = list[_Hit]()
        for push, at, error in self._far_out(k, where, lines):
            found, score = crossing_seen(self.ink, at, lines, np.eye(2) * 0.15**2, certain=True)
            hit = self._on_paper(found, score - 0.02 * push, error)
            if hit is not None:
                hits.append(hit)
        if not hits:
            return None
        best = max(hits, key=lambda one: one.score)
        far = (one for one in hits if float(np.hypot(*(one.found.at - best.found.at))) > 0.6)
        return None if any(one.score > best.score - TORN for one in far) else best

    def _far_out(self, k: int, where: Array, lines: list[InkLine]) -> list[tuple[float, Array, int]]:
        """Where ink would have point number k if one setting were far off: by how many deviations, the place and the
        error; the least first, and of places that one look takes in together only that."""
        beliefs, pushes = self.beliefs, np.array(PUSHED)
        dark: list[tuple[float, Array, int]] = []
        for error in beliefs.settings_of(k):
            tried = self.laid.origin + where + np.outer(pushes - beliefs.mean[error], beliefs.move[error, k])
            there = np.flatnonzero(dark_there(self.ink, lines, tried) >= 0.75)
            dark += [(abs(PUSHED[n]), tried[n], error) for n in there.tolist()]
        kept: list[tuple[float, Array, int]] = []
        for one in sorted(dark, key=lambda one: one[0]):
            if len(kept) == MOST_LOOKS:
                break
            if all(float(np.hypot(*(one[1] - other[1]))) > AT_ONCE for other in kept):
                kept.append(one)
        return kept

    def _on_paper(self, found: FoundCrossing | None, score: float, blunder: int = -1) -> _Hit | None:
        """What was found, unless it lies beyond the frame, where nobody draws."""
        left, bottom, right, top = self.laid.paper.frame
        if found is None or not (left <= found.at[0] <= right and bottom <= found.at[1] <= top):
            return None
        return _Hit(found, score, blunder)

    def finding(self) -> Finding:
        """What came of it."""
        names = self.beliefs.names
        points = {names[k]: self.hits[k].found for k in self.order if k in self.hits}
        missing = tuple(names[k] for k in sorted(self.order) if k not in self.hits)
        return Finding(points, missing, self.sketch.slip, self.sketch.lies, self.crowded, self.adrift)


class _Hit(NamedTuple):
    """A point found, how much speaks for it, and the error that was far off (-1 for none)."""

    found: FoundCrossing
    score: float
    blunder: int


def _out(off: Array, cover: Array) -> float:
    """How far out a reading is of where a point is believed to lie, in squared deviations."""
    return float(off @ np.linalg.solve(cover + np.eye(2) * READ**2, off))


def _deviation(found: FoundCrossing) -> float:
    return float(np.hypot(READ, found.sd))


def _lines(laid: Laid, sketch: Sketch, marks: list[Mark], name: str) -> list[InkLine]:
    return lines_of(sketch.drawn, sketch.through[name], sketch.ticks.get(name, ()), marks, name, laid.scale)
