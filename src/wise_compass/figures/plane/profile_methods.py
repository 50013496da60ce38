"""Setting a profile out: what is fixed, each arc's centre by two loci, every touch before any arc."""

from __future__ import annotations

from typing import Any

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.wording import mm, trim
from wise_compass.figures.plane.profile_rows import opposite
from wise_compass.figures.plane.profiles import SHORT, TangentProfile
from wise_compass.geometry.touching import Round, Straight
from wise_compass.geometry.vectors import Array, angle_of, distance, polar

SAME = 1e-9
"""mm within which two radii are one."""
FIXED = ("circle", "point", "line")
HALF_CIRCLE = "From the middle swing half a circle on the line of centres."


class ProfileHand:
    """A profile on the way: the spots, circles and lines that stand so far, by the names of the rows."""

    def __init__(self, g: TangentProfile, d: Draft) -> None:
        self.g, self.d = g, d
        self.spots: dict[str, Spot] = {}
        self.rings: dict[str, ArcMark] = {}
        self.lines: dict[str, LineMark] = {}
        self.ends: dict[str, tuple[Spot, Spot]] = {}
        self.touched: dict[tuple[str, str], Spot] = {}

    def ring(self, name: str) -> ArcMark:
        """A circle drawn lightly, where it does not stand yet."""
        if name not in self.rings:
            thing = self.g.solved[name]
            assert isinstance(thing, Round)
            self.rings[name] = self.d.compass(
                self.spots[name], abs(thing.rho), f"Centre {name}, swing its arc lightly.", whole=False
            )
        return self.rings[name]

    def centre(self, name: str, x: float, y: float) -> Spot:
        """A place that a row gives; one that stands already, such as the centre of a boss for its hole, is taken."""
        for spot in self.spots.values():
            if float(np.abs(spot.here - [x, y]).max()) <= SAME:
                if name not in self.g.names:
                    return spot
                with self.d.as_one("Pencil", f"{spot.name} is {name} too."):
                    return self.d.also(name, spot, kind="given")
        return self.at(name, x, y)

    def at(self, name: str, x: float, y: float, says: str = "") -> Spot:
        """A place by its coordinates; the first of all is where the work starts."""
        if self.d.spots or self.ends:
            return self.d.plot(name, x, y, says)
        return self.d.start_at(name, x, y, says=says)

    # the rows

    def rows(self) -> None:
        """Every row in its order, those that are fixed under one heading."""
        g, d = self.g, self.d
        held = g.held()
        for row in g.given_values["rows"]:
            kind, name = row[0], row[1]
            heading = "What is fixed" if kind in FIXED else f"{kind.capitalize()} {name}"
            with d.phase(heading):
                getattr(self, f"_{kind}")(name, held[name])

    def _circle(self, name: str, held: dict[str, Any]) -> None:
        self.spots[name] = spot = self.centre(name, held["x"], held["y"])
        if name in self.g.names:
            self.rings[name] = self.d.compass(spot, held["r"], f"Centre {name}, draw its circle lightly.")
        else:
            words = f"Centre {spot.name}, line in the circle {name}."
            self.rings[name] = self.d.circle_in(spot, held["r"], words)

    def _point(self, name: str, held: dict[str, Any]) -> None:
        self.spots[name] = self.centre(name, held["x"], held["y"])

    def _line(self, name: str, held: dict[str, Any]) -> None:
        first, second = (f"{name}{end}" if f"{name}{end}" not in self.g.solved.things else "" for end in "ab")
        one = self.at(first, held["x1"], held["y1"], f"Mark where line {name} begins.")
        other = self.d.plot(second, held["x2"], held["y2"], f"Measure off a second point of line {name}.")
        self.ends[name] = one, other
        self.lines[name] = self.d.rule(one, other, f"Draw line {name} through both.")

    def _on(self, name: str, held: dict[str, Any]) -> None:
        d, of, place = self.d, held["of"], held["place"]
        if of in self.lines:
            says = f"From the beginning of {of} lay off {mm(place)}: {name}."
            self.spots[name] = d.lay_off(self.lines[of], self.ends[of][0], place, name, says)
            return
        ray = d.ray(self.spots[of], place, f"At {of} set off {trim(place)}° from level.")
        thing = self.g.solved[name]
        assert isinstance(thing, Round)
        self.spots[name] = d.meet(ray, self.ring(of), name, near=thing.centre)

    def _arc(self, name: str, held: dict[str, Any]) -> None:
        thing = self.g.solved[name]
        assert isinstance(thing, Round)
        both = (held["first"], held["second"])
        if self.d.choice(
            "fillet-in-the-corner",
            right=False,
            slip=True,
            when=all(of in self.lines for of in both),
            says="The arc is swung from the corner of its two lines.",
            at=name,
        ):
            with self.d.as_one("Pencil", f"Mark {name}, where the two lines cross."):
                self.spots[name] = self.d.meet(self.lines[both[0]], self.lines[both[1]], name)
            return
        loci = [self._locus(name, of, thing.rho, k) for k, of in enumerate(both)]
        self.spots[name] = self.d.meet(loci[0], loci[1], name, near=self._side(name, thing))

    def _cross(self, name: str, held: dict[str, Any]) -> None:
        thing = self.g.solved[name]
        assert isinstance(thing, Round)
        one, other = (self.lines[of] if of in self.lines else self.ring(of) for of in (held["first"], held["second"]))
        words = f"Mark {name}, where {held['first']} and {held['second']} cross."
        with self.d.as_one("Pencil", words):
            self.spots[name] = self.d.meet(one, other, name, near=self._side(name, thing))

    def _side(self, name: str, thing: Round) -> Array:
        """Which of two crossings: a hand that slips takes the other side."""
        offered = self.g.solved.offered.get(name, [])
        other = next((arc.centre for arc in offered if float(distance(arc.centre, thing.centre)) > SAME), thing.centre)
        return self.d.choice(
            "other-side",
            right=thing.centre,
            slip=other,
            when=len(offered) > 1,
            says="Of two arcs that touch the one on the other side is taken.",
            at=name,
        )

    def _locus(self, name: str, of: str, rho: float, k: int) -> LineMark | ArcMark:
        """Where the centre of an arc lies that touches one thing."""
        d, thing, radius = self.d, self.g.solved[of], mm(abs(rho))
        if isinstance(thing, Straight):
            return moves.parallel_at(
                d, self.lines[of], self.ends[of][0], rho, f"Parallel to {of} at {radius}: centre {name} lies on it."
            )
        reach, far = thing.off(rho), abs(abs(rho) - abs(thing.rho))
        outside = rho * thing.rho < 0
        word = "the sum" if outside else "the difference"
        if not thing.rho:
            word = "the radius"
        elif outside and k == 0:
            reach = d.choice(
                "sum-for-difference",
                right=reach,
                slip=far,
                when=far > 1.0,
                says="The difference of two radii is set where their sum belongs.",
                at=name,
            )
        return d.compass(
            self.spots[of], reach, f"Centre {of}, {word} of radii: centre {name} lies on it.", whole=False,
            role=Role.LOCUS,
        )  # fmt: skip

    def _touch(self, name: str, held: dict[str, Any]) -> None:
        thing = self.g.solved[name]
        assert isinstance(thing, Round)
        says = f"Measure off {name}, the centre of the arc of {mm(abs(thing.rho))} that touches all three."
        self.spots[name] = self.at(name, float(thing.centre[0]), float(thing.centre[1]), says)

    # the mirrored half

    def _mirror(self, name: str, held: dict[str, Any]) -> None:
        """What the path runs of the other half: each centre carried square over the axis, each line by its ends."""
        solved, axis = self.g.solved, self.lines[held["axis"]]
        for one, image in solved.images.items():
            if image == one or image not in self.g.names:
                continue
            if one in self.ends:
                start, end = (
                    self._over(axis, spot, "", solved.mirrors[name], f"an end of {one}")
                    for spot in reversed(self.ends[one])
                )
                self.ends[image] = start, end
                self.lines[image] = self.d.rule(start, end, f"Draw {image} through both.")
                for (of, line), spot in list(self.touched.items()):
                    if line == one:
                        over = start if spot is self.ends[one][1] else end
                        beside = solved.images.get(of, of)
                        self.touched[beside, image] = self.touched[image, beside] = over
            else:
                self.spots[image] = self._over(axis, self.spots[one], image, solved.mirrors[name])
        self._holes(axis, solved.mirrors[name])

    def _holes(self, axis: LineMark, line: Straight) -> None:
        """Circles that the path leaves out stand on both sides."""
        solved, held = self.g.solved, self.g.held()
        for one, image in solved.images.items():
            thing, beside = solved[one], solved[image]
            if image == one or "r" not in held.get(one, {}) or one not in self.rings or one in self.g.names:
                continue
            assert isinstance(thing, Round) and isinstance(beside, Round)
            stood = [spot for spot in self.spots.values() if float(np.abs(spot.here - beside.centre).max()) <= SAME]
            spot = stood[0] if stood else self._over(axis, self.spots[one], image, line)
            words = f"Centre {spot.name}, line in the circle {image}."
            self.rings[image] = self.d.circle_in(spot, abs(thing.rho), words)

    def _over(self, axis: LineMark, spot: Spot, name: str, line: Straight, said: str = "") -> Spot:
        """The place opposite: square to the axis, and as far beyond it."""
        d, said = self.d, said or spot.name
        square = d.square_to(axis, spot, f"Square to the axis through {said}.")
        foot = d.meet(square, axis)
        far = float(distance(spot.here, foot.here))
        words = f"Carry {said} over to the other side{f': {name}' if name else ''}."
        return d.meet(d.compass(foot, far, words, whole=False), square, name, near=opposite(spot.here, line))

    # tangents

    def _tangent(self, name: str, held: dict[str, Any]) -> None:
        line, d = self.g.solved[name], self.d
        assert isinstance(line, Straight)
        both = [(held[which], at) for which, at in (("first", line.start), ("second", line.end))]
        rho = [self._rho(of) for of, _ in both]
        if not any(rho):
            one, other = (self.spots[of] for of, _ in both)
        else:
            one, other = self._ends_of_tangent(both, rho)
        for (of, _), spot in zip(both, (one, other)):
            self.touched[of, name] = self.touched[name, of] = spot
        self.ends[name] = one, other
        self.lines[name] = d.rule(one, other, f"Draw {name} through both touches.")

    def _rho(self, name: str) -> float:
        thing = self.g.solved[name]
        assert isinstance(thing, Round)
        return thing.rho

    def _ends_of_tangent(self, both: list[tuple[str, Array]], rho: list[float]) -> tuple[Spot, Spot]:
        """Both touches: by a square where the radii are one, else by the reduced circle about the larger."""
        d, names = self.d, [name for name, _ in both]
        joined = d.rule(self.spots[names[0]], self.spots[names[1]], f"Join {names[0]} to {names[1]}.")
        if abs(rho[0] - rho[1]) < SAME:
            one, other = (self._square(joined, name, at) for name, at in both)
            return one, other
        big = 0 if abs(rho[0]) >= abs(rho[1]) else 1
        small = 1 - big
        place = dict(both)
        centre, far = self.spots[names[big]], self.spots[names[small]]
        middle = d.meet(joined, moves.perpendicular_bisector(d, centre, far))
        half = d.compass(middle, float(distance(middle.here, centre.here)), HALF_CIRCLE, whole=False)
        step = abs(rho[0] - rho[1])
        base = place[names[big]] - centre.here
        if not rho[small]:
            touch = d.meet(half, self.ring(names[big]), near=place[names[big]], kind="tangent")
            return (touch, far) if big == 0 else (far, touch)
        word = "difference" if rho[0] * rho[1] > 0 else "sum"
        reduced = d.compass(centre, step, f"Centre {names[big]}, the {word} of the radii: cut it.", whole=False)
        cut = d.meet(half, reduced, near=centre.here + base * step / abs(rho[big]))
        ray = d.rule(centre, cut, f"From {names[big]} through the crossing: its touch.")
        touch = d.meet(ray, self.ring(names[big]), near=place[names[big]], kind="tangent")
        beside = d.parallel_to(ray, far, f"Parallel to it through {names[small]}: the other touch.")
        last = d.meet(beside, self.ring(names[small]), near=place[names[small]], kind="tangent")
        return (touch, last) if big == 0 else (last, touch)

    def _square(self, joined: LineMark, name: str, at: Array) -> Spot:
        square = self.d.square_to(joined, self.spots[name], f"Draw square to it at {name}.")
        return self.d.meet(square, self.ring(name), near=at, kind="tangent")

    # touches and the line

    def touches(self) -> list[Spot]:
        """Every touch of the path, lettered in its order, and the ends of an open one."""
        g, d, out = self.g, self.d, []
        with d.phase("Where each meets the next"):
            for k, (one, other) in enumerate(g.pairs, 1):
                out.append(self._touch_of(f"{g.mark}{k}", one, other, g.touches[k - 1]))
            if not g.closed:
                first, last = self._end(g.names[0], 0), self._end(g.names[-1], -1)
                with d.as_one("Pencil", f"The path runs from {g.mark}0 to {g.mark}{len(out) + 1}."):
                    out = [d.also(f"{g.mark}0", first), *out, d.also(f"{g.mark}{len(out) + 1}", last)]
        return out

    def _end(self, name: str, which: int) -> Spot:
        return self.ends[name][which] if name in self.ends else self.spots[name]

    def _touch_of(self, mark: str, one: str, other: str, at: Array) -> Spot:
        if swung := self._past(one, other):
            words = "The arc is swung on by a tenth past its touch."
            turn = self.d.choice("past-the-touch", right=0.0, slip=swung, says=words, at=mark)
            if turn:
                return self._swung_past(mark, one, at, turn)
        return self._touch_at(mark, one, other, at)

    def _past(self, one: str, other: str) -> float:
        """Degrees about its centre, + left about, that an arc goes a tenth of its way past its touch; 0 of no arc."""
        piece = self.g.pieces[self.g.pairs.index((one, other))]
        if not isinstance(piece.thing, Round) or not piece.sweep or self._is_point(other):
            return 0.0
        return float(np.sign(piece.thing.rho)) * piece.sweep / 10

    def _is_point(self, name: str) -> bool:
        thing = self.g.solved[name]
        return isinstance(thing, Round) and not thing.rho

    def _swung_past(self, mark: str, one: str, at: Array, turn: float) -> Spot:
        centre = self.spots[one]
        facing = float(angle_of(at - centre.here)) + turn
        ray = self.d.ray(centre, facing, f"Past the touch, {trim(facing)}° about {one}.")
        return self.d.meet(ray, self.ring(one), mark, near=polar(centre.here, float(distance(at, centre.here)), facing))

    def _touch_at(self, mark: str, one: str, other: str, at: Array) -> Spot:
        d = self.d
        points = [name for name in (one, other) if name in self.spots and not self._rho(name)]
        known = self.touched.get((one, other)) or (self.spots[points[0]] if points else None)
        if known is not None:
            with d.as_one("Pencil", f"{one} meets {other}: {mark}."):
                return d.also(mark, known, kind="tangent")
        for line, round_one in ((one, other), (other, one)):
            if line in self.lines:
                return moves.touch_foot(d, self.spots[round_one], self.lines[line], mark)
        on, by = (one, other) if one in self.rings or other not in self.rings else (other, one)
        drawn = self.ring(on)
        says = f"Draw the line of the centres {one} and {other}: {mark} is where they touch."
        joined = d.rule(self.spots[on], self.spots[by], says)
        return d.meet(joined, drawn, mark, near=at, kind="tangent")

    def line_in(self, touches: list[Spot]) -> None:
        """The path from touch to touch."""
        g, d = self.g, self.d
        stops = [touches[-1], *touches] if g.closed else touches
        with d.phase("Line in"):
            for piece, start, end in zip(g.pieces, stops, stops[1:]):
                if piece.length <= SHORT:
                    continue
                if isinstance(piece.thing, Straight):
                    d.line_in([start, end], says=f"Line in {piece.name} from {start.name} to {end.name}.")
                    continue
                d.arc_in(
                    self.spots[piece.name],
                    abs(piece.thing.rho),
                    start,
                    end,
                    f"Centre {piece.name}, line in its arc from {start.name} exactly to {end.name}.",
                    clockwise=piece.thing.rho < 0,
                )


@method(
    TangentProfile,
    "offsets",
    about="Each centre by two loci, a circle of sum or difference about a circle, a parallel to a line; touches first.",
    source="Touching circles have their centres the sum or the difference of the radii apart (Euclid, III.11, III.12)",
)
def profile_offsets(g: TangentProfile, d: Draft) -> None:
    hand = ProfileHand(g, d)
    hand.rows()
    hand.line_in(hand.touches())
