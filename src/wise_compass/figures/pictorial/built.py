"""A solid built up of blocks, in a picture and in three views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property, lru_cache, partial
from itertools import combinations
from typing import Any, ClassVar

import numpy as np

from wise_compass.drafting.capabilities import Curved, Face, Picture, Pictured, Solid
from wise_compass.drafting.course import Course
from wise_compass.drafting.givens import Angle, Length
from wise_compass.drafting.places import Blocks
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare
from wise_compass.figures.pictorial.axes import Axes, OnAxes, in_space, parallel_picture
from wise_compass.figures.pictorial.bores import TOUCH, refuse_holes, taken_by
from wise_compass.figures.pictorial.ends import RIM_HOLD, RIM_PARTS
from wise_compass.figures.pictorial.stations import Station
from wise_compass.geometry.block_edges import EdgePiece, edges_of, pieces_for
from wise_compass.geometry.block_faces import STRIPS, faces_of
from wise_compass.geometry.block_lines import Eye, Rim, chords_of, lips_of, rim_at, rims_of
from wise_compass.geometry.block_saddles import BoreSaddle
from wise_compass.geometry.block_shapes import LINES, Block, Level
from wise_compass.geometry.blocks import Bore, Built, overlap, towards
from wise_compass.geometry.curves import sampled
from wise_compass.geometry.fair import enough_places
from wise_compass.geometry.vectors import Array, Number, multiples, point

CLEAR = 16.0
"""Between the eye in plan and a perspective."""
SHAPES = (
    "box",
    "wedge",
    "ramp",
    "cylinder",
    "cone",
    "hole",
    "cylinder-front",
    "cylinder-right",
    "hole-front",
    "hole-right",
)
MOST = 16
VIEWS = {
    "front": Axes((180.0, 0.0, 90.0), (1.0, 0.0, 1.0)),
    "top": Axes((180.0, 90.0, 0.0), (1.0, 1.0, 0.0)),
    "side": Axes((0.0, 0.0, 90.0), (0.0, 1.0, 1.0)),
}
"""The three views, by how their axes lie and whether they are seen at all."""
EYES = {"front": (0.0, -1.0, 0.0), "top": (0.0, 0.0, 1.0), "side": (-1.0, 0.0, 0.0), "plan": (0.0, 0.0, 1.0)}
HIDDEN = {view: next(k for k in range(3) if eye[k]) for view, eye in EYES.items()}
"""The axis along which each is looked."""
COLUMNS = {0: "front", 1: "right", 2: "height"}


class BuiltUp(Curved, Solid, Pictured, OnAxes, id="built-up", family="pictorial", title="Solid built of blocks"):
    keys = ("A*", "B*", "C*", "D*", "E*", "F*", "G*", "H*", "O.front", "O.side", "O.top")
    brief = opens = "A solid built up of {rows}"
    summary = (
        "Steps, brackets, a house of blocks: pictured on three axes and in three views, no line where faces run flush."
    )
    value_names: ClassVar[Sequence[str]] = ("volume", "overall_front", "overall_right", "overall_height")
    ways = ("crate", "stack", "dot-grid", "visual-rays")

    rows = Blocks(
        (("box", 0, 0, 0, 60, 40, 10), ("box", 0, 20, 10, 60, 20, 20), ("ramp", 10, 0, 10, 40, 20, 20)),
        "the blocks: shape, x, y, z of the nearest lowest corner, and sizes along front, right and height",
        SHAPES,
        MOST,
    )

    angle = Angle(35, "how its right side stands to the picture plane, in two-point perspective", least=5, most=85)
    distance = Length(200, "how far the eye is from the picture plane, at which the nearest corner stands", least=1)
    eye_height = Length(75, "how high the eye is over the ground")

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        if method != "visual-rays":
            return super().sentence(givens, method)
        eye = "the eye {distance} before its nearest corner and {eye_height} up"
        return (
            f"{cls.opens} in two-point perspective, its right side at {{angle}} to the "
            f"picture plane, {eye}. Found with {{method}}."
        )

    @cached_property
    def station(self) -> Station:
        return Station(self.angle, self.distance, self.eye_height, self.built.extent[0])

    @cached_property
    def built(self) -> Built:
        rows: Sequence[Any] = self.rows
        return Built(tuple(Block(row[0], (row[1], row[2], row[3]), (row[4], row[5], row[6])) for row in rows))

    def refuse(self) -> None:
        super().refuse()
        blocks = self.built.blocks
        if not self.built.solid:
            raise Refused("rows", "All rows of rows are holes, and there is nothing to take them from. Add a box.")
        for (j, one), (k, other) in combinations(enumerate(blocks, 1), 2):
            if one.is_hole == other.is_hole and not one.is_hole and overlap(one, other, TOUCH):
                raise Refused(
                    "rows",
                    f"Rows {j} and {k} of rows overlap. Blocks may touch; move or shorten one of the two in rows.",
                )
        refuse_holes(self.built)

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        yield Value("volume", self.volume, "mm³", self._volume_words())
        low, high = self.built.extent
        for k, name in enumerate(("overall_front", "overall_right", "overall_height")):
            yield Value(name, float(high[k] - low[k]), "mm", f"{bare(float(high[k]))} − {bare(float(low[k]))}")

    @cached_property
    def taken(self) -> list[tuple[Block, Bore]]:
        """Every hole with what it takes of blocks, by the share of its round."""
        return taken_by(self.built)

    @property
    def volume(self) -> float:
        bored = sum(_whole_round(hole) * each.volume_share for hole, each in self.taken)
        return float(sum(block.volume for block in self.built.solid) - bored)

    def _volume_words(self) -> str:
        shares = {"box": "", "wedge": " / 2", "ramp": " / 2", "cone": " × π / 12"}
        parts = [
            " × ".join(bare(size) for size in block.size) + shares.get(block.shape, " × π / 4")
            for block in self.built.solid
        ]
        less = [
            f"{bare(hole.size[hole.plane[0]])} × {bare(hole.size[hole.plane[1]])} × {bare(each.long)} × π / 4"
            + (f" × {bare(each.share)}" if each.share < 1.0 else "")
            for hole, each in self.taken
        ]
        return " + ".join(parts) + "".join(f" − {one}" for one in less)

    def measure(self, found: Found) -> dict[str, Number]:
        """Overall sizes, between the outermost corners of the views."""
        out: dict[str, Number] = {}
        for name, view, across in (("front", "front", 0), ("height", "front", 1), ("right", "side", 0)):
            places = [found[key][..., across] for key in found if key.endswith(f" {view}")]
            if places:
                at = np.stack(np.broadcast_arrays(*places), axis=-1)
                out[f"overall_{name}"] = at.max(axis=-1) - at.min(axis=-1)
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        for view, axes in self.pictures.items():
            start = f"O.{view}" if view != "picture" else "O"
            if start not in found:
                continue
            low = self.built.extent[0]
            off = [
                found[key] - found[start] - axes.at(place - low)
                for key, place in self.places(view).items()
                if key in found
            ]
            words = (
                "in the picture" if view == "picture" else "in the plan" if view == "plan" else f"in the {view} view"
            )
            yield Truth(f"Every corner and every place of a rim stands where its offsets put it {words}", np.array(off))
        if found.method == "visual-rays":
            want = {key: self.station.seen(place) for key, place in self.places("picture").items() if key in found}
            rays = np.array([found[key] - at for key, at in want.items()]) - point(0.0, self.horizon)
            yield Truth(
                "Every corner and every place of a rim is drawn where its ray to the eye meets the picture plane", rays
            )

    @property
    def pictures(self) -> dict[str, Axes]:
        return {"picture": self.axes, **VIEWS, "plan": self.station.plan}

    @cached_property
    def horizon(self) -> float:
        """The level of the horizon of a perspective on the sheet: its picture lies clear below the eye of the plan."""
        highest = float(self.station.seen(np.array(list(self.places("picture").values())))[:, 1].max())
        return -self.distance - CLEAR - max(highest, 0.0)

    def places(self, view: str) -> Mapping[str, Array]:
        """Where the corners and the places of rims are, by their keys in a view."""
        tail = "" if view == "picture" else f" {view}"
        return {f"{key}{tail}": place for key, place in self._places.items()} if tail else self._places

    def edge_on(self, block: Block, level: Rim, view: str) -> int | None:
        """Which place of a rim, of :attr:`round`, reaches furthest in a view that it is seen on edge in; None where it
        is seen as an ellipse."""
        if isinstance(level, BoreSaddle):
            return None
        one, other = block.plane
        hidden = HIDDEN[view]
        if hidden == other and not level.other:
            return 0
        return self.round // 4 if hidden == one and not level.one else None

    @cached_property
    def round(self) -> int:
        """Into how many every rim is divided: the fewest that hold all of them in the picture."""
        found = RIM_PARTS[0]
        for block, rims in zip(self.built.blocks, self.rims):
            for level in rims:
                more = RIM_PARTS[RIM_PARTS.index(found) :]
                found = enough_places(partial(self._rim_seen, block, level, False), more, RIM_HOLD)
        return found

    def courses(self, method: str) -> Sequence[Course]:
        """Every rim in the picture."""
        near = method == "visual-rays"
        found = []
        for number, (block, rims) in enumerate(zip(self.built.blocks, self.rims), 1):
            for n, level in enumerate(rims):
                found.append(
                    Course(
                        f"rim {n + 1} of row {number}",
                        sampled(partial(self._rim_seen, block, level, near)),
                        multiples(360.0 / self.round, self.round),
                        tuple(f"{number}R{n}x{k}" for k in range(self.round)),
                        turn="turn round the rim",
                        afloat=True,
                    )
                )
        return tuple(found)

    def _rim_seen(self, block: Block, level: Rim, near: bool, turn: Number) -> Array:
        """Places of a rim in the picture, or in the perspective."""
        at = rim_at(block, level, np.atleast_1d(turn))
        seen = self.station.seen(at) if near else self.axes.at(at - self.built.extent[0])
        return np.asarray(seen if np.ndim(turn) else seen[0])

    @cached_property
    def rims(self) -> list[list[Rim]]:
        """The rims of round ones, by their rows from 0; none of the others."""
        return [rims_of(self.built, block) for block in self.built.blocks]

    @cached_property
    def lips(self) -> list[list[float]]:
        """Where round holes, in degrees, they break out of blocks, by their rows from 0."""
        return [lips_of(self.built, block) for block in self.built.blocks]

    def rim_places(self, number: int, view: str) -> Iterator[tuple[str, Array]]:
        """Where the places of a round one’s rims are, by key; in the three views only the two furthest of a rim that is
        seen on edge."""
        block = self.built.blocks[number - 1]
        for n, level in enumerate(self.rims[number - 1]):
            k = self.edge_on(block, level, view) if view in VIEWS else None
            for key in (f"{number}R{n}x{at}" for at in (range(self.round) if k is None else (k, k + self.round // 2))):
                yield key, self._places[key]
        yield from self._breaks.get(number, {}).items()

    @cached_property
    def _breaks(self) -> dict[int, dict[str, Array]]:
        """Where holes break out of blocks, by their rows and keys."""
        found = {}
        for number, block in enumerate(self.built.blocks, 1):
            lips = self.lips[number - 1]
            if lips:
                ends = {
                    n: block.round_at(np.array(lips), float(n > 0))
                    for n in (0, self.rims[number - 1].index(Level(1.0)))
                }
                mine = {f"{number}R{n}y{k}": place for n, places in ends.items() for k, place in enumerate(places)}
                chords = enumerate(chord for _, chord in chords_of(self.built, block))
                found[number] = mine | {
                    f"{number}Rz{k}{end}": place for k, chord in chords for end, place in zip("ab", chord)
                }
        return found

    @cached_property
    def _places(self) -> dict[str, Array]:
        found: dict[str, Array] = {}
        for number, block in enumerate(self.built.blocks, 1):
            letters = sorted(set(LINES.get(block.shape, "").replace(" ", "")))
            found |= {f"{letter}{number}": place for letter, place in zip(letters, block.corners("".join(letters)))}
            for n, level in enumerate(self.rims[number - 1]):
                around = rim_at(block, level, np.linspace(0.0, 360.0, self.round, endpoint=False))
                found |= {f"{number}R{n}x{k}": place for k, place in enumerate(around)}
            found |= self._breaks.get(number, {})
            if block.shape == "cone":
                found[f"V{number}"] = block.round_at(np.array(0.0), 1.0)
        return found

    def pieces(self, view: str) -> Sequence[EdgePiece]:
        """The edges of a view, of the picture, or of the perspective, seen and hidden."""
        known, wanted = _known(self.built), self._sight(view)
        if wanted not in known:
            seen_near = view in ("plan", "perspective")
            views = ("perspective" if seen_near else "picture", view, *VIEWS)
            sights = [sight for sight in dict.fromkeys(map(self._sight, views)) if sight not in known]
            eyes = [Eye(np.array(at), stands) for at, stands in sights]
            known.update(zip(sights, pieces_for(self.built, eyes)))
        return known[wanted]

    def _sight(self, view: str) -> tuple[tuple[float, ...], bool]:
        """From where a view is seen, and whether the eye stands there, or is far off that way."""
        if view == "perspective":
            return self.station.eye, True
        return tuple(towards(self.axes.vectors).tolist()) if view == "picture" else EYES[view], False

    def pictured(self, found: Found) -> Picture | None:
        if found.method == "visual-rays":
            return self.station.picture(self.horizon)
        return parallel_picture(self.axes, found["O"] - self.axes.at(self.built.extent[0]))

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        """The faces of all blocks, and those of holes."""
        if off:
            return ()
        return [
            Face(in_space(face.corners)[::-1], face.round, pieces=tuple(in_space(piece)[::-1] for piece in face.pieces))
            for face in faces_of(self.built)
        ]

    def own_edges(self) -> Sequence[Array]:
        return [in_space(edge) for edge in edges_of(self.built, STRIPS)]

    def beside(self, method: str = "") -> Sequence[Array]:
        corners = [place for key, place in self.places("picture").items() if "R" not in key]
        return self.station.in_space(np.array(corners), self.pieces("perspective")) if method == "visual-rays" else ()


@lru_cache(maxsize=16)
def _known(built: Built) -> dict[tuple[tuple[float, ...], bool], Sequence[EdgePiece]]:
    """The edges that were asked for already, by sight: the same for every method, its hands and its slips, and for
    every projection."""
    return {}


def _whole_round(hole: Block) -> float:
    """The area of a hole's round."""
    return float(np.pi / 4 * hole.size[hole.plane[0]] * hole.size[hole.plane[1]])
