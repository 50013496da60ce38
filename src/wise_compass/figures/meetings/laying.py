"""Both skins laid flat by hand: the branch by parallel lines, the main by parallel or by radial ones, with its hole."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.meetings.chains import Chain, Link, branch_chains, main_chains, main_face, main_faces
from wise_compass.figures.meetings.finding import Finder
from wise_compass.figures.meetings.hand import GAP
from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.figures.solids.lining import ALLOWANCES
from wise_compass.geometry.vectors import direction


class Laying:
    """The patterns on the way."""

    def __init__(self, g: SolidsThatMeet, d: Draft, hand: Finder) -> None:
        self.g, self.d, self.hand = g, d, hand
        spots = np.array([spot.here for step in d.steps for spot in step.spots])
        self.right = float(spots[:, 0].max())

    @property
    def _main_low(self) -> float:
        """How low the main's pattern will reach; a sphere has none."""
        g, hand = self.g, self.hand
        if g.main_solid.ball:
            return float(hand.foot.here[1])
        return float(hand.apex.here[1]) - g.slant if g.main_solid.apex else float(hand.foot.here[1])

    # the branch

    def branch(self) -> None:
        g, d = self.g, self.d
        n, girth = len(g.counted), g.branch_girth
        tall = 2 * g.reach if not g.right_only else max(x for x in g._lengths("R") if x is not None)
        below = self._main_low - GAP - tall
        start = d.start_at("Q0", self.right + GAP, below, "Mark Q0, where the branch’s pattern has room.", kind="given")
        base = d.level_from(start, "Draw its stretch-out line level.", length=girth)
        keys = [*(f"Q{k}" for k in range(n)), f"Q{n}"]
        if g.branch_corners is None:
            wide = d.choice(
                "diameter",
                right=girth,
                slip=2 * g.branch_radius,
                says="The diameter laid off instead of the circumference.",
            )
            end = d.lay_off(
                base, start, wide, keys[-1], "Lay off the girth of the branch.", f"π × {bare(2 * g.branch_radius)}"
            )
            feet = d.divide(start, end, n, keys, f"Cut it into {n} equal spaces, the seam on division 0.", how="trial")
        else:
            feet = [start]
            with d.as_one("Rule", f"Step off the {n} sides of its section.", Setting(girth / n, "mm")):
                for k in range(1, n + 1):
                    feet.append(d.lay_off(base, start, girth * k / n, keys[k], kind="found"))
        with d.as_one("Set square", "Draw an upright at every mark."):
            uprights = [d.upright_from(spot) for spot in feet]
        self._branch_points(feet, uprights)
        self._branch_lined(feet, uprights)

    def _branch_points(self, feet: list[Spot], uprights: list[LineMark]) -> None:
        """Every point of the line on its own upright, as far from the right end as the elevation shows it."""
        g, d = self.g, self.d
        n = len(g.counted)
        with d.as_one(
            "Dividers",
            "Take from the elevation how far each point of the line is from the "
            "right end, and lay it off on its own line.",
            why="the branch is parallel to the elevation: its lines show truly there",
        ):
            for chain in branch_chains(g):
                order = chain.links
                for k, link in enumerate(order):
                    wrong = d.choice(
                        "carried-to-the-next",
                        right=link,
                        slip=order[(k + 1) % len(order)],
                        says="Lengths carried to the wrong edge or division, one on.",
                        at=link.key,
                    )
                    place = link.share * n
                    j = round(place)
                    if abs(place - j) < 1e-9:
                        foot, line = feet[j], uprights[j]
                    else:
                        foot = d.between(feet[0], feet[-1], link.share, kind="plain")
                        line = d.upright_from(foot)
                    d.lay_off(line, foot, self._from_end(wrong), link.key, kind="plain" if k % 3 else "found")

    def _from_end(self, link: Link) -> Opening:
        d, hand = self.d, self.hand
        front = d.spots[f"{link.named.name}.front"]
        end = d.meet(d.parallel_to(hand.axis, front), hand.end_line)
        return d.opening(end, front)

    def _branch_lined(self, feet: list[Spot], uprights: list[LineMark]) -> None:
        g, d, n = self.g, self.d, len(self.g.counted)
        chains = branch_chains(g)
        far: list[Spot] = []
        if not g.right_only:
            with d.as_one(
                "Rule", "Lay off twice the reach on both sides, and draw the left end.", Setting(2 * g.reach, "mm")
            ):
                far = [d.lay_off(uprights[k], feet[k], 2 * g.reach, f"P{k}", kind="plain") for k in range(n + 1)]
        with d.as_one("Straightedge", "Line in the ends and both sides of the seam.", why=ALLOWANCES):
            d.line_in([feet[0], feet[-1]])
            if far:
                d.line_in([far[0], far[-1]])
            for side in (0, -1):
                for a, b in self._seam(feet[side], far[side] if far else None, chains, 1.0 if side else 0.0):
                    d.line_in([a, b])
        self._line_in(chains, "Line in the line where they meet.")
        if g.branch_corners is not None:
            with d.as_one("Straightedge", "Draw the fold lines thin."):
                for k in range(1, n):
                    for a, b in self._seam(feet[k], far[k] if far else None, chains, k / n):
                        d.line_in([a, b], role=Role.FOLD)

    def _seam(self, low: Spot, high: Spot | None, chains: Sequence[Chain], share: float) -> list[tuple[Spot, Spot]]:
        """What stays of an upright of a pattern between its ends: all but what lies within the line."""
        places = [self.d.spots[link.key] for chain in chains for link in chain.links if abs(link.share - share) < 1e-9]
        marks = sorted({round(float(spot.here[1]), 6): spot for spot in places}.items())
        spots = [low, *(spot for _, spot in marks), *([high] if high is not None else [])]
        return [(a, b) for k, (a, b) in enumerate(pairwise(spots)) if k % 2 == 0]

    def _line_in(self, chains: Sequence[Chain], says: str) -> None:
        """Chains lined in, in pieces between their corners; straight where both solids have flat sides."""
        g, d = self.g, self.d
        flat = g.main_solid.corners is not None and g.branch_corners is not None
        left_out = self.hand.left_out
        with d.as_one("Straightedge" if flat else "Curve", says):
            for chain in chains:
                links = [one for one in chain.links if one.named.name not in left_out]
                spots = [d.spots[one.key] for one in links]
                if flat:
                    d.line_in(spots, closed=chain.closed)
                    continue
                corners = [k for k, one in enumerate(links) if g.is_corner(one.named.meets)]
                if chain.closed:
                    if not corners:
                        d.curve(spots, closed=True)
                        continue
                    cuts = [*corners, corners[0] + len(links)]
                else:
                    cuts = sorted({0, *corners, len(links) - 1})
                for a, b in pairwise(cuts):
                    run = [spots[k % len(spots)] for k in range(a, b + 1)]
                    if len(run) > 2:
                        d.curve(run)
                    else:
                        d.line_in(run)

    # the main

    def main(self) -> None:
        g = self.g
        if g.main_solid.ball:
            return
        if g.main_solid.apex:
            self._radial()
        else:
            self._parallel()

    def _parallel(self) -> None:
        """A prism's or a cylinder's: on the level of the ground line, so that heights are carried straight across."""
        g, d, hand = self.g, self.d, self.hand
        n, girth = g.main_parts, g.main_girth
        ground = float(hand.foot.here[1])
        start = d.start_at(
            "D0", self.right + GAP, ground, "On the ground line mark D0, clear of the views.", kind="given"
        )
        base = d.level_from(start, "Draw the main’s stretch-out line level.", length=girth)
        feet = [start]
        if g.main_solid.corners is None:
            end = d.lay_off(base, start, girth, f"D{n}", "Lay off its girth.", f"π × {bare(2 * g.main_solid.radius)}")
            keys = [f"D{k}" for k in range(n + 1)]
            feet = d.divide(start, end, n, keys, f"Cut it into {n} equal spaces, from the seam.", how="trial")
        else:
            with d.as_one("Rule", f"Step off the {n} sides of its base, from the seam.", Setting(girth / n, "mm")):
                feet += [d.lay_off(base, start, girth * k / n, f"D{k}", kind="found") for k in range(1, n + 1)]
        with d.as_one("Set square", "Draw an upright at every mark, and the top across from the elevation."):
            uprights = [d.upright_from(spot) for spot in feet]
            heads = []
            level = d.level_from(hand.tops[0])
            for k, line in enumerate(uprights):
                heads.append(d.meet(level, line, f"T{k}", kind="plain"))
        chains = main_chains(g)
        if g.main_solid.corners is not None:
            words = "Take from the plan how far along its side each point of the line is, and carry its height across."
        else:
            words = "Lay off how far round the circle each point of the line is, and carry its height across."
        with d.as_one("Dividers", words):
            for chain in chains:
                for k, (link, side) in enumerate(zip(chain.links, self._sides(chain))):
                    front = d.spots[f"{link.named.name}.front"]
                    d.project(link.key, self._foot(link, side, feet, base), front, kind="plain" if k % 3 else "found")
        with d.as_one("Straightedge", "Line in base, top and both sides of the seam.", why=ALLOWANCES):
            d.line_in([feet[0], feet[-1]])
            d.line_in([heads[0], heads[-1]])
            for side in (0, -1):
                for a, b in self._seam(feet[side], heads[side], chains, 1.0 if side else 0.0):
                    d.line_in([a, b])
        self._line_in(chains, "Line in the hole.")
        if g.main_solid.corners is not None:
            with d.as_one("Straightedge", "Draw the fold lines thin."):
                for k in range(1, n):
                    for a, b in self._seam(feet[k], heads[k], chains, k / n):
                        d.line_in([a, b], role=Role.FOLD)

    def _sides(self, chain: Chain) -> list[int]:
        """On which flat side of the main each point lies; all on the one of a round main."""
        if self.g.main_solid.corners is None:
            return [0] * len(chain.links)
        return list(main_faces(self.g, [link.named.meets for link in chain.links])[0].tolist())

    def _foot(self, link: Link, side: int, feet: list[Spot], base: LineMark) -> Spot:
        """The place on the stretch-out line under a point, which lies on a side of the main where that is flat."""
        g, d, n = self.g, self.d, self.g.main_parts
        place = link.share * n
        j = round(place)
        if abs(place - j) < 1e-9:
            return feet[j]
        if g.main_solid.corners is None:
            return d.between(feet[0], feet[-1], link.share, kind="plain")
        taken = d.opening(self.hand.corners_top[side], d.spots[f"{link.named.name}.top"])
        return d.lay_off(base, feet[int(place)], taken, "", kind="plain")

    def _radial(self) -> None:
        """A pyramid's or a cone's: about an apex of its own, W."""
        g, d, hand = self.g, self.d, self.hand
        n, slant = g.main_parts, g.slant
        sector = g.main_sector
        true = self._true_line()
        half = np.deg2rad(min(sector, 180.0) / 2)
        wide = slant * float(np.sin(half)) if sector < 180.0 else slant
        top = float(hand.apex.here[1])
        start = d.start_at(
            "W",
            self.right + GAP + wide,
            top,
            "Clear of the views mark W, the apex of the main’s pattern.",
            kind="given",
        )
        arc = d.compass(
            start, d.opening(hand.apex, true[1]), f"About W swing the true length, {bare(slant)}.", whole=False
        )
        first = -90.0 - sector / 2
        with d.as_one(
            "Protractor" if g.main_solid.corners is None else "Dividers",
            f"Set off its {n} parts from the seam, {trim(sector / n)}° each.",
            Setting(sector / n, "°"),
            why=f"sector of 360° × {bare(g.main_solid.radius)} / {bare(slant)}"
            if g.main_solid.corners is None
            else "chords of the side",
        ):
            rays, feet = [], []
            for k in range(n + 1):
                turn = first + sector * k / n
                ray = d.ray(start, turn, length=slant, instrument="Protractor")
                rays.append(ray)
                feet.append(d.meet(ray, arc, f"D{k}", near=start.here + slant * direction(turn)))
        chains = main_chains(g)
        beside = any(abs(float(one.at[1])) > 1.0 for one in g.named.values())
        if g.main_solid.corners is None:
            words = (
                "Carry each point of the line level to the cone’s outline; lay its "
                "true distance off on its own generator."
            )
        else:
            words = (
                "Carry each point of the line level to the true edge; lay that off on the edges, and between them draw "
                "parallel to the side, to the ray over the point’s place."
            )
        with d.as_one("Dividers", words):
            for chain in chains:
                for k, link in enumerate(chain.links):
                    apparent = d.choice(
                        "apparent",
                        right=False,
                        slip=True,
                        says="Apparent lengths are taken from the elevation for true ones.",
                        when=beside,
                        at=link.key,
                    )
                    self._radial_point(
                        link, (start, rays, feet, first), true[0], apparent, "plain" if k % 3 else "found"
                    )
        self._radial_lined(start, feet, chains)

    def _true_line(self) -> tuple[LineMark, Spot]:
        """A line of the elevation from the apex that shows true lengths, and its foot."""
        d, hand, g = self.d, self.hand, self.g
        if g.main_solid.corners is None:
            return hand.contour["right"], hand.outlines["right"]
        with d.as_one(
            "Dividers",
            "On the ground line lay off how far a corner is from O in the plan; join it to V: the true edge.",
        ):
            foot = d.lay_off(hand.ground, hand.foot, d.opening(hand.o, hand.corners_top[0]), "", kind="plain")
            return d.rule(foot, hand.apex), foot

    def _radial_point(
        self,
        link: Link,
        sheet: tuple[Spot, list[LineMark], list[Spot], float],
        true: LineMark,
        apparent: bool,
        kind: str,
    ) -> None:
        g, d, hand = self.g, self.d, self.hand
        start, rays, feet, first = sheet
        n, name = g.main_parts, link.named.name
        front = d.spots[f"{name}.front"]
        on = front if apparent else d.meet(d.level_from(front, role=Role.PROJECTOR), true)
        far = d.opening(hand.apex, on)
        place = link.share * n
        j = round(place)
        if abs(place - j) < 1e-9:
            d.lay_off(rays[j], start, far, link.key, kind=kind)
            return
        if g.main_solid.corners is None:
            ray = d.ray(start, first + g.main_sector * link.share, instrument="Protractor")
            d.lay_off(ray, start, far, link.key, kind=kind)
            return
        j = int(place)
        face = main_face(g, link.named.meets)
        side = d.rule(feet[j], feet[j + 1])
        below = d.meet(d.rule(hand.o, d.spots[f"{name}.top"]), hand.sides[face])
        foot = d.lay_off(side, feet[j], d.opening(hand.corners_top[face], below), "", kind="plain")
        level = d.parallel_to(side, d.lay_off(rays[j], start, far, "", kind="plain"))
        d.meet(level, d.rule(start, foot), link.key, kind=kind)

    def _radial_lined(self, start: Spot, feet: list[Spot], chains: Sequence[Chain]) -> None:
        g, d, n = self.g, self.d, self.g.main_parts
        if g.main_solid.corners is None:
            d.arc_in(start, d.opening(start, feet[0]), feet[0], feet[-1], "Centre W, line in the arc of the base.")
        over = any(chain.across for chain in chains) and g.meeting.kind == "over"
        with d.as_one("Straightedge", "Line in the sides of the pattern.", why=ALLOWANCES):
            if g.main_solid.corners is not None:
                d.line_in(feet)
            for side in (0, -1):
                for a, b in self._ray_pieces(start, feet[side], chains, 1.0 if side else 0.0, over):
                    d.line_in([a, b])
        self._line_in(chains, "Line in the hole.")
        if g.main_solid.corners is not None:
            with d.as_one("Straightedge", "Draw the fold lines thin."):
                for k in range(1, n):
                    for a, b in self._ray_pieces(start, feet[k], chains, k / n, over):
                        d.line_in([a, b], role=Role.FOLD)

    def _ray_pieces(
        self, start: Spot, foot: Spot, chains: Sequence[Chain], share: float, over: bool
    ) -> list[tuple[Spot, Spot]]:
        """What stays of a line of the sector from its foot to the apex."""
        places = {
            round(float(np.hypot(*(spot.here - start.here))), 6): spot
            for chain in chains
            for link in chain.links
            if abs(link.share - share) < 1e-9
            for spot in (self.d.spots[link.key],)
        }
        inner = [spot for _, spot in sorted(places.items(), reverse=True)]
        spots = [foot, *inner, *([] if over else [start])]
        return [(a, b) for k, (a, b) in enumerate(pairwise(spots)) if k % 2 == 0]


def lay_flat(g: SolidsThatMeet, d: Draft, hand: Finder) -> None:
    """Both patterns; of a sphere's pair the branch's alone."""
    laying = Laying(g, d, hand)
    with d.phase("The branch’s pattern"), d.apart("pattern"):
        laying.branch()
    if not g.main_solid.ball:
        with d.phase("The main’s pattern"), d.apart("pattern"):
            laying.main()
