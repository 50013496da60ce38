"""Lines, triangles, polygons and tangency held to their definitions, by plain arithmetic of the points that come
out."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np

from wise_compass.drafting.figure import make
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.run import Run, run, run_slips
from wise_compass.figures.catalogue import catalogue
from wise_compass.study.compare import advice, compare, recommended

Point = tuple[float, float]


def solved(id: str, method: str | None = None, **givens: Any) -> Run:
    return run(make(catalogue()[id], givens), method)


def at(made: Run, name: str) -> Point:
    x, y = made.found[name]
    return float(x), float(y)


def gap(p: Point, q: Point) -> float:
    return math.dist(p, q)


def turn(p: Point, v: Point, q: Point) -> float:
    """The angle p-v-q in degrees."""
    a, b = math.atan2(p[1] - v[1], p[0] - v[0]), math.atan2(q[1] - v[1], q[0] - v[0])
    return abs((math.degrees(b - a) + 180) % 360 - 180)


def off_line(p: Point, a: Point, b: Point) -> float:
    """Distance of a point from the line through two others."""
    return abs((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / gap(a, b)


def value(made: Run, name: str) -> Any:
    return next(v.value for v in made.values if v.name == name)


class Lines(unittest.TestCase):
    def test_a_divided_line_has_one_mark_more_than_spaces(self) -> None:
        for method in ("parallels", "dividers"):
            made = solved("divide-line", method, length=97, parts=7)
            marks = [at(made, "A"), *(at(made, f"D{k}") for k in range(1, 7)), at(made, "B")]
            self.assertEqual((len(marks), value(made, "marks"), value(made, "spaces")), (8, 8, 7))
            for k, mark in enumerate(marks):
                self.assertAlmostEqual(mark[0], 97 * k / 7, places=10)
            self.assertIn("(7)", made.spots, "the spaces bear numbers of their own")
            self.assertAlmostEqual(value(made, "total_3"), 3 * 97 / 7)

    def test_miscounting_shows_in_the_space(self) -> None:
        slips = {
            choice.id: one for choice, one in run_slips(make(catalogue()["divide-line"], {"length": 96, "parts": 8}))
        }
        for id, spaces in (("mark-too-few", 7), ("mark-too-many", 9)):
            one = slips[id]
            assert isinstance(one, Run)
            self.assertAlmostEqual(float(one.measured["part"]), 96 / spaces)

    def test_perpendiculars(self) -> None:
        for method, givens in (
            ("four-arcs", {"at": 0}),
            ("four-arcs", {"at": 110}),
            ("equal-arcs", {"at": 40}),
            ("equal-arcs", {"at": 70, "off": 45}),
            ("three-four-five", {"at": 110}),
        ):
            made = solved("perpendicular", method, length=110, **givens)
            foot, top = at(made, "F"), at(made, "Q")
            self.assertAlmostEqual(foot[0], givens["at"], places=9)
            self.assertAlmostEqual(turn(at(made, "B") if foot[0] < 1 else at(made, "A"), foot, top), 90, places=8)

    def test_angles_by_three_ways_agree(self) -> None:
        for method in ("protractor", "tangent", "compass"):
            for angle in (15, 37.5, 60, 75, 105, 135, 165):
                if method == "compass" and angle % 15:
                    continue
                made = solved("set-angle", method, angle=angle)
                v = at(made, "V")
                self.assertAlmostEqual(turn((v[0] + 1, v[1]), v, at(made, "Q")), angle, places=8, msg=method)

    def test_the_tangent_is_finer_than_the_protractor_as_it_says(self) -> None:
        figure = make(catalogue()["set-angle"], {"angle": 20})
        scatter = {}
        for method in ("protractor", "tangent"):
            q = {one.name: one for one in run_hands(figure, method, 4000, seed=2).points}["Q"]
            self.assertGreater(q.sd, 0)
            angle = {one.name: one for one in run_hands(figure, method, 20000, seed=2).values}["drawn_angle"]
            scatter[method] = angle.sd
        said = value(run(figure), "times_finer")
        self.assertAlmostEqual(scatter["protractor"] / scatter["tangent"] / said, 1.0, delta=0.03)
        self.assertGreater(said, 1.5)

    def test_roots_and_means(self) -> None:
        self.assertAlmostEqual(value(solved("root-length", number=11, unit=10), "root"), 33.166247903554, places=10)
        spiral = solved("root-length", "root-spiral", number=17, unit=8)
        self.assertAlmostEqual(gap(at(spiral, "R"), at(spiral, "S")), 8 * math.sqrt(17), places=9)
        mean = solved("mean-proportional", first=31, second=68)
        self.assertAlmostEqual(gap(at(mean, "C"), at(mean, "S")) ** 2, 31 * 68, places=7)
        golden = solved("golden-section", length=90)
        longer, shorter = gap(at(golden, "A"), at(golden, "S")), gap(at(golden, "S"), at(golden, "B"))
        self.assertAlmostEqual(90 / longer, longer / shorter, places=10)


class Triangles(unittest.TestCase):
    CASES: tuple[tuple[str, dict[str, Any]], ...] = (
        ("triangle-three-sides", {"ab": 71, "bc": 58, "ca": 44}),
        ("triangle-two-sides-angle", {"ab": 77, "arm": 53, "angle": 38, "corner": "right"}),
        ("triangle-side-two-angles", {"ab": 69, "angle_A": 48, "angle_B": 71}),
        ("triangle-side-side-angle", {"ab": 80, "bc": 56, "angle_A": 34}),
        ("triangle-circumradius-angles", {"circumradius": 47, "angle_A": 44, "angle_B": 79}),
        ("triangle-inradius-angles", {"inradius": 21, "angle_A": 57, "angle_B": 49}),
        ("triangle-hypotenuse-leg", {"hypotenuse": 91, "leg": 37}),
        ("triangle-perimeter-angles", {"perimeter": 190, "angle_A": 52, "angle_B": 63}),
    )

    def test_values_are_those_of_the_corners_drawn(self) -> None:
        for id, givens in self.CASES:
            for method in catalogue()[id].methods:
                with self.subTest(figure=id, method=method):
                    made = solved(id, method, **givens)
                    a, b, c = (at(made, name) for name in "ABC")
                    ab, bc, ca = gap(a, b), gap(b, c), gap(c, a)
                    half = (ab + bc + ca) / 2
                    area = abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / 2
                    expected = {
                        "ab": ab,
                        "bc": bc,
                        "ca": ca,
                        "angle_A": turn(b, a, c),
                        "angle_B": turn(a, b, c),
                        "angle_C": turn(a, c, b),
                        "area": area,
                        "perimeter": 2 * half,
                        "circumradius": ab / (2 * math.sin(math.radians(turn(a, c, b)))),
                        "inradius": area / half,
                    }
                    for name, number in expected.items():
                        self.assertAlmostEqual(value(made, name), number, places=7, msg=name)
                    self.assertAlmostEqual(a[1], b[1], places=9)
                    self.assertGreater(c[1], a[1])

    def test_two_answers_are_both_drawn_and_the_first_is_the_longer(self) -> None:
        made = solved("triangle-side-side-angle", ab=80, bc=56, angle_A=34)
        self.assertEqual(value(made, "solutions"), 2)
        first, second = gap(at(made, "A"), at(made, "C")), gap(at(made, "A"), at(made, "C2"))
        self.assertGreater(first, second)
        for name in ("C", "C2"):
            self.assertAlmostEqual(gap(at(made, "B"), at(made, name)), 56, places=9)
            self.assertAlmostEqual(turn(at(made, "B"), at(made, "A"), at(made, name)), 34, places=8)
        outlines = [mark for mark in made.marks if mark.role.value == "outline"]
        self.assertEqual(len(outlines), 2)
        self.assertEqual(value(solved("triangle-side-side-angle", ab=80, bc=95, angle_A=34), "solutions"), 1)

    def test_the_slip_at_the_centre_halves_the_corner_angles(self) -> None:
        figure = make(catalogue()["triangle-circumradius-angles"], {"circumradius": 47, "angle_A": 44, "angle_B": 79})
        ((choice, made),) = run_slips(figure)
        assert isinstance(made, Run)
        self.assertEqual(choice.id, "corner-at-centre")
        self.assertAlmostEqual(float(made.measured["ab"]), 2 * 47 * math.sin(math.radians(57 / 2)), places=9)


class Polygons(unittest.TestCase):
    def test_every_way_gives_the_same_polygon(self) -> None:
        for n in range(3, 25):
            for method, kind in catalogue()["polygon-in-circle"].methods.items():
                figure = make(catalogue()["polygon-in-circle"], {"sides": n, "diameter": 100})
                if kind.fits(figure) is not None:
                    continue
                made = run(figure, method)
                corners = [at(made, name) for name in "ABCDEFGHJKLMNPQRSTUVWXYZ"[:n]]
                chords = [gap(p, q) for p, q in zip(corners, corners[1:] + corners[:1])]
                exact = 100 * math.sin(math.pi / n)
                if kind.exact(figure):
                    self.assertLess(max(abs(c - exact) for c in chords), 1e-9, (n, method))
                else:
                    self.assertGreater(abs(chords[-1] - exact), 1e-3, (n, method))

    def test_the_drawn_polygon_gaps_by_what_it_says(self) -> None:
        for id, method, givens in (
            ("polygon-on-side", "centre-ladder", {"sides": 9, "side": 27}),
            ("polygon-in-circle", "diameter-division", {"sides": 7, "diameter": 104}),
        ):
            made = solved(id, method, **givens)
            self.assertAlmostEqual(gap(at(made, "End"), at(made, "A")), value(made, "closing_gap"), places=8)
            drawn = [v.name for v in made.values if v.drawn]
            self.assertIn("closing_gap", drawn, "told apart from the exact figure")
            outline = next(mark for mark in made.marks if mark.role.value == "outline")
            self.assertFalse(outline.closed, "the last side does not close, and is not made to")

    def test_squares_and_quadrilaterals(self) -> None:
        for id in (
            "square-on-side",
            "square-in-circle",
            "square-on-diagonal",
            "rectangle",
            "rhombus",
            "parallelogram",
            "trapezium",
        ):
            for method in catalogue()[id].methods:
                made = solved(id, method)
                a, b, c, d = (at(made, name) for name in "ABCD")
                doubled = sum(p[0] * q[1] - p[1] * q[0] for p, q in zip((a, b, c, d), (b, c, d, a)))
                self.assertAlmostEqual(value(made, "area"), doubled / 2, places=7, msg=id)
                if "square" in id:
                    self.assertAlmostEqual(turn(a, b, c), 90, places=8)
                    self.assertAlmostEqual(gap(a, b), gap(b, c), places=9)
                if id == "trapezium":
                    self.assertAlmostEqual(c[1], d[1], places=9)

    def test_a_polygon_about_a_circle_touches_it_and_stays_out(self) -> None:
        made = solved("polygon-about-circle", sides=8, across_flats=73)
        corners = [at(made, name) for name in "ABCDEFGH"]
        for p, q in zip(corners, corners[1:] + corners[:1]):
            self.assertAlmostEqual(off_line((0, 0), p, q), 36.5, places=9)

    def test_stars_in_one_line_and_in_several(self) -> None:
        for points, skip, loops in ((8, 3, 1), (9, 3, 3), (6, 2, 2)):
            made = solved("star-polygon", points=points, skip=skip, diameter=100)
            outlines = [mark for mark in made.marks if mark.role.value == "outline"]
            self.assertEqual(len(outlines), loops)
            self.assertEqual(sum(len(mark.points) for mark in outlines), points)
            tip = turn(at(made, "ABCDEFGHJK"[skip]), at(made, "A"), at(made, "ABCDEFGHJKLM"[points - skip]))
            self.assertAlmostEqual(value(made, "tip_angle"), tip, places=8)


class Tangency(unittest.TestCase):
    def arcs_end_where_they_touch(self, made: Run) -> int:
        """Every outline arc that is no full circle starts and ends on a spot; returns how many there are."""
        ends = [tuple(float(x) for x in spot.here) for spot in made.spots.values()]
        count = 0
        for mark in made.marks:
            if mark.role.value == "outline" and getattr(mark, "span", None):
                start, sweep = mark.span
                cx, cy = (float(x) for x in mark.centre)
                for angle in (start, start + sweep):
                    p = (
                        cx + mark.radius * math.cos(math.radians(angle)),
                        cy + mark.radius * math.sin(math.radians(angle)),
                    )
                    self.assertLess(min(gap(p, q) for q in ends), 1e-8)
                count += 1
        return count

    def test_tangent_points_come_before_the_arc_and_the_arc_stops_there(self) -> None:
        for id, arcs in (
            ("fillet", 1),
            ("arc-line-circle", 2),
            ("arc-two-circles", 2),
            ("reverse-curve", 2),
            ("tangent-chain", 2),
        ):
            for method in catalogue()[id].methods:
                made = solved(id, method)
                self.assertEqual(self.arcs_end_where_they_touch(made), arcs, id)
                touching = max(spot.step for spot in made.spots.values() if spot.kind == "tangent")
                lined = [
                    mark.step for mark in made.marks if mark.role.value == "outline" and getattr(mark, "span", None)
                ]
                self.assertLess(touching, min(lined) if id != "tangent-chain" else max(lined), id)

    def test_a_fillet_at_every_angle(self) -> None:
        for angle in (5, 60, 90, 120, 179.9):
            made = solved("fillet", angle=angle, radius=22)
            v, k = at(made, "V"), at(made, "K")
            far = (v[0] + math.cos(math.radians(angle)), v[1] + math.sin(math.radians(angle)))
            self.assertAlmostEqual(off_line(k, v, (v[0] + 1, v[1])), 22, places=8)
            self.assertAlmostEqual(off_line(k, v, far), 22, places=8)
            self.assertAlmostEqual(value(made, "tangent_length"), gap(v, at(made, "T1")), places=7)

    def test_arcs_between_two_circles_in_every_contact(self) -> None:
        for one in ("outside", "inside"):
            for two in ("outside", "inside"):
                radius = 70 if "inside" in (one, two) else 30
                made = solved(
                    "arc-two-circles",
                    radius_1=19,
                    radius_2=27,
                    distance=74,
                    radius=radius,
                    contact_1=one,
                    contact_2=two,
                )
                for centre in (at(made, "K1"), at(made, "K2")):
                    for hub, r, contact in (((0, 0), 19, one), ((74, 0), 27, two)):
                        wanted = r + radius if contact == "outside" else abs(r - radius)
                        self.assertAlmostEqual(gap(centre, hub), wanted, places=8)

    def test_the_belt_is_as_long_as_walking_round_it(self) -> None:
        for kind in ("open", "crossed"):
            made = solved("common-tangents", radius_1=31, radius_2=17, distance=92, kind=kind)
            t = {n: at(made, f"T{n}") for n in (1, 2, 3, 4)}
            length = 2 * gap(t[1], t[2])
            for hub, r, p, q, far in (((0.0, 0.0), 31, t[1], t[3], (-1, 0)), ((92.0, 0.0), 17, t[2], t[4], (1, 0))):
                angle = math.radians(turn(p, hub, q))
                middle = math.radians(turn(p, hub, (hub[0] + far[0], 0.0)))
                length += r * (
                    angle
                    if middle <= math.pi / 2 and angle <= math.pi and middle * 2 - 1e-9 <= angle
                    else 2 * math.pi - angle
                )
            self.assertAlmostEqual(value(made, "belt_length"), length, places=6, msg=kind)

    def test_a_chain_is_as_long_as_its_pieces(self) -> None:
        corners = ((0, 0), (70, 0), (100, 52), (150, 52), (150, 110))
        made = solved("tangent-chain", corners=corners, radii=((18,), (0,), (22,)))
        samples = [at(made, "A"), at(made, "T1a")]
        samples += self.arc(made, "K1", "T1a", "T1b") + [at(made, "C"), at(made, "T3a")]
        samples += self.arc(made, "K3", "T3a", "T3b") + [at(made, "E")]
        walked = sum(gap(p, q) for p, q in zip(samples, samples[1:]))
        self.assertAlmostEqual(value(made, "developed_length"), walked, places=3)

    def arc(self, made: Run, centre: str, start: str, end: str) -> list[Point]:
        """Many points along the shorter arc from one spot to another."""
        k, p, q = np.array(at(made, centre)), np.array(at(made, start)), np.array(at(made, end))
        whole = math.radians(turn(tuple(p), tuple(k), tuple(q)))
        u, w = p - k, q - k
        return [
            tuple(k + (math.sin((1 - t) * whole) * u + math.sin(t * whole) * w) / math.sin(whole))
            for t in np.linspace(0, 1, 400)
        ]

    def test_circles_through_points_and_along_lines(self) -> None:
        made = solved("circle-three-points", A=(3, 4), B=(82, 14), C=(38, 66))
        self.assertEqual(
            {round(gap(at(made, "K"), p), 9) for p in ((3, 4), (82, 14), (38, 66))}, {round(value(made, "radius"), 9)}
        )
        made = solved("circle-point-line", radius=32, point=(40, 38), line=(0, 0, 110, 20))
        for k in "12":
            centre = at(made, f"K{k}")
            self.assertAlmostEqual(gap(centre, (40, 38)), 32, places=8)
            self.assertAlmostEqual(off_line(centre, (0, 0), (110, 20)), 32, places=8)

    def test_eight_circles_touch_three(self) -> None:
        for method in ("offsets", "coordinates"):
            made = solved("three-circle-tangents", method)
            self.assertEqual(value(made, "solutions"), 8)
            given = [(at(made, f"C{k}"), r) for k, r in ((1, 18), (2, 13), (3, 10))]
            for k in range(1, 9):
                centre, radius = at(made, f"K{k}"), value(made, f"radius_{k}")
                for (c, r), letter in zip(given, "abc"):
                    apart = gap(centre, c)
                    self.assertLess(min(abs(apart - radius - r), abs(apart - abs(radius - r))), 1e-8)
                    touch = at(made, f"T{k}{letter}")
                    self.assertAlmostEqual(gap(touch, c), r, places=8)
                    self.assertAlmostEqual(gap(touch, centre), radius, places=7)


class Comparing(unittest.TestCase):
    def test_the_comparison_tells_what_running_shows(self) -> None:
        figure = make(catalogue()["polygon-on-side"], {"sides": 5, "side": 46})
        rows = {row.method.id: row for row in compare(figure)}
        self.assertTrue(rows["circumcentre"].exact and rows["pentagon-arcs"].exact)
        self.assertGreater(rows["centre-ladder"].miss, 0.5)
        self.assertEqual(rows["circumcentre"].steps, len(run(figure, "circumcentre").steps))
        self.assertAlmostEqual(rows["pentagon-arcs"].opening, 46 * (1 + math.sqrt(5)) / 2, places=8)
        best = recommended(list(rows.values()))
        self.assertTrue(best.exact)
        self.assertIn(best.method.title.capitalize(), advice(list(rows.values())))

    def test_methods_that_do_not_serve_say_why(self) -> None:
        rows = {row.method.id: row for row in compare(make(catalogue()["polygon-in-circle"], {"sides": 7}))}
        self.assertIn("sides is 7", rows["compass"].refusal)
        self.assertFalse(rows["compass"].exact)
