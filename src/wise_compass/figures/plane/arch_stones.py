"""The stones of an arch as templets for the mason, each between two joints, from the curve to the back; and the rib of
the centering for the carpenter."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from wise_compass.drafting.capabilities import Edge, Part

RIB = "Rib of the centering, less its lagging"
AT_END = 1e-9
"""Of an arc: a joint that is nearer its end stands in it."""


def stone_parts(places: Sequence[tuple[int, float]], one_arc: bool, mirrored: bool) -> list[Part]:
    """The stones between joints, ``places`` being the number of each joint's arc and its share along that.

    Of an arch of ``one_arc`` all are alike; where its halves are ``mirrored`` each but the key serves twice, turned
    over for the other side.
    """
    count = len(places) - 1
    if one_arc:
        return [Part("Stone", _edges(0, places), count)]
    if not mirrored:
        return [Part(f"{j + 1}", _edges(j, places)) for j in range(count)]
    return [
        Part("Key", _edges(j, places)) if 2 * j + 1 == count else Part(f"{j + 1} and {count - j}", _edges(j, places), 2)
        for j in range((count + 1) // 2)
    ]


def _edges(j: int, places: Sequence[tuple[int, float]]) -> list[Edge]:
    """The outline of one: its curve, a joint, its back and the other joint; touches of arcs within it are corners of
    their own."""
    (first, share), (last, _) = places[j], places[j + 1]
    within = range(first + (2 if share > 1 - AT_END else 1), last + 1)
    curve = [f"J{j}", *(f"T{k}" for k in within), f"J{j + 1}"]
    back = [f"X{j + 1}", *(f"Y{k}" for k in reversed(within)), f"X{j}"]
    return [
        *(Edge(one, other, "cut") for one, other in pairwise(curve)),
        Edge(f"J{j + 1}", f"X{j + 1}", "joint"),
        *(Edge(one, other, "cut") for one, other in pairwise(back)),
        Edge(f"X{j}", f"J{j}", "joint"),
    ]


def rib(arcs: int) -> Part:
    """A rib of the centering, one behind either face: under the whole curve, down to the line of springings.

    What the stones lie on comes over it, so it is cut smaller by the thickness of that.
    """
    curve = ["A", *(f"T{k}" for k in range(1, arcs)), "B"]
    return Part(RIB, [*(Edge(one, other, "cut") for one, other in pairwise(curve)), Edge("B", "A", "side")], 2)
