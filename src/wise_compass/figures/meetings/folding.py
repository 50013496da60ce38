"""Both patterns folded up: strips from edge to edge or from division to division, without what the line takes out of
them; each solid stands where it is, so that the branch's rim comes to lie on that of the hole."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.truths import Found
from wise_compass.figures.meetings.chains import Chain, Link, branch_chains, main_chains
from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.geometry.rolled import squeezed_cone, squeezed_pipe
from wise_compass.geometry.unfold import FlatPiece, Pattern, Placing, fold_angle, resting
from wise_compass.geometry.vectors import Array, cross, distance, multiples

NEAR = 1e-9
CLOSE = 1e-7


class Sheet(NamedTuple):
    """A skin laid flat: its strips between ``feet``, from there up to ``heads`` (or one apex), (n + 1, 2)
    each; the line on it; the fold from strip to strip; and what its places are called on the solid."""

    feet: Array
    heads: Array
    chains: Sequence[Chain]
    places: dict[str, Array]
    fold: float
    called: Callable[[Link], str]
    letters: tuple[str, str]

    @property
    def sides(self) -> int:
        return len(self.feet) - 1

    def foot(self, share: float) -> Array:
        """The place of the lower rim at a share of the girth."""
        return _between(self.feet, share * self.sides)

    def head(self, share: float) -> Array:
        """And of the upper one."""
        return _between(self.heads, share * self.sides)

    def corner(self, row: int, share: float) -> str:
        """The name of a corner of a strip, below (0) or above (1); empty between two edges."""
        if row and float(distance(self.heads[0], self.heads[-1])) < CLOSE:
            return "apex"
        k = round(share * self.sides)
        return f"{self.letters[row]}{k % self.sides}" if abs(share * self.sides - k) < CLOSE else ""


def _between(row: Array, place: float) -> Array:
    k = min(int(place + CLOSE), len(row) - 2)
    return np.asarray(row[k] + (place - k) * (row[k + 1] - row[k]))


def strip_pieces(sheet: Sheet, before: int) -> list[FlatPiece]:
    """The strips, parted at every place of the line, without its hole; ``before`` is how many pieces go before."""
    shares = {k / sheet.sides for k in range(sheet.sides + 1)}
    shares |= {link.share for chain in sheet.chains for link in chain.links}
    order = sorted(shares)
    order = [s for k, s in enumerate(order) if k == 0 or s - order[k - 1] > NEAR]
    pieces: list[FlatPiece] = []
    left: list[int] = []
    for a, b in pairwise(order):
        lines = [((sheet.corner(0, a), sheet.foot(a)), (sheet.corner(0, b), sheet.foot(b))), *_rims(sheet, a, b)]
        lines.append(((sheet.corner(1, a), sheet.head(a)), (sheet.corner(1, b), sheet.head(b))))
        hinge = np.array([sheet.foot(a), sheet.head(a)])
        fold = sheet.fold if left and abs(a * sheet.sides - round(a * sheet.sides)) < CLOSE else 0.0
        mine: list[int] = []
        for low, high in zip(lines[::2], lines[1::2]):
            corners = [low[0], low[1], high[1], high[0]]
            corners = [one for k, one in enumerate(corners) if float(distance(one[1], corners[k - 1][1])) > CLOSE]
            if len(corners) < 3:
                continue
            names = tuple(name or _own_name(before, at) for name, at in corners)
            flat = np.array([at for _, at in corners])
            beside = next((k for k in left if len(set(names) & set(pieces[k - before].names)) > 1), None)
            if beside is None and mine:
                parent, turned = mine[0], 0.0
            else:
                parent, turned = (left[0] if left else -1) if beside is None else beside, fold
            mine.append(before + len(pieces))
            pieces.append(FlatPiece(names, flat, parent, turned, hinge, hinge))
        left = mine or left
    return pieces


def _own_name(part: int, at: Array) -> str:
    """Of a place that has no name: by where it lies on its sheet."""
    return f"{part}: {at[0]:.6f}, {at[1]:.6f}"


def _rims(sheet: Sheet, a: float, b: float) -> list[tuple[tuple[str, Array], tuple[str, Array]]]:
    """The pieces of the line between two shares of the girth, the lowest first; each by its ends, with their names."""
    found = []
    for chain in sheet.chains:
        links = [*chain.links, chain.links[0]] if chain.closed else chain.links
        for one, other in pairwise(links):
            low, high = sorted((one, other), key=lambda link: link.share)
            if low.share <= a + NEAR and high.share >= b - NEAR and high.share - low.share > NEAR:
                found.append((_at(sheet, low, high, a), _at(sheet, low, high, b)))

    def height(rim: tuple[tuple[str, Array], tuple[str, Array]]) -> float:
        middle = (rim[0][1] + rim[1][1]) / 2
        return float(distance(middle, (sheet.foot(a) + sheet.foot(b)) / 2))

    return sorted(found, key=height)


def _at(sheet: Sheet, low: Link, high: Link, share: float) -> tuple[str, Array]:
    """Where a piece of the line crosses a line of the sheet, and what that place is called, if it has a name."""
    for link in (low, high):
        if abs(link.share - share) <= NEAR:
            return sheet.called(link), sheet.places[link.key]
    p, q = sheet.places[low.key], sheet.places[high.key]
    foot, way = sheet.foot(share), sheet.head(share) - sheet.foot(share)
    along = float(cross(foot - p, way) / cross(q - p, way))
    return "", np.asarray(p + along * (q - p))


def folded_pair(g: SolidsThatMeet, found: Found) -> Pattern:
    """Both sheets as they were drawn, each folded up where it stands."""
    sheets = [_branch_sheet(g, found)]
    solid = [_branch_stand(g)]
    if not g.main_solid.ball:
        sheets.append(_main_sheet(g, found))
        solid.append(_main_stand(g))
    pieces: list[FlatPiece] = []
    roots: dict[int, Placing] = {}
    for sheet, stand in zip(sheets, solid):
        roots[len(pieces)] = resting(np.array([sheet.feet[0], sheet.feet[1], sheet.heads[0]]), stand)
        pieces += strip_pieces(sheet, len(pieces))
    lies = {name: one.at for name, one in g.named.items()}
    return Pattern(pieces, roots[0], lies, roots=roots)


def _branch_sheet(g: SolidsThatMeet, found: Found) -> Sheet:
    n = len(g.counted)
    chains = branch_chains(g)
    keys = [f"Q{k}" for k in range(n + 1)]
    squeeze = _as_drawn if g.branch_corners is not None else squeezed_pipe(found["Q0"], found[f"Q{n}"], n)
    feet = squeeze(found.together(keys))
    if g.right_only:
        tops = {link.share: found[link.key] for chain in chains for link in chain.links}
        far = max(float(distance(at, found["Q0"] + s * (found[f"Q{n}"] - found["Q0"]))) for s, at in tops.items())
        up = _upward(feet) * far
        heads = feet + up
        # what would lie beyond the line is not there: it ends the strips
        chains = [chain for chain in chains if chain.across]
        return Sheet(feet, heads, chains, _places(found, chains, squeeze), _branch_fold(g), _of_branch(g), ("Q", ""))
    heads = squeeze(found.together([f"P{k}" for k in range(n + 1)]))
    return Sheet(feet, heads, chains, _places(found, chains, squeeze), _branch_fold(g), _of_branch(g), ("Q", "P"))


def _as_drawn(at: Array) -> Array:
    return at


def _upward(feet: Array) -> Array:
    u = feet[-1] - feet[0]
    u = u / float(np.hypot(*u))
    return np.array([-u[1], u[0]])


def _places(found: Found, chains: Sequence[Chain], squeeze: Callable[[Array], Array]) -> dict[str, Array]:
    return {link.key: squeeze(found[link.key]) for chain in chains for link in chain.links}


def _branch_fold(g: SolidsThatMeet) -> float:
    return 360.0 / len(g.counted)


def _of_branch(g: SolidsThatMeet) -> Callable[[Link], str]:
    """On a round branch only its divisions lie on the skin that is rolled by its chords."""
    if g.branch_corners is not None:
        return lambda link: link.named.name
    return lambda link: link.named.name if link.named.meets.element is not None else f"rim {link.named.name}"


def _branch_stand(g: SolidsThatMeet) -> Array:
    start = g.branch.element(g.counted[:2])
    ends = start + g.reach * g.branch.axis
    return np.array([ends[0], ends[1], ends[0] - g.branch.axis])


def _main_sheet(g: SolidsThatMeet, found: Found) -> Sheet:
    n = g.main_parts
    chains = main_chains(g)
    feet = found.together([f"D{k}" for k in range(n + 1)])
    squeeze: Callable[[Array], Array] = _as_drawn
    if g.main_solid.corners is None:
        lean = float(np.rad2deg(np.arctan2(g.main_reach, g.tall)))
        pointed = bool(g.main_solid.apex)
        squeeze = squeezed_cone(found["W"], feet[0], lean, n) if pointed else squeezed_pipe(feet[0], feet[-1], n)
    feet = np.array([squeeze(at) for at in feet])
    if g.main_solid.apex:
        heads = np.broadcast_to(found["W"], feet.shape)
    else:
        heads = np.array([squeeze(found[f"T{k}"]) for k in range(n + 1)])
    if g.main_solid.corners is not None:
        called: Callable[[Link], str] = lambda link: link.named.name  # noqa: E731
    else:
        called = lambda link: f"hole {link.named.name}"  # noqa: E731
    return Sheet(feet, heads, chains, _places(found, chains, squeeze), _main_fold(g), called, ("D", "T"))


def _main_ring(g: SolidsThatMeet) -> Array:
    """The feet of the main's strips on the solid, from the seam round to it."""
    main, n = g.main_solid, g.main_parts
    seam = int(g.given_values["seam"])
    if main.corners is not None:
        return np.asarray(np.roll(g.feet, 1 - seam, axis=0))
    return main.base(multiples(360.0 / n, n) + 360.0 * seam / n)


def _main_fold(g: SolidsThatMeet) -> float:
    ring = _main_ring(g)
    top = np.array([0.0, 0.0, g.tall])
    heads = [top] * 3 if g.main_solid.apex else [at + top for at in ring[:3]]
    faces = [np.array([ring[k], ring[k + 1], heads[k + 1]]) for k in (0, 1)]
    return fold_angle(faces[0], faces[1])


def _main_stand(g: SolidsThatMeet) -> Array:
    ring = _main_ring(g)
    top = np.array([0.0, 0.0, g.tall])
    return np.array([ring[0], ring[1], top if g.main_solid.apex else ring[0] + top])
