"""The line on both patterns: how far round each solid its points lie from the seam, and the chains of them between one
crossing of the seam and the next."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.figures.meetings.pair import Named
from wise_compass.geometry.interpenetration import SAME, MeetPoint
from wise_compass.geometry.skins import FlatSkin
from wise_compass.geometry.vectors import Array, Ints, distance

ON_SEAM = 1e-9


class Link(NamedTuple):
    """A point of a chain: the key of its place on the flat, the point of the line, and its share of the girth."""

    key: str
    named: Named
    share: float


class Chain(NamedTuple):
    """Points of the line in order on the flat; closed where it is a hole, else from one crossing of the seam to the
    next."""

    links: list[Link]
    closed: bool

    @property
    def across(self) -> bool:
        """Whether it runs from the one side of the seam to the other."""
        return not self.closed and abs(self.links[0].share - self.links[-1].share) > 0.5

    @property
    def keys(self) -> list[str]:
        return [one.key for one in self.links]

    def rightward(self) -> Chain:
        """The same chain, from left to right."""
        return self if self.links[0].share <= self.links[-1].share else Chain(self.links[::-1], self.closed)


def _split(loop: Sequence[Named], shares: Sequence[float], letters: tuple[str, str]) -> list[Chain]:
    """A closed line on a skin that is opened at share 0 = 1, parted where it crosses that.

    ``letters`` begin the keys on the flat: of all places, and of those that a point on the seam has at the far side.
    """
    n = len(loop)
    steps = [(shares[(k + 1) % n] - shares[k] + 0.5) % 1.0 - 0.5 for k in range(n)]
    on_seam = [k for k in range(n) if min(shares[k] % 1.0, 1.0 - shares[k] % 1.0) <= ON_SEAM]
    crossing = [k for k in on_seam if steps[k] * steps[k - 1] > 0]
    if not crossing:
        sides = [1.0 if k in on_seam and steps[k] < 0 else shares[k] % 1.0 for k in range(n)]
        sides = [1.0 if k in on_seam and sides[k - 1] > 0.5 else s for k, s in enumerate(sides)]
        return [Chain([Link(letters[0] + one.name, one, s) for one, s in zip(loop, sides)], True)]
    chains = []
    for a, b in zip(crossing, [*crossing[1:], crossing[0] + n]):
        run = [k % n for k in range(a, b + 1)]
        links = []
        for place, k in enumerate(run):
            share = shares[k] % 1.0
            if k in on_seam:
                step = steps[k] if place < len(run) - 1 else -steps[k - 1]
                share = 0.0 if step > 0 else 1.0
            links.append(
                Link((letters[1] if k in on_seam and share == 1.0 else letters[0]) + loop[k].name, loop[k], share)
            )
        chains.append(Chain(links, False))
    return chains


def branch_chains(g: SolidsThatMeet) -> list[Chain]:
    """The line on the branch's pattern, opened at its first edge or division."""
    found = []
    for loop in g.lines:
        shares = [(one.meets.w / g.branch.period) % 1.0 for one in loop]
        shares = [0.0 if min(s, 1.0 - s) * g.branch.period <= SAME else s for s in shares]
        found += _split(loop, shares, ("S", "Z"))
    return found


def main_shares(g: SolidsThatMeet, loop: Sequence[Named]) -> list[float]:
    """How far round the main's pattern points lie from its seam, as shares of its girth."""
    seam = g.seam_foot
    assert seam is not None
    at = np.array([one.meets.at for one in loop])
    if g.main_solid.corners is None:
        turns, start = (np.rad2deg(np.arctan2(-places[..., 1], places[..., 0])) for places in (at, seam))
        shares = ((turns - start) / 360.0) % 1.0
    else:
        faces, along = main_faces(g, [one.meets for one in loop])
        shares = ((faces + along - (int(g.given_values["seam"]) - 1)) / len(g.feet)) % 1.0
    return [0.0 if min(share, 1.0 - share) <= ON_SEAM else share for share in shares.tolist()]


def main_faces(g: SolidsThatMeet, points: Sequence[MeetPoint]) -> tuple[Ints, Array]:
    """The sides of a flat-sided main that points of the line lie on, (n,), and how far along them the feet of their
    generators stand, as shares (n,)."""
    skin = g.main_solid.skin
    assert isinstance(skin, FlatSkin)
    at = np.array([one.at for one in points])
    faces = skin.faces(at, np.array([g.outward(one.side) for one in points]))
    shrink = 1.0 - at[:, 2:] / g.tall if g.main_solid.apex else 1.0
    feet = np.concatenate([at[:, :2] / shrink, np.zeros((len(at), 1))], axis=1)
    a, b = g.feet[faces], g.feet[(faces + 1) % len(g.feet)]
    along = distance(feet, a) / distance(a, b)
    return faces, np.where(along < 1e-9, 0.0, np.where(along > 1 - 1e-9, 1.0, along))


def main_face(g: SolidsThatMeet, point: MeetPoint) -> int:
    """The side of a flat-sided main that a point of the line lies on."""
    return int(main_faces(g, [point])[0][0])


def main_chains(g: SolidsThatMeet) -> list[Chain]:
    """The line on the main's pattern; none of a sphere."""
    if g.main_solid.ball:
        return []
    found = []
    for loop in g.lines:
        found += _split(loop, main_shares(g, loop), ("J", "I"))
    return found
