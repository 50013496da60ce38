"""The five regular solids, resting on a face, an edge or a corner."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Developed, Face, InViews, Part, Solid
from wise_compass.drafting.dimensions import Dimension, Leader, Linear, from_level, told
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Choice, Length
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, bare_area, mm, trim
from wise_compass.figures.solids.nets import Net
from wise_compass.figures.solids.tilted import DATUM, as_folded
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.regular import SCHLAFLI, downward, easy_pose, edges_of, faces_of
from wise_compass.geometry.unfold import Pattern
from wise_compass.geometry.vectors import Array, Number, angle_of, distance, point3, unit

SHOWN = {"views": "its views", "pattern": "its views and its net", "all": "its views and its net"}
LEVEL = 1e-9
"""Of an edge: heights nearer than this are one level."""


class RegularSolid(InViews, Solid, Developed, Figure, id="regular-solid", family="solids", title="Regular solid"):
    keys = ("V*", "V*.front", "V*.top")
    brief = "A {solid} of edge {edge} rests on {rests}, turned {turn}. Draw {show}, with {method}."
    summary = "Tetrahedron, cube, octahedron, dodecahedron, icosahedron, on a face, an edge or a corner."
    ways = ("true-faces", "golden-ratio", "two-auxiliary-views")
    value_names = (
        "dihedral",
        "circumradius",
        "midradius",
        "inradius",
        "height",
        "front_width",
        "top_depth",
        "levels",
        "surface",
        "volume",
        "faces",
        "edges_opened",
    )

    solid = Choice("dodecahedron", "the solid", tuple(SCHLAFLI))
    edge = Length(34, "the length of an edge")
    rests = Choice(
        "face",
        "what it rests on",
        ("face", "edge", "corner"),
        {"face": "a face", "edge": "an edge", "corner": "a corner"},
    )
    turn = Angle(0, "how far it is turned, anticlockwise from above", least=-360, most=360)

    show = Choice("all", "what is drawn", tuple(SHOWN), SHOWN)

    # how it lies

    @property
    def down(self) -> Array:
        """What lies straight down in the end, in the pose that it is drawn in first."""
        return downward(str(self.solid), str(self.rests))[0]

    @property
    def ground(self) -> Array:
        """The direction of the ground in that pose, seen from the front, (3,); forward stays forward."""
        return point3(-float(self.down[2]), 0.0, float(self.down[0]))

    @property
    def swing(self) -> float:
        """Of what is to lie to the right: its angle to that ground in the plan, anticlockwise from above."""
        ref = downward(str(self.solid), str(self.rests))[1]
        return float(np.degrees(np.arctan2(-float(ref[1]), float(ref @ self.ground))))

    def resting(self, corners: Array, turn: float) -> Array:
        """Corners of the easy pose as they come to lie: right, forward, up from the ground."""
        flat = np.stack([corners @ self.ground, -corners[:, 1]], axis=-1)
        c, s = np.cos(np.deg2rad(turn - self.swing)), np.sin(np.deg2rad(turn - self.swing))
        height = -(corners @ self.down)
        x, up = c * flat[:, 0] - s * flat[:, 1], s * flat[:, 0] + c * flat[:, 1]
        return np.stack([x, -up, height - height.min()], axis=-1)

    @cached_property
    def easy(self) -> Array:
        """The corners in the easy pose about the centre, numbered by level and then round about, (n, 3)."""
        corners = self.edge * np.array(easy_pose(str(self.solid)))
        lies = self.resting(corners, 0.0)
        around = np.round(np.degrees(np.arctan2(-lies[:, 1], lies[:, 0])), 6) % 360.0
        return np.asarray(corners[np.lexsort((around, np.round(lies[:, 2] / self.edge, 6)))])

    @cached_property
    def corners(self) -> Array:
        """The corners as it rests, its centre over the origin, (n, 3)."""
        return self.resting(self.easy, self.turn)

    @property
    def reach(self) -> float:
        """How far its corners lie from the middle of the plan."""
        return float(np.hypot(self.corners[:, 0], self.corners[:, 1]).max())

    @cached_property
    def names(self) -> list[str]:
        return [f"V{k + 1}" for k in range(len(self.easy))]

    @cached_property
    def edges(self) -> list[tuple[int, int]]:
        return edges_of(self.easy, self.edge)

    @cached_property
    def loops(self) -> list[tuple[int, ...]]:
        """Its faces by their corners."""
        return faces_of(self.easy, self.edge)

    @cached_property
    def storeys(self) -> list[list[int]]:
        """The corners of each level, the lowest first."""
        found: list[list[int]] = []
        for k, at in enumerate(self.corners):
            if found and abs(float(at[2] - self.corners[found[-1][0]][2])) <= LEVEL * self.edge:
                found[-1].append(k)
            else:
                found.append([k])
        return found

    def seen(self, corners: Array, sight: Array) -> tuple[list[tuple[int, int]], list[tuple[int, int]]]:
        """The edges that an eye far off sees, and those that lie behind."""
        middle = corners.mean(axis=0)
        towards = [
            loop for loop in self.loops if float((corners[list(loop)].mean(axis=0) - middle) @ sight) > 1e-9 * self.edge
        ]
        shown = {frozenset(pair) for loop in towards for pair in zip(loop, (*loop[1:], loop[0]))}
        return (
            [pair for pair in self.edges if frozenset(pair) in shown],
            [pair for pair in self.edges if frozenset(pair) not in shown],
        )

    # what is told

    @property
    def radii(self) -> tuple[float, float, float]:
        """Of the spheres through the corners, touching the edges, and touching the faces (Coxeter)."""
        p, q = (np.pi / n for n in SCHLAFLI[str(self.solid)])
        h = np.sqrt(np.sin(q) ** 2 - np.cos(p) ** 2)
        half = self.edge / 2
        return (
            float(half * np.sin(q) / h),
            float(half * np.cos(p) / h),
            float(half * np.cos(q) * np.cos(p) / (np.sin(p) * h)),
        )

    def values(self, method: str) -> Iterable[Value]:
        p, q = SCHLAFLI[str(self.solid)]
        outer, middle, inner = self.radii
        yield Value("dihedral", self.dihedral, "°", f"2 arcsin(cos(180° / {q}) / sin(180° / {p}))")
        a = bare(self.edge)
        yield Value("circumradius", outer, "mm", f"{a} / 2 × sin(180° / {q}) / √(sin²(180° / {q}) − cos²(180° / {p}))")
        yield Value("midradius", middle, "mm", f"√({bare(outer)}² − ({a} / 2)²)")
        face = self.edge / 2 / float(np.sin(np.pi / p))
        yield Value("inradius", inner, "mm", f"√({bare(outer)}² − {bare(face)}²)")
        spread = self.corners.max(axis=0) - self.corners.min(axis=0)
        low, high = self.names[0], self.names[-1]
        below = {"face": inner, "edge": middle, "corner": outer}[str(self.rests)]
        yield Value(
            "height",
            float(spread[2]),
            "mm",
            f"{bare(below)} below the centre, {bare(float(spread[2]) - below)} over it",
            (low, high),
        )
        words = "from the first to the last of its corners"
        yield Value("front_width", float(spread[0]), "mm", f"{words}, along the reference line")
        yield Value("top_depth", float(spread[1]), "mm", f"{words}, square to the reference line")
        levels = [float(self.corners[row[0]][2]) for row in self.storeys]
        yield Value(
            "levels",
            levels,
            "mm",
            "… of its corners, the lowest first",
            tuple(self.names[row[0]] for row in self.storeys),
        )
        count = len(self.loops)
        area = p * self.edge**2 / (4 * float(np.tan(np.pi / p)))
        yield Value("surface", count * area, "mm²", f"{count} × {bare_area(area)}")
        yield Value("volume", count * area * inner / 3, "mm³", f"{bare_area(count * area)} × {bare(inner)} / 3")
        yield Value("faces", count, "", f"{p}-sided, {q} round every corner")
        yield Value(
            "edges_opened",
            len(self.edges) - count + 1,
            "",
            f"{len(self.edges)} less the {count - 1} that hold the net together",
        )

    def placed(self, found: Found) -> Array:
        """The corners as the last two views fix them: right, forward and up, (…, n, 3)."""
        if found.method != "two-auxiliary-views":
            return found.together(self.names)
        return np.stack(np.broadcast_arrays(*as_folded(found, self.names).values()), axis=-2)

    def measure(self, found: Found) -> dict[str, Number]:
        at = self.placed(found)
        spread = at.max(axis=-2) - at.min(axis=-2)
        low = at[..., 2].min(axis=-1)
        levels = [at[..., row, 2].mean(axis=-1) - low for row in self.storeys]
        return {
            "front_width": spread[..., 0],
            "top_depth": spread[..., 1],
            "height": spread[..., 2],
            "levels": np.stack(np.broadcast_arrays(*levels), axis=-1),
            "circumradius": distance(at, at.mean(axis=-2, keepdims=True)).mean(axis=-1),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        at = self.placed(found)
        a, b = (at[[pair[k] for pair in self.edges]] for k in (0, 1))
        yield Truth(f"Every edge is {mm(self.edge)} long", distance(a, b) - self.edge)
        middle = at.mean(axis=0)
        far = distance(at, middle)
        yield Truth("All corners lie on one sphere", far - far.mean())
        off = []
        for loop in self.loops:
            face = at[list(loop)]
            normal = unit(cross3(face[1] - face[0], face[2] - face[0]))
            off += [float((corner - face[0]) @ normal) for corner in face]
        yield Truth("Every face is flat", np.array(off))
        row = self.storeys[0]
        count = {"face": SCHLAFLI[str(self.solid)][0], "edge": 2, "corner": 1}[str(self.rests)]
        low = np.sort(at[:, 2])
        yield Truth(f"It rests on its {self.rests}", low[:count] - low[0])
        right = at[row[0]] - at[row].mean(axis=0)
        if self.rests == "corner":
            near = [b if a == row[0] else a for a, b in self.edges if row[0] in (a, b)]
            right = at[near[0]] - at[row[0]]
        shown = float(np.degrees(np.arctan2(-right[1], right[0])))
        each = 360.0 / {"face": count, "edge": 2, "corner": SCHLAFLI[str(self.solid)][1]}[str(self.rests)]
        if "Q0" in found:
            pattern = self.net.pattern(found, self.corners, self.names, self.dihedral)
            sides = [distance(found[a], found[b]) for a, b in (*self.net.rim(), *self.net.folds())]
            yield Truth("Every side of the net is as long as an edge", np.array(sides) - self.edge)
            yield Truth("Folded by the angle between faces, all sides that are shared come together", pattern.gap())
            yield Truth("And it is the solid as it rests", pattern.stray())
        yield Truth(f"It is turned {trim(self.turn)}°", (shown - self.turn + each / 2) % each - each / 2, "°")

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        tail = "3" if found.method == "two-auxiliary-views" else "top"
        one, other = found[f"V1.{tail}"], found[f"V2.{tail}"]
        if self.rests != "corner":
            yield Linear(one, other, "edge", self.edge)
        elif "Q0" in found and "Q1" in found:
            yield Linear(found["Q0"], found["Q1"], "edge", self.edge)
        else:  # no edge of it lies level or in true length
            yield Leader((one + other) / 2, "edge", self.edge, "each edge ")
        if "O" in found and "V1.top" in found:
            way = float(angle_of(found["V2.top"] - found["V1.top"]))
            yield from told([from_level(found["V1.top"], self.turn, "turn", way - self.turn)])

    # laid flat

    @cached_property
    def net(self) -> Net:
        """Its faces laid flat, from the one that lies lowest."""
        loops = [loop[::-1] for loop in self.loops]
        heights = [float(self.corners[list(loop), 2].mean()) for loop in loops]
        return Net(loops, int(np.argmin(np.round(heights, 6))), self.edge)

    @property
    def dihedral(self) -> float:
        """Between two faces that meet, in degrees."""
        p, q = SCHLAFLI[str(self.solid)]
        return 2 * float(np.degrees(np.arcsin(np.cos(np.pi / q) / np.sin(np.pi / p))))

    def pattern(self, found: Found) -> Pattern | None:
        return self.net.pattern(found, self.corners, self.names, self.dihedral) if "Q0" in found else None

    def cut_out(self, found: Found) -> Sequence[Part]:
        return (self.net.part(),) if "Q0" in found else ()

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        at = self.corners + np.array([0.0, self.reach + DATUM, 0.0])
        if method == "two-auxiliary-views":  # it stays as it was drawn first, in front of the vertical plane
            at = self.easy + self.shift
        return [Face(at[list(loop[::-1])]) for loop in self.loops]

    @property
    def shift(self) -> Array:
        """Where the centre of the easy pose stands, clear of the vertical plane and on the ground."""
        return point3(0.0, float(self.easy[:, 1].max()) + DATUM, -float(self.easy[:, 2].min()))
