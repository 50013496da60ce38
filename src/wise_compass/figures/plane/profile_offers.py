"""What a row of a profile could be: the loci of an arc's centre and every arc that would serve, to be chosen from."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.named_rows import TURNS, entries
from wise_compass.drafting.refusals import Refused
from wise_compass.figures.plane.profile_rows import Profiled, resolved, signed
from wise_compass.geometry.touching import (
    Round,
    Straight,
    Thing,
    arcs_touching,
    centres_touching,
    swept,
    touching_place,
)
from wise_compass.geometry.vectors import Array, distance

WHICH = ("small", "large")


class Served(NamedTuple):
    """One that would serve: its circle (a point has radius 0), the words of the row that ask for it, its touches from
    the first to the last, and whether the row asks for it now."""

    ring: Round
    words: dict[str, str]
    touches: tuple[Array, ...]
    chosen: bool

    @property
    def says(self) -> str:
        """As a hand would ask for it."""
        turn = f"turning {self.words['turn']}" if "turn" in self.words else ""
        side = f"on the side {self.words['side']}" if self.words.get("side") else ""
        which = f"the {self.words['which']} one" if self.words.get("which") else ""
        return ", ".join(part for part in (turn, side, which) if part) or "the only one"

    def course(self, places: int = 64) -> Array:
        """Places along it from its first touch to its last, the way it runs; (n, 2)."""
        if not self.ring.rho:
            return np.array([self.ring.centre])
        start = self.touches[0] - self.ring.centre
        turn = np.deg2rad(swept(self.ring, self.touches[0], self.touches[-1])) * np.sign(self.ring.rho)
        t = np.linspace(0.0, turn, places)
        x, y = np.cos(t), np.sin(t)
        return np.asarray(
            self.ring.centre + np.stack([start[0] * x - start[1] * y, start[0] * y + start[1] * x], axis=-1)
        )


class Offer(NamedTuple):
    """Where the centre of a row's arc may lie, and all arcs that would serve."""

    loci: tuple[Thing, ...]
    served: tuple[Served, ...]

    def nearest(self, at: Array, reach: float) -> Served | None:
        """The one that passes nearest to a place, within ``reach`` mm."""
        far = [float(np.min(np.hypot(*(one.course() - at).T))) for one in self.served]
        best = int(np.argmin(far)) if far else -1
        return self.served[best] if far and far[best] <= reach else None


def offer_of(rows: Sequence[Sequence[Any]], k: int) -> Offer | None:
    """What row ``k`` (from 0) could be; None where it has no choice, or what it names is not found."""
    try:
        done = resolved(rows[:k])
    except Refused:
        return None
    kind, held = rows[k][0], entries(rows[k])
    if any(held.get(what) not in done.things for what in ("first", "second")):
        return None
    if kind in ("arc", "cross"):
        return _of_two(held, done)
    if kind == "touch" and held["third"] in done.things:
        return _of_three(held, done)
    return None


def _of_two(held: dict[str, Any], done: Profiled) -> Offer:
    one, other = done[held["first"]], done[held["second"]]
    lines = sum(isinstance(thing, Straight) for thing in (one, other))
    sides = ("back", "on") if lines else ("left", "right")
    served: list[Served] = []
    for turn in TURNS if "r" in held else ("",):
        rho = signed(held["r"], turn) if turn else 0.0
        centres = centres_touching(one, other, rho)
        for side, centre in zip(sides if len(centres) == 2 else ("",), centres):
            words = {"turn": turn, "side": side} if turn else {"side": side}
            chosen = held.get("turn", "") == turn and side in ("", held.get("side"))
            served += _serves(Round(centre, rho), words, (one, other), chosen)
    rho = signed(held["r"], held["turn"]) if "r" in held else 0.0
    return Offer(tuple(locus(thing, rho) for thing in (one, other)) if rho else (), tuple(served))


def _of_three(held: dict[str, Any], done: Profiled) -> Offer:
    three = [done[held[which]] for which in ("first", "second", "third")]
    served: list[Served] = []
    for turn in TURNS:
        arcs = [arc for arc in arcs_touching(three) if arc.rho * signed(1.0, turn) > 0]
        for which, arc in zip(WHICH if len(arcs) == 2 else ("",), arcs):
            chosen = held["turn"] == turn and which in ("", held.get("which"))
            served += _serves(arc, {"turn": turn, "which": which}, three, chosen)
    return Offer((), tuple(served))


def _serves(ring: Round, words: dict[str, str], things: Sequence[Thing], chosen: bool) -> list[Served]:
    """The one, where it has a place on each; a point's is itself."""
    touches = [ring.centre if not ring.rho else touching_place(thing, ring) for thing in things]
    found = tuple(at for at in touches if at is not None)
    return [Served(ring, words, found, chosen)] if len(found) == len(things) else []


def locus(thing: Thing, rho: float) -> Thing:
    """Where the centres of the arcs of ``rho`` lie that touch one thing: a circle about its centre, or a parallel."""
    if isinstance(thing, Straight):
        return Straight(thing.start + rho * thing.left, thing.end + rho * thing.left)
    return Round(thing.centre, thing.off(rho))


def thing_at(rows: Sequence[Sequence[Any]], k: int, at: Array, reach: float) -> str:
    """The name of what stands before row ``k`` and passes nearest to a place, within ``reach`` mm; else nothing."""
    try:
        things = resolved(rows[:k]).things
    except Refused:
        return ""
    far = {name: off(thing, at) for name, thing in things.items()}
    best = min(far, key=lambda name: far[name], default="")
    return best if best and far[best] <= reach else ""


def off(thing: Thing, at: Array) -> float:
    """How far a place lies from a circle, a point or a line."""
    if isinstance(thing, Straight):
        return abs(thing.stands(at))
    return abs(float(distance(thing.centre, at)) - abs(thing.rho))
