"""Both patterns as the workshop has them: their parts, what they are folded up to, and that they fit."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np

from wise_compass.drafting.capabilities import Edge, Face, Part, Sliced
from wise_compass.drafting.truths import Found, Truth
from wise_compass.drafting.wording import bare
from wise_compass.figures.meetings.bodies import solid_edges, solid_skin
from wise_compass.figures.meetings.chains import Chain, Link, branch_chains, main_chains
from wise_compass.figures.meetings.folding import folded_pair
from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.figures.meetings.slicing import slices_of
from wise_compass.geometry.unfold import Pattern
from wise_compass.geometry.vectors import Array, cross, distance, dot, length, unit

BACK = 1e-6
"""Degrees by which a place on the seam may lie before it."""


class LaidFlat(Sliced, SolidsThatMeet):
    """What of the patterns all share; the main's is that of its own kind."""

    def pattern_truths(self, found: Found) -> Iterator[Truth]:
        if "Q0" not in found:
            return
        n = len(self.counted)
        start, u = found["Q0"], unit(found[f"Q{n}"] - found["Q0"])
        yield Truth(
            "The branch’s pattern is as wide as it is round", distance(start, found[f"Q{n}"]) - self.branch_girth
        )
        feet = np.stack([distance(start, found[f"Q{k}"]) - self.branch_girth * k / n for k in range(n + 1)])
        yield Truth("Its edges or divisions stand evenly", feet)
        misses = []
        for link in self._links(branch_chains(self)):
            off = found[link.key] - start
            x, y = dot(off, u), cross(u, off)
            place = self._rolled_branch(x / self.branch_girth, y)
            misses.append(place - found[link.named.name])
        yield Truth("Rolled up, its edge is the line in which they meet", np.array(misses))
        pattern = folded_pair(self, found)
        flat = self.main_solid.corners is not None
        says = "Both patterns folded up close, and the branch stands on the rim of the hole"
        yield Truth(says if flat else "Folded up, what was opened at the seam closes", pattern.gap())
        if self.main_solid.ball:
            return
        yield from self._main_width(found)
        rolled = [self._rolled_main(found, link) - found[link.named.name] for link in self._links(main_chains(self))]
        yield Truth("Rolled round the main, the rim of its hole is that line", np.array(rolled))

    @staticmethod
    def _links(chains: Sequence[Chain]) -> list[Link]:
        return [link for chain in chains for link in chain.links]

    def _rolled_branch(self, share: Array, down: Array) -> Array:
        """Where a place of the branch's pattern comes to lie: by its share of the girth, and how far from the right
        end."""
        start = self.branch.element(np.asarray(share) * self.branch.period)
        return np.asarray(start + np.asarray(self.reach - down)[..., None] * self.branch.axis)

    def _main_width(self, found: Found) -> Iterator[Truth]:
        n = self.main_parts
        if not self.main_solid.apex:
            yield Truth(
                "The main’s pattern is as wide as it is round", distance(found["D0"], found[f"D{n}"]) - self.main_girth
            )
            return
        far = np.stack([distance(found["W"], found[f"D{k}"]) for k in range(n + 1)])
        yield Truth(f"Every line of the main’s pattern is {bare(self.slant)} long", far - self.slant)
        step = np.stack([distance(found[f"D{k}"], found[f"D{k + 1}"]) for k in range(n)])
        chord = 2 * self.slant * float(np.sin(np.deg2rad(self.main_sector / n / 2)))
        yield Truth("Its parts are evenly wide", step - chord)

    def _rolled_main(self, found: Found, link: Link) -> Array:
        """Where a place of the main's pattern comes to lie on the main."""
        n, at = self.main_parts, found[link.key]
        if self.main_solid.corners is None:
            return self._rolled_round(found, at)
        j = min(int(link.share * n + 1e-9), n - 1)
        seam = int(self.given_values["seam"]) - 1
        a, b = (self.feet[(seam + j + k) % n] for k in (0, 1))
        if self.main_solid.apex:
            flat = np.array([found["W"], found[f"D{j}"], found[f"D{j + 1}"]])
            solid = np.array([[0.0, 0.0, self.tall], a, b])
        else:
            flat = np.array([found[f"D{j}"], found[f"D{j + 1}"], found[f"T{j}"]])
            solid = np.array([a, b, a + np.array([0.0, 0.0, self.tall])])
        shares = np.linalg.solve(np.array([flat[1] - flat[0], flat[2] - flat[0]]).T, at - flat[0])
        return np.asarray(solid[0] + shares[0] * (solid[1] - solid[0]) + shares[1] * (solid[2] - solid[0]))

    def _rolled_round(self, found: Found, at: Array) -> Array:
        seam, n = self.seam_foot, self.main_parts
        assert seam is not None
        start = float(np.rad2deg(np.arctan2(-seam[1], seam[0])))
        if not self.main_solid.apex:
            u = unit(found[f"D{n}"] - found["D0"])
            off = at - found["D0"]
            turn = start + 360.0 * dot(off, u) / self.main_girth
            return np.asarray(
                self.main_solid.base(turn) + np.asarray(cross(u, off))[..., None] * np.array([0.0, 0.0, 1.0])
            )
        off, first = at - found["W"], found["D0"] - found["W"]
        swept = (np.rad2deg(np.arctan2(cross(first, off), dot(first, off))) + BACK) % 360.0 - BACK
        turn = start + 360.0 * swept / self.main_sector
        share = (length(off) / self.slant)[..., None]
        top = np.array([0.0, 0.0, self.tall])
        return np.asarray(top + share * (self.main_solid.base(turn) - top))

    # cut out

    def cut_out(self, found: Found) -> Sequence[Part]:
        if "Q0" not in found:
            return ()
        n = len(self.counted)
        feet = [f"Q{k}" for k in range(n + 1)]
        far = [] if self.right_only else [f"P{k}" for k in range(n + 1)]
        parts = list(_parts("The branch", feet, far, branch_chains(self), found, lower_only=self.right_only))
        if not self.main_solid.ball:
            m = self.main_parts
            heads = ["W"] if self.main_solid.apex else [f"T{k}" for k in range(m + 1)]
            if self.main_solid.apex and self.meeting.kind == "over":
                heads = []
            feet = [f"D{k}" for k in range(m + 1)]
            parts += _parts("The main", feet, heads, main_chains(self), found, lower_only=not heads)
        return parts

    # in space

    def slices(self, method: str, says: str) -> Sequence[Array]:
        return slices_of(self, method, says)

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        return () if off else solid_skin(self)

    def own_edges(self) -> Sequence[Array]:
        return solid_edges(self)

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        right, _ = self.meeting.lengths
        start = self.branch.element(self.counted)
        called = "division" if self.branch_corners is None else "edge"
        return [
            (f"{called} {k + self.first}", start[k] + self.reach * self.branch.axis, start[k] + far * self.branch.axis)
            for k, far in enumerate(right)
            if far == far
        ]

    def pattern(self, found: Found) -> Pattern | None:
        """Both sheets folded up where they stand, the branch on the main."""
        return folded_pair(self, found) if "Q0" in found else None


def _parts(
    title: str, feet: Sequence[str], heads: Sequence[str], chains: Sequence[Chain], found: Found, lower_only: bool
) -> Iterator[Part]:
    """The pieces of sheet that a skin is cut from: chains from side to side part it, the others are holes or run into
    the seam."""
    across = sorted(
        (chain.rightward() for chain in chains if chain.across),
        key=lambda chain: float(np.mean([_height(found, feet, key, heads) for key in chain.keys])),
    )
    notches = [chain for chain in chains if not chain.closed and not chain.across]
    if across:
        first = _kinds(feet, "base") + [Edge(feet[-1], across[0].keys[-1], "seam")]
        first += _kinds(across[0].keys[::-1], "cut") + [Edge(across[0].keys[0], feet[0], "side")]
        yield Part(title if lower_only else f"{title}, first part", first)
        if not lower_only:
            last = across[-1].keys
            edges = _kinds(last, "cut")
            edges += [Edge(last[-1], heads[-1], "seam"), *_kinds(heads[::-1], "top"), Edge(heads[0], last[0], "side")]
            yield Part(f"{title}, second part", edges)
    else:
        right = _side(
            feet[-1], heads[-1] if heads else "", [c for c in notches if c.links[0].share > 0.5], found, feet, heads
        )
        left = _side(
            feet[0], heads[0] if heads else "", [c for c in notches if c.links[0].share < 0.5], found, feet, heads
        )
        edges = _kinds(feet, "base") + [Edge(a, b, "seam" if k == "side" else k) for a, b, k in right]
        edges += _kinds(heads[::-1], "top") + [Edge(b, a, k) for a, b, k in left[::-1]]
        yield Part(title, edges)
    for number, chain in enumerate((c for c in chains if c.closed), 1):
        keys = chain.keys
        yield Part(f"{title}: hole {number}", [Edge(a, b, "hole") for a, b in zip(keys, [*keys[1:], keys[0]])])


def _kinds(keys: Sequence[str], kind: str) -> list[Edge]:
    return [Edge(a, b, kind) for a, b in pairwise(keys)]


def _height(found: Found, feet: Sequence[str], key: str, heads: Sequence[str]) -> float:
    """How far from its foot a place of a pattern lies: over the stretch-out line, or from the arc towards the apex."""
    at = found[key]
    if list(heads) == ["W"]:
        return -float(distance(at, found["W"]))
    u = unit(found[feet[-1]] - found[feet[0]])
    return float(cross(u, at - found[feet[0]]))


def _side(
    low: str, high: str, notches: Sequence[Chain], found: Found, feet: Sequence[str], heads: Sequence[str]
) -> list[tuple[str, str, str]]:
    """One side of the seam going up: along it, and round what the line takes out of it."""

    def height(key: str) -> float:
        return _height(found, feet, key, heads)

    runs = [chain.keys if height(chain.keys[0]) <= height(chain.keys[-1]) else chain.keys[::-1] for chain in notches]
    at, edges = low, []
    for run in sorted(runs, key=lambda keys: height(keys[0])):
        edges.append((at, run[0], "side"))
        edges += [(a, b, "cut") for a, b in pairwise(run)]
        at = run[-1]
    if high:
        edges.append((at, high, "side"))
    return edges
