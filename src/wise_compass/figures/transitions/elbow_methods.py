"""How a hand sets out an elbow: the mitres from the middle of the bend, and the strip that its pieces are cut from."""

from __future__ import annotations

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Spot
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.solids.lining import ALLOWANCES
from wise_compass.figures.transitions.elbows import Elbow
from wise_compass.geometry.vectors import polar

APART, BEYOND = 18.0, 6.0
"""What is left between the elbow and the strip, and how far lines run beyond what they are drawn for."""


class _ElbowHand:
    """The elbow on the way."""

    o: Spot
    level: LineMark
    mitres: list[LineMark]

    def __init__(self, g: Elbow, d: Draft) -> None:
        self.g, self.d = g, d
        self.sides: dict[str, list[Spot]] = {}
        self.feet: list[Spot] = []
        self.cuts: list[Spot] = []

    def elevation(self) -> None:
        g, d = self.g, self.d
        far = g.radius + g.pipe
        self.o = d.start_at("O", says="Mark O, the middle of the bend.")
        self.level = d.level_from(self.o, "From O draw the first end’s line level.", length=far + BEYOND)
        centre = d.lay_off(self.level, self.o, g.radius, "C", "Lay off the radius of the bend: the centre line.")
        with d.as_one("Rule", "Lay off half the diameter to both sides: throat and heel."):
            ends = {
                letter: d.lay_off(self.level, centre, way * g.pipe, f"{letter}0")
                for letter, way in (("N", -1), ("H", 1))
            }
        words = f"From O draw the mitres, the first at {trim(g.mitre)}°, each further one {trim(2 * g.mitre)}° on."
        with d.as_one("Protractor", words, why=f"{trim(g.bend)}° / (2 × {g.pieces - 1})"):
            reach = far * 1.2
            self.mitres = [
                d.ray(self.o, g.mitre * (2 * i - 1), length=reach, instrument="Protractor") for i in range(1, g.pieces)
            ]
        last = d.ray(self.o, g.bend, "From O draw the other end’s line at the bend.", length=far + BEYOND)
        for letter, words in (("N", "throat"), ("H", "heel")):
            row = [ends[letter]]
            with d.as_one("Set square", f"Draw the {words} of the first piece upright, up to its mitre."):
                row.append(d.meet(d.upright_from(ends[letter]), self.mitres[0], f"{letter}1"))
            if len(self.mitres) > 1:
                with d.as_one("Compass", f"Centre O, carry that point to the other mitres: the {words}."):
                    arc: ArcMark = d.compass(self.o, d.opening(self.o, row[1]), whole=False)
                    for i, ray in enumerate(self.mitres[1:], 2):
                        near = polar(self.o.here, float(row[1].here[0] - self.o.here[0]), g.mitre * (2 * i - 1))
                        row.append(d.meet(arc, ray, f"{letter}{i}", near=near))
            taken = d.opening(self.o, ends[letter])
            row.append(
                d.lay_off(last, self.o, taken, f"{letter}{g.pieces}", f"On the other end lay off the {words} from O.")
            )
            self.sides[letter] = row

    def line_in(self) -> None:
        d, g = self.d, self.g
        with d.as_one("Straightedge", "Line in throat, heel, both ends and the mitres."):
            d.line_in([*self.sides["N"], *self.sides["H"][::-1]], closed=True)
            for i in range(1, g.pieces):
                d.line_in([self.sides["N"][i], self.sides["H"][i]])

    def divisions(self) -> None:
        """Half the pipe's circle turned into the paper at the first end, and its elements up to the first mitre."""
        g, d, half = self.g, self.d, self.g.divisions // 2
        centre = d.spots["C"]
        circle = d.compass(
            centre, g.pipe, "Centre C, draw the pipe’s circle turned into the paper.", "half the diameter"
        )
        rays = d.divide_turn(centre, g.divisions, first=180.0, length=g.pipe)
        with d.as_one(
            "Set square", "Carry the divisions of its front half up to the end, and on to the mitre: the elements."
        ):
            for k in range(half + 1):
                turn = 180.0 + 360.0 / g.divisions * k
                mark = d.meet(rays[k], circle, "", near=polar(centre.here, g.pipe, turn), kind="plain")
                rise = d.upright_from(mark, length=g.pipe)
                self.feet.append(d.meet(rise, self.level, f"E{k}", kind="plain"))
                self.cuts.append(d.meet(rise, self.mitres[0], f"M{k}", kind="plain"))

    def strip(self) -> None:
        g, d, n = self.g, self.d, self.g.divisions
        left = min(float(spot.here[0]) for spot in d.spots.values())
        start = d.start_at("Q0", left - APART - g.girth, 0.0, "Mark Q0, where the strip has room beside the elbow.")
        base = d.level_from(start, "Draw its foot level.", length=g.girth)
        wide = d.choice(
            "diameter", right=g.girth, slip=g.diameter, says="The diameter laid off instead of the circumference."
        )
        keys = [g.key(0, j) for j in range(n + 1)]
        end = d.lay_off(base, start, wide, keys[n], "Lay off the girth of the pipe.", f"π × {bare(g.diameter)}")
        spots = d.divide(
            start, end, n, keys, says=f"Cut it into {n} equal spaces, the seam on division {g.seam}.", how="trial"
        )
        with d.as_one("Set square", "Draw an upright at every mark."):
            lines = [d.upright_from(spot) for spot in spots]
        turned = d.choice(
            "not-turned", right=True, slip=False, says="Pieces laid one on another without turning every other one."
        )
        rows = [spots]
        for tube in range(g.pieces):
            rows.append(self._laid_off(tube, rows[-1], lines, bool(turned)))
        self._line_in_strip(rows)

    def _laid_off(self, tube: int, before: list[Spot], lines: list[LineMark], turned: bool) -> list[Spot]:
        """The further ends of a piece's elements: half elements once at the ends of the elbow, else twice."""
        g, d, n = self.g, self.d, self.g.divisions
        ends = tube in (0, g.pieces - 1)
        how = "every half element" if ends else "every half element twice"
        side = "as on the first" if tube % 2 == 0 else "the throat’s where the heel’s was"
        found = []
        with d.as_one("Dividers", f"Piece {tube + 1}: from there lay off {how} on its own upright, {side}."):
            for j, (spot, line) in enumerate(zip(before, lines)):
                division = g.division(tube if turned else 0, j)
                k = min(division, n - division)
                taken = d.opening(self.feet[k], self.cuts[k])
                far = spot if ends else d.lay_off(line, spot, taken, "", kind="plain")
                found.append(d.lay_off(line, far, taken, g.key(tube + 1, j), kind="plain" if 0 < j < n else "found"))
        return found

    def _line_in_strip(self, rows: list[list[Spot]]) -> None:
        d = self.d
        with d.as_one("Straightedge", "Line in the strip: its ends, and the seams of its pieces.", why=ALLOWANCES):
            for row in (rows[0], rows[-1]):
                d.line_in([row[0], row[-1]])
            for end in (0, -1):
                d.line_in([row[end] for row in rows])
        with d.as_one("Curve", "Line in the cuts between the pieces through their points."):
            for row in rows[1:-1]:
                d.curve(row)


@method(
    Elbow,
    "parallel-lines",
    about="Mitres from the middle of the bend; half the pipe’s elements to the first; all "
    "pieces from one strip, every other one turned.",
    source="Development of a cylindrical surface: parallel elements stand square on the stretch-out line",
)
def parallel_lines(g: Elbow, d: Draft) -> None:
    hand = _ElbowHand(g, d)
    with d.phase("The bend"):
        hand.elevation()
        hand.line_in()
    if g.wants_pattern:
        with d.phase("The elements"):
            hand.divisions()
        with d.phase("The strip"):
            hand.strip()
