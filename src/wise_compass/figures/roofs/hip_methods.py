"""How a hand finds a roof: what rises from the corners, then meet by meet, then every slope folded down."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import mm, trim
from wise_compass.figures.roofs.hips import HipRoof
from wise_compass.geometry.meets import meet_lines
from wise_compass.geometry.roofs import RoofEdge
from wise_compass.geometry.vectors import Array, cross, distance, left_of, length, unit

GAP = 16.0
"""mm between the slopes that are folded down and the triangles of the pitches."""
LEVEL = 0.55
"""Of the roof's height: at which level lines are drawn."""
FAR = 2.5
"""Of the plan's size: from how far off two eaves are still joined to a place."""
NEAR = 0.15
"""And how far they have to be, for a line through both to be sure."""
PARALLEL = 1e-6


class Profile:
    """The triangle of a pitch: its start on its base, the base and the slope."""

    def __init__(self, start: Spot, base: LineMark, slope: LineMark) -> None:
        self.start, self.base, self.slope = start, base, slope


class Plan:
    """A roof on the way: what is drawn of it."""

    def __init__(self, g: HipRoof, d: Draft, bisect: bool) -> None:
        self.g, self.d, self.roof, self.bisect = g, d, g.roof, bisect
        self.places: dict[int, Spot] = {}
        self.sides: list[LineMark] = []
        self.profiles: dict[float, Profile] = {}
        self.levels: dict[int, LineMark] = {}
        self.lines: dict[tuple[int, int], LineMark] = {}
        self.off_sheet: list[tuple[RoofEdge, int]] = []
        """Edges from places on, whose eaves meet too far off for a straightedge: drawn only where nothing else tells
        where they end."""
        self.aside: dict[int, LineMark] = {}
        """Eaves that are drawn once more further out."""

    def draw(self) -> None:
        self._eaves()
        self._pitches()
        self._corners()
        self._meets()
        self._folded()
        self._line_in()

    # eaves and pitches

    def _eaves(self) -> None:
        g, d, roof = self.g, self.d, self.roof
        with d.phase("The eaves"):
            for k in range(g.count):
                name, (x, y) = g.name(k), roof.plan[k].tolist()
                self.places[k] = (
                    d.start_at(name, x, y, f"Mark {name}, a corner of the eaves.") if k == 0 else d.plot(name, x, y)
                )
            with d.as_one("Straightedge", "Join the corners: the eaves."):
                for k in range(g.count):
                    self.sides.append(d.rule(self.places[k], self.places[(k + 1) % g.count]))

    def _pitches(self) -> None:
        d, roof = self.d, self.roof
        folded = [
            float(roof.off(k, roof.places[place, :2])) / float(np.cos(np.deg2rad(roof.pitches[k])))
            for k in roof.slopes
            for place in roof.face(k)
        ]
        runs: dict[float, float] = {}
        for k in roof.slopes:
            run = max(float(roof.off(k, roof.places[place, :2])) for place in roof.face(k))
            runs[roof.pitches[k]] = max(runs.get(roof.pitches[k], 0.0), run)
        x = float(roof.plan[:, 0].max()) + max(folded) + GAP
        if roof.set_aside:  # clear of what is set aside to the right as well
            x += max(far + GAP for far in roof.set_aside.values())
        y = float(roof.plan[:, 1].min())
        with d.phase("The pitches"):
            start = d.plot("", x, y, "Beside the plan begin the triangles of the pitches.", "plain")
            base = d.level_from(start, "Draw their base level.", length=max(runs.values()))
            for pitch, run in runs.items():
                long = run / float(np.cos(np.deg2rad(pitch)))
                slope = d.ray(start, pitch, f"Draw the slope of {trim(pitch)}° to level.", length=long)
                self.profiles[pitch] = Profile(start, base, slope)

    def _level_line(self, k: int) -> LineMark:
        """The level line of a slope, drawn once."""
        d, roof = self.d, self.roof
        if k not in self.levels:
            profile = self.profiles[roof.pitches[k]]
            high = LEVEL * float(roof.places[:, 2].max())
            run = high / float(np.tan(np.deg2rad(roof.pitches[k])))
            with d.as_one(
                "Set square",
                f"Draw the level line {mm(high)} up slope {self.g.told_side(k) + 1}: {mm(run)} inside its eave.",
            ):
                post = d.lay_off(d.upright_from(profile.start), profile.start, high, "", kind="plain")
                at = d.meet(d.level_from(post), profile.slope)
                foot = d.meet(d.upright_from(at), profile.base)
                inside = d.lay_off(
                    d.square_to(self.sides[k], self.places[k]),
                    self.places[k],
                    d.opening(profile.start, foot),
                    "",
                    kind="plain",
                )
                self.levels[k] = d.parallel_to(self.sides[k], inside)
        return self.levels[k]

    # what rises from the corners

    def _corners(self) -> None:
        g, d, roof = self.g, self.d, self.roof
        n = g.count
        halved = d.choice(
            "corner-halved",
            right=False,
            slip=True,
            when=any(
                abs(roof.pitches[k] - roof.pitches[k - 1]) > 0.5 and not roof.gable(k) and not roof.gable(k - 1)
                for k in range(n)
            ),
            says="Where two pitches differ the corner is halved all the same.",
        )
        with d.phase("Hips and valleys"):
            for k in range(n):
                before = (k - 1) % n
                pair = (min(before, k), max(before, k))
                if roof.gable(k) or roof.gable(before):
                    self.lines[pair] = self.sides[k if roof.gable(k) else before]
                    continue
                alike = abs(roof.pitches[k] - roof.pitches[before]) < 1e-9
                if (self.bisect and alike) or (halved and not alike):
                    self.lines[pair] = self._bisector(k)
                else:
                    one, other = self._level_line(before), self._level_line(k)
                    with d.as_one(
                        "Straightedge", f"Join {g.name(k)} to where both level lines meet: what rises there."
                    ):
                        self.lines[pair] = d.rule(self.places[k], d.meet(one, other))

    def _bisector(self, k: int) -> LineMark:
        d, g = self.d, self.g
        at, sides = self.places[k], (self.sides[k], self.sides[(k - 1) % g.count])
        reach = 0.4 * min(side.hi for side in sides)
        ways = [unit(self.places[(k + step) % g.count].here - at.here) for step in (1, -1)]
        wide = max(0.8 * reach * float(distance(ways[0], ways[1])), 0.8 * reach)
        says = f"Halve the corner {g.name(k)}: both slopes are as steep."
        with d.as_one("Compass", says, Setting(reach, "mm"), Setting(wide, "mm"), why="equal arcs"):
            arc = d.compass(at, reach, whole=False)
            ends = [d.meet(side, arc, near=at.here + reach * way) for side, way in zip(sides, ways)]
            swung = [d.compass(end, wide, whole=False) for end in ends]
            out = ways[0] + ways[1]
            away = out if float(length(out)) > 1e-6 else left_of(ways[0])
            inside = -1.0 if k == self.roof.dent else 1.0
            return d.rule(at, d.meet(swung[0], swung[1], near=at.here + inside * 10 * reach * unit(away)))

    # meet by meet

    def _meets(self) -> None:
        g, d, roof = self.g, self.d, self.roof
        edges = roof.edges
        with d.phase("Where they meet"):
            while len(self.places) < len(roof.places):
                place, known = self._next(edges)
                if not known and self._gables(place):
                    self._gable_top(place)
                    continue
                if not known:
                    one, begin = next(far for far in self.off_sheet if not self.places.keys() >= {*far[0][:2]})
                    self.lines[one.sides] = self._towards(one, begin)
                    continue
                mine = [one for one in edges if place in one[:2]]
                lines = self._surest(place, known)
                others = ", ".join(str(g.told_side(k) + 1) for k in sorted({k for one in mine for k in one.sides}))
                with d.as_one("Pencil", f"Where they meet stands {g.name(place)}: sides {others} meet there."):
                    self.places[place] = d.meet(lines[0], lines[1], g.name(place), near=roof.places[place, :2])
                self._leave(mine, place)

    def _leave(self, edges: list[RoofEdge], place: int) -> None:
        """Draw what leaves a place that is found; not yet what only a straightedge over the sheet's side could draw."""
        for one in edges:
            if one.sides not in self.lines:
                if self._is_off_sheet(one, place):
                    self.off_sheet.append((one, place))
                else:
                    self.lines[one.sides] = self._beyond(one, place)

    def _next(self, edges: list[RoofEdge]) -> tuple[int, list[tuple[int, int]]]:
        """The next place that two lines which stand already meet in, and their sides; none for a gable's top, which
        only its own wall shows, or where no place is told by two lines."""
        for place in range(self.g.count, len(self.roof.places)):
            if place in self.places:
                continue
            known = list(dict.fromkeys(one.sides for one in edges if place in one[:2] and one.sides in self.lines))
            lines = [_way(self.lines[pair]) for pair in known]
            if any(abs(float(cross(a, b))) > PARALLEL for a in lines for b in lines):
                return place, known
        left = [place for place in range(self.g.count, len(self.roof.places)) if place not in self.places]
        return next((place for place in left if self._gables(place)), left[0]), []

    def _gables(self, place: int) -> list[int]:
        """The gables whose only top a place is, between the slopes beside it."""
        faces = {k: self.roof.face(k) for k in range(self.g.count) if self.roof.gable(k)}
        return [k for k, face in faces.items() if place in face and len(face) == 3]

    def _gable_top(self, place: int) -> None:
        """A gable’s top where no ridge leads: its wall folded down, both verges by their level lines."""
        d, g, roof = self.d, self.g, self.roof
        k = self._gables(place)[0]
        before, after = (k - 1) % g.count, (k + 1) % g.count
        high = LEVEL * float(roof.places[:, 2].max())
        verges = []
        with d.phase("A gable’s top"), d.apart("pattern"):
            for side, corner in ((before, k), (after, (k + 1) % g.count)):
                level = self._level_line(side)
                words = (
                    f"Where that level line meets the wall of side {g.told_side(k) + 1} lay its height off, outward."
                )
                with d.as_one("Rule", words):
                    at = d.meet(level, self.sides[k])
                    up = d.lay_off(d.square_to(self.sides[k], at), at, -high, "", kind="plain")
                verges.append(d.rule(self.places[corner], up, f"Join it to {g.name(corner)}: the verge."))
            with d.as_one("Set square", f"Where both verges meet drop square to the eaves: {g.name(place)}."):
                top = d.meet(verges[0], verges[1])
                self.places[place] = d.meet(d.square_to(self.sides[k], top), self.sides[k], g.name(place))
        self._leave([one for one in roof.edges if place in one[:2]], place)

    def _surest(self, place: int, known: list[tuple[int, int]]) -> tuple[LineMark, LineMark]:
        """Of the lines that meet there the two that cross most squarely."""
        lines = [self.lines[pair] for pair in known]
        return max(
            ((a, b) for i, a in enumerate(lines) for b in lines[i + 1 :]),
            key=lambda two: abs(float(cross(_way(two[0]), _way(two[1])))),
        )

    def _beyond(self, one: RoofEdge, place: int) -> LineMark:
        """The line of an edge from a place on: parallel to its eaves, or to where those meet."""
        d, g, roof = self.d, self.g, self.roof
        i, j = one.sides
        spot = self.places[place]
        if roof.gable(i) or roof.gable(j):
            return self.sides[i if roof.gable(i) else j]
        names = f"{g.told_side(i) + 1} and {g.told_side(j) + 1}"
        if abs(float(cross(roof.ways[i], roof.ways[j]))) < PARALLEL:
            return d.parallel_to(
                self.sides[i], spot, f"From {spot.name} draw parallel to the eaves of {names}: a ridge."
            )
        if self._far_off(one, place) > NEAR:
            with d.as_one("Straightedge", f"Produce the eaves of {names} until they meet; join that to {spot.name}."):
                return d.rule(spot, d.meet(self.sides[i], self.sides[j]))
        return self._towards(one, place)

    def _far_off(self, one: RoofEdge, place: int) -> float:
        """How far from a place the eaves of an edge meet, in sizes of the plan; infinite where they are parallel."""
        roof, (i, j) = self.roof, one.sides
        if abs(float(cross(roof.ways[i], roof.ways[j]))) < PARALLEL:
            return np.inf
        at = meet_lines(roof.plan[i], roof.ways[i], roof.plan[j], roof.ways[j])
        return float(distance(at, self.places[place].here)) / roof.size

    def _is_off_sheet(self, one: RoofEdge, place: int) -> bool:
        """Whether eaves of an edge that are neither parallel nor a gable's meet too far off."""
        return not any(map(self.roof.gable, one.sides)) and FAR <= self._far_off(one, place) < np.inf

    def _towards(self, one: RoofEdge, place: int) -> LineMark:
        """The line of an edge from a place on by its slopes' level lines, which meet on it."""
        d, roof, (i, j) = self.d, self.roof, one.sides
        spot, names = self.places[place], f"{self.g.told_side(i) + 1} and {self.g.told_side(j) + 1}"
        first, second = self._level_line(i), self._level_line(j)
        with d.as_one("Straightedge", f"Join {spot.name} to where the level lines of {names} meet."):
            crossing = d.meet(first, second)
            if float(distance(crossing.here, spot.here)) > NEAR * roof.size / 4:
                return d.rule(spot, crossing)
            return d.rule(spot, d.meet(self.sides[i], self.sides[j]))

    # slopes

    def _folded(self) -> None:
        """Every slope and gable folded down about its eave."""
        g, d, roof = self.g, self.d, self.roof
        risen: dict[int, tuple[Spot, Spot]] = {}
        for k in sorted(range(g.count), key=roof.gable):
            with d.phase(f"Side {g.told_side(k) + 1} folded down"), d.apart("pattern"):
                if k in roof.set_aside:
                    self._set_aside(k)
                flat = d.choice(
                    "plan-for-true",
                    right=False,
                    slip=True,
                    says="The slopes are laid out as wide as the plan shows them, not truly.",
                    at=f"side {g.told_side(k) + 1}",
                )
                for place in roof.face(k)[2:]:
                    self._fold(k, place, risen, flat)

    def _set_aside(self, k: int) -> None:
        """The eave of a side at the inner corner drawn once more further out, where its slope lies clear."""
        g, d, roof = self.g, self.d, self.roof
        far = roof.set_aside[k] + GAP
        names = [g.flat_name(k, place) for place in roof.face(k)[:2]]
        says = f"Carry the eave out, clear of the other slopes: {' '.join(names)}, square across from its corners."
        with d.as_one("Set square", says, Setting(far, "mm")):
            ends = []
            for place, name in zip(roof.face(k)[:2], names):
                spot = self.places[place]
                ends.append(d.lay_off(d.square_to(self.sides[k], spot), spot, -far, name))
            self.aside[k] = d.rule(ends[0], ends[1])

    def _fold(self, k: int, place: int, risen: dict[int, tuple[Spot, Spot]], flat: bool) -> None:
        g, d, roof = self.g, self.d, self.roof
        number, name = place - g.count + 1, g.flat_name(k, place)
        spot, side = self.places[place], self.sides[k]
        if roof.gable(k):
            low, high = risen[place]
            with d.as_one("Dividers", f"Over {spot.name} lay off its height, square to the wall’s foot: {name}."):
                out = d.square_to(side, spot)
                d.lay_off(out, spot, d.opening(low, high), name, way=-1.0)
            return
        profile = self.profiles[roof.pitches[k]]
        says = (
            f"How far {spot.name} is inside the eave, laid off in the triangle: "
            f"its slant off the eave, outward: {name}."
        )
        with d.as_one("Dividers", says):
            across = d.square_to(side, spot)
            foot = d.meet(across, side)
            inside = d.opening(foot, spot)
            if k in self.aside:
                foot = d.meet(across, self.aside[k])
            first = place not in risen
            low = d.lay_off(profile.base, profile.start, inside, f"Y{number}" if first else "", kind="plain")
            high = d.meet(d.upright_from(low), profile.slope, f"Z{number}" if first else "", kind="plain")
            risen.setdefault(place, (low, high))
            slant: Opening = inside if flat else d.opening(profile.start, high)
            d.lay_off(across, foot, slant, name, way=-1.0)

    def _line_in(self) -> None:
        g, d, roof = self.g, self.d, self.roof
        with d.phase("Line in"):
            with d.as_one("Straightedge", "Line in the eaves, and hips, valleys and ridges in plan."):
                d.line_in([self.places[k] for k in range(g.count)], closed=True)
                for one in roof.edges:
                    if not any(roof.gable(k) for k in one.sides):
                        d.line_in([self.places[one.start], self.places[one.end]])
            with d.as_one("Straightedge", "Line in every side as it is folded down."), d.apart("pattern"):
                for k in range(g.count):
                    ring = [g.flat_name(k, place) for place in roof.face(k)]
                    d.line_in([d.spots[name] for name in [*ring[1:], ring[0]]], closed=k in self.aside)


def _way(line: LineMark) -> Array:
    return line.u if line.u.ndim == 1 else line.u[0]


ABOUT = "What rises from the corners {}, then meet by meet; true lengths by the pitches, slopes folded down."
SOURCE = "Roofs of given pitches by level lines (descriptive geometry, after Monge)"


@method(HipRoof, "bisectors", about=ABOUT.format("halves them where both pitches are alike"), source=SOURCE)
def roof_by_bisectors(g: HipRoof, d: Draft) -> None:
    Plan(g, d, bisect=True).draw()


@method(HipRoof, "level-lines", about=ABOUT.format("by level lines on both slopes"), source=SOURCE)
def roof_by_levels(g: HipRoof, d: Draft) -> None:
    Plan(g, d, bisect=False).draw()
