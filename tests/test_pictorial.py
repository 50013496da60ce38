"""Pictures and forms of straight lines against mathematics of another kind: rasters, matrices, dense sampling."""

from __future__ import annotations

import itertools
import math
import re
import unittest
from typing import Any

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests import examples
from tests.drawn import drawn_givens
from tests.test_blocks import told
from tests.test_solids import drawn, solid, volume_of
from wise_compass.drafting.capabilities import Pictured, Solid
from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import ArcMark, CurveMark, Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import catalogue
from wise_compass.study.gaps import gaps


class Perspective(unittest.TestCase):
    def test_against_a_matrix(self) -> None:
        """Corners through a projective matrix, whatever the method."""
        draw = np.random.default_rng(2)
        kind = catalogue()["perspective-block"]
        for _ in range(12):
            givens = dict(zip(("front", "right", "height"), draw.uniform(20, 90, 3).tolist()))
            givens |= {"angle": float(draw.choice([0.0, 30.0, 45.0, 75.0])), "distance": float(draw.uniform(90, 200))}
            givens |= {
                "eye_height": float(draw.choice([givens["height"], 20.0, 90.0])),
                "aside": float(draw.choice([0.0, 25.0, -40.0])),
            }
            givens |= {"behind": float(draw.choice([0.0, 18.0]))}
            d, e, turn = givens["distance"], givens["eye_height"], math.radians(givens["angle"])
            matrix = np.array([[d, 0, 0, 0], [0, 0, d, -e * d], [0, 1, 0, d]])
            for method in kind.methods.values():
                figure = make(kind, givens)
                if method.fits(figure) is not None:
                    continue
                made = run(figure, method.id)
                for k, name in enumerate("ABCDEFGH"):
                    f, r = (k % 4 in (1, 2)) * givens["front"], (k % 4 in (2, 3)) * givens["right"]
                    x = givens["aside"] + r * math.cos(turn) - f * math.sin(turn)
                    y = givens["behind"] + r * math.sin(turn) + f * math.cos(turn)
                    u, v, w = matrix @ [x, y, givens["height"] * (k > 3), 1]
                    at = made.found[name] - [0, figure.horizon]  # type: ignore[attr-defined]
                    self.assertLess(np.abs(at - [u / w, v / w]).max(), 1e-8, f"{method.id} {givens} {name}")

    def test_its_rays_in_space_cut_the_pane_where_the_corners_are_drawn(self) -> None:
        """Eye, pane and block as the space view shows them, measured in the pane’s own plane, turned or not."""
        for angle in (0.0, 35.0, 70.0):
            made = run(make(catalogue()["perspective-block"], {"angle": angle, "aside": -12.0}))
            pane, *lines = made.figure.beside()
            rays, picture = lines[:8], lines[8:]
            across = (pane[1] - pane[0]) / np.linalg.norm(pane[1] - pane[0])
            out = np.cross(across, [0.0, 0.0, 1.0])
            self.assertEqual({tuple(np.round(ray[1], 9) + 0.0) for ray in rays}, self._corners(made))
            drawn_at = []
            for eye, corner in rays:
                share = (pane[0] - eye) @ out / ((corner - eye) @ out)
                cut = eye + share * (corner - eye)
                drawn_at.append([(cut - eye) @ across, cut[2] - eye[2]])
                self.assertAlmostEqual(abs(float((pane[0] - eye) @ out)), 150.0)
            want = np.array([made.found[name] for name in "ABCDEFGH"]) - [0, made.figure.horizon]  # type: ignore[attr-defined]
            np.testing.assert_allclose(drawn_at, want, atol=1e-9)
            for line in picture:
                flat = np.stack([(line - pane[0]) @ across - (eye - pane[0]) @ across, line[:, 2] - eye[2]], axis=1)
                for end in flat:
                    self.assertLess(np.abs(want - end).max(axis=1).min(), 1e-9)
                self.assertLess(np.abs((line - pane[0]) @ out).max(), 1e-9)

    def _corners(self, made: Run) -> set[tuple[float, ...]]:
        return {tuple(np.round(at, 9) + 0.0) for face in made.figure.skin() for at in face.corners}

    def test_lines_of_one_side_run_to_their_point(self) -> None:
        made = run(catalogue()["perspective-block"](), "vanishing-points")
        for pairs, key in (("AB DC EF HG", "VL"), ("AD BC EH FG", "VR")):
            for pair in pairs.split():
                a, b, v = made.found[pair[0]], made.found[pair[1]], made.found[key]
                self.assertLess(abs(float(np.cross(b - a, v - a))) / float(np.hypot(*(v - a))), 1e-9)

    def test_far_points_are_told_and_too_far_ones_refused_by_those_methods_only(self) -> None:
        kind = catalogue()["perspective-block"]
        self.assertTrue(any("right vanishing point" in words for words in kind(angle=10).cautions()))
        flat = kind(angle=0.5)
        self.assertIsNotNone(kind.methods["vanishing-points"].fits(flat))
        self.assertIsNone(kind.methods["visual-rays"].fits(flat))
        self.assertEqual(list(kind(angle=0).cautions()), [])


class Circles(unittest.TestCase):
    def test_misses_are_those_of_dense_sampling(self) -> None:
        """Points of the arcs as lined in, put into the ellipse's own equation and walked to it."""
        kind = catalogue()["pictorial-circle"]
        for givens in ({"face": "top"}, {"face": "left"}, {"drawn": "cavalier", "face": "right", "receding": "30"}):
            made = run(make(kind, givens), "four-centres")
            u, v = made.figure.halves  # type: ignore[attr-defined]
            fine = np.linspace(0, 2 * math.pi, 40001)
            true = np.cos(fine)[:, None] * u + np.sin(fine)[:, None] * v
            far = 0.0
            for mark in made.marks:
                if isinstance(mark, ArcMark) and mark.role is Role.OUTLINE:
                    for line in mark.polylines(60):
                        for at in line:
                            far = max(far, float(np.hypot(*(true - at).T).min()))
            self.assertAlmostEqual(told(made)["largest_miss"], far, delta=2e-3)
            self.assertAlmostEqual(max(gap.largest for gap in gaps(made)), far, delta=0.05)

    def test_the_curve_through_eight_points_owns_up_to_its_own_miss(self) -> None:
        """Places of the curve as lined in, put into the ellipse's own equation; not the points alone."""
        kind = catalogue()["pictorial-circle"]
        for givens in ({"face": "top"}, {"drawn": "cavalier", "face": "right", "receding": "30"}):
            made = run(make(kind, givens), "diagonals")
            u, v = made.figure.halves  # type: ignore[attr-defined]
            fine = np.linspace(0, 2 * math.pi, 20001)
            true = np.cos(fine)[:, None] * u + np.sin(fine)[:, None] * v
            lines = [
                line - made.found["O"]
                for mark in made.marks
                if isinstance(mark, CurveMark) and mark.role is Role.OUTLINE and mark.row.fair
                for line in mark.polylines(32)
            ]
            far = max(float(np.hypot(*(true - at).T).min()) for line in lines for at in line)
            self.assertAlmostEqual(told(made)["largest_miss"], far, delta=2e-3)
        self.assertGreater(far, 2.0)

    def test_axes_by_singular_values(self) -> None:
        kind = catalogue()["pictorial-circle"]
        for drawn_as, face, receding in (
            ("isometric", "left", "45"),
            ("cabinet", "top", "30"),
            ("cavalier", "right", "60"),
        ):
            figure = kind(drawn=drawn_as, face=face, receding=receding)
            sizes = np.linalg.svd(np.array(figure.halves), compute_uv=False)
            values = told(run(figure, "ordinates"))
            self.assertAlmostEqual(values["long_axis"], 2 * sizes[0])
            self.assertAlmostEqual(values["short_axis"], 2 * sizes[1])

    def test_faces_and_scales_that_do_not_go_together_are_refused(self) -> None:
        kind = catalogue()["pictorial-circle"]
        for givens, named in (
            ({"face": "front"}, "face"),
            ({"drawn": "cabinet", "face": "left"}, "face"),
            ({"drawn": "cavalier", "scale": "isometric"}, "scale"),
        ):
            with self.assertRaises(Refused) as caught:
                make(kind, givens)
            self.assertEqual(caught.exception.given, named)
        self.assertIsNotNone(kind.methods["four-centres"].fits(kind(drawn="cabinet")))
        self.assertIsNone(told(run(kind(drawn="cabinet", face="front")))["tilt"])

    def test_the_isometric_scale_shrinks_every_picture_alike(self) -> None:
        for id, names in (
            ("pictorial-block", ("picture_width", "picture_height")),
            ("pictorial-prism", ("picture_width",)),
            ("pictorial-round", ("picture_height",)),
        ):
            true, small = (told(run(catalogue()[id](scale=scale))) for scale in ("true", "isometric"))
            for name in names:
                self.assertAlmostEqual(small[name] / true[name], math.sqrt(2 / 3))


class Holes(unittest.TestCase):
    def test_the_far_arc_is_what_the_near_rim_leaves_open(self) -> None:
        """Of many places of the far rim, those that fall within the near ellipse."""
        kind = catalogue()["pictorial-prism"]
        for axis, long, hole in (("upright", 12.0, 40.0), ("front", 25.0, 44.0), ("right", 5.0, 30.0)):
            figure = kind(axis=axis, length=long, hole=hole)
            turn = np.linspace(0, 2 * math.pi, 200_001)[:-1]
            rim = hole / 2 * np.stack([np.cos(turn), np.sin(turn)], axis=1) @ figure.plane + figure.back
            back = np.linalg.solve(figure.plane.T, rim.T).T
            share = (np.hypot(*back.T) < hole / 2).mean()
            self.assertAlmostEqual(told(run(figure))["hole_far_arc"], 360 * share, delta=0.01)

    def test_too_thick_a_plate_shows_none_and_says_why(self) -> None:
        made = run(catalogue()["pictorial-prism"](length=40.0))
        self.assertEqual(told(made)["hole_far_arc"], 0)
        self.assertIn(
            "thicker", next(step.why for step in made.steps if step.says == "Nothing is seen of the far rim.")
        )

    def test_a_hole_as_wide_as_the_prism_is_refused_with_the_limit(self) -> None:
        with self.assertRaises(Refused) as caught:
            make(catalogue()["pictorial-prism"], {"hole": 51.97, "side": 30})
        limit = float(re.search(r"Lower hole to ([\d.]+)", caught.exception.says)[1])  # type: ignore[index]
        self.assertAlmostEqual(limit, 30 * math.sqrt(3), delta=0.02)
        make(catalogue()["pictorial-prism"], {"hole": limit, "side": 30})


class Contours(unittest.TestCase):
    @settings(drawn, max_examples=examples(30))
    @given(drawn_givens(catalogue()["pictorial-round"]))
    def test_they_touch_both_ends(self, givens: dict[str, Any]) -> None:
        """Every contour line has both ellipses on one side and touches them, or runs from the apex."""
        figure: Any = solid("pictorial-round", givens)
        made = run(figure)
        size = max(float(np.abs(figure.back).max()), *figure.radii)
        turn = np.linspace(0, 2 * math.pi, 2881)
        rims = [
            radius * np.stack([np.cos(turn), np.sin(turn)], axis=1) @ figure.plane + centre
            for radius, centre in zip(figure.radii, (made.found["C"], made.found["M"]))
        ]
        lines = [
            mark.course()
            for mark in made.marks
            if isinstance(mark, CurveMark) and not mark.fair and mark.role is Role.OUTLINE
        ]
        if figure.touch is None:
            self.assertEqual(lines, [])
            return
        self.assertEqual(len(lines), 2)
        assume(max(figure.radii) < 40 * float(np.hypot(*figure.back)))
        for line in lines:
            u = line[1] - line[0]
            assume(float(np.hypot(*u)) > 0.02 * size)
            n = np.array([-u[1], u[0]]) / np.hypot(*u)
            for rim in rims:
                off = (rim - line[0]) @ n
                self.assertLess(min(abs(off.max()), abs(off.min())), 0.02 * size, str(figure))

    def test_an_apex_just_inside_the_ellipse_has_none(self) -> None:
        kind = catalogue()["pictorial-round"]
        edge = 2 * math.sqrt(2) * 20
        self.assertIsNone(kind(bottom=edge * (1 + 1e-6), top=0, height=20).touch)
        self.assertIsNotNone(kind(bottom=edge * (1 - 1e-6), top=0, height=20).touch)

    def test_skins_are_turned_outward(self) -> None:
        for id in (
            "pictorial-round",
            "pictorial-prism",
            "pictorial-block",
            "pictorial-circle",
            "built-up",
            "perspective-block",
        ):
            for axis in ("upright", "front", "right") if "axis" in catalogue()[id].givens else ("",):
                figure = catalogue()[id](**({"axis": axis} if axis else {}))
                self.assertGreater(volume_of(list(figure.skin())), 0.0, f"{id} {axis}")


class Ruled(unittest.TestCase):
    def test_the_saddle_by_brute_force(self) -> None:
        figure: Any = catalogue()["saddle"](long=110, wide=70, height=45)
        made = run(figure)
        values = told(made)
        a, b, c, d = (made.found[name] for name in "ABCD")
        s = np.linspace(0, 1, 1201)
        one, two = a + s[:, None] * (b - a), c + s[:, None] * (d - c)
        gap = min(float(np.sqrt(((two - p) ** 2).sum(axis=1)).min()) for p in one[::4])
        self.assertAlmostEqual(values["skew_distance"], gap, delta=0.02)
        y = np.array([-1e-2, 0.0, 1e-2])
        z = figure.over(np.stack([0 * y, y], axis=1))
        self.assertAlmostEqual(1 / ((z[0] - 2 * z[1] + z[2]) / 1e-4), values["section_radius"], delta=1e-3)
        ways = [b - a, d - c]
        cosine = abs(float(ways[0] @ ways[1])) / float(np.sqrt((ways[0] ** 2).sum() * (ways[1] ** 2).sum()))
        self.assertAlmostEqual(values["skew_angle"], math.degrees(math.acos(cosine)))

    def test_every_element_of_the_saddle_is_straight_on_it(self) -> None:
        figure: Any = catalogue()["saddle"]()
        made, n = run(figure), figure.elements
        for k in range(1, n):
            for one, other in ((k, 3 * n - k), (n + k, 4 * n - k)):
                p, q = made.found[f"P{one}"], made.found[f"P{other}"]
                line = p + np.linspace(0, 1, 9)[:, None] * (q - p)
                self.assertLess(np.abs(line[:, 2] - figure.over(line[:, :2])).max(), 1e-9)

    def test_the_hyperboloids_throat_by_sampling(self) -> None:
        made = run(catalogue()["hyperboloid"](twist=120))
        a, b = made.found["B3"], made.found["T3"]
        line = a + np.linspace(0, 1, 20001)[:, None] * (b - a)
        self.assertAlmostEqual(told(made)["throat_diameter"], 2 * float(np.hypot(*line[:, :2].T).min()), places=6)
        cone = run(catalogue()["hyperboloid"](twist=180))
        self.assertAlmostEqual(told(cone)["throat_diameter"], 0.0, places=9)


class Measured(unittest.TestCase):
    def test_a_figure_with_nothing_to_measure_proposes_nothing(self) -> None:
        from wise_compass.study.judge import Judge
        from wise_compass.study.watch import what_to_measure

        made = run(make(catalogue()["built-up"], {"rows": "cylinder,0,0,0,20,20,9"}))
        self.assertEqual(what_to_measure(Judge(made, 1.0)).proposed, ())
        stool = run(catalogue()["built-up"]())
        self.assertTrue(what_to_measure(Judge(stool, 1.0)).proposed)


class Drawn(unittest.TestCase):
    @settings(drawn, max_examples=examples(25))
    @given(
        st.sampled_from(["built-up", "perspective-block"]).flatmap(
            lambda id: st.tuples(st.just(id), drawn_givens(catalogue()[id]))
        )
    )
    def test_what_is_lined_in_starts_and_ends_on_the_picture(self, one: tuple[str, dict[str, Any]]) -> None:
        figure = solid(*one)
        for method in figure.methods.values():
            if method.fits(figure) is None:
                made = run(figure, method.id)
                low, high = made.extent
                self.assertTrue(np.isfinite([*low, *high]).all())


class Pictures(unittest.TestCase):
    def test_every_method_says_what_it_pictures_or_that_it_pictures_nothing(self) -> None:
        none = []
        for kind in catalogue().values():
            if not issubclass(kind, Pictured):
                continue
            for method in kind.methods.values():
                if method.fits(kind()) is None:
                    made = run(kind(), method.id)
                    if made.picture is None:
                        none.append(method.id)
        self.assertEqual(none, ["third-view"])


class OwnAxes(unittest.TestCase):
    """Axonometric pictures against a thing that is turned and tilted in space and seen square to the paper."""

    @staticmethod
    def seen(places: np.ndarray, turn: float, tilt: float) -> np.ndarray:
        """Places along front, right and height, turned about the upright, tilted to the eye, and dropped on the
        paper."""
        t, e = np.radians(turn), np.radians(tilt)
        front, right = np.array([-np.sin(t), np.cos(t)]), np.array([np.cos(t), np.sin(t)])
        plan = places[..., :1] * front + places[..., 1:2] * right  # across, into the picture
        return np.stack([plan[..., 0], plan[..., 1] * np.sin(e) + places[..., 2] * np.cos(e)], axis=-1)

    @given(st.floats(8, 82), st.floats(8, 60), st.sampled_from(["true", "own"]))
    @settings(max_examples=examples(15), deadline=None)
    def test_blocks_circles_and_solids_are_seen_as_they_are_turned(self, turn: float, tilt: float, scale: str) -> None:
        unit = self.seen(np.eye(3), turn, tilt)
        scales = np.hypot(*unit.T)
        if scales.min() < 0.11:
            return
        large = scales.max() if scale == "true" else 1.0
        axes = {"drawn": "axonometric", "scale": scale}
        axes |= dict(zip(("scale_front", "scale_right", "scale_height"), (scales * 7).tolist()))
        block = run(make(catalogue()["pictorial-block"], axes))
        sizes = np.array([60.0, 40.0, 30.0])
        for name, corner in (("B", (1, 0, 0)), ("D", (0, 1, 0)), ("E", (0, 0, 1)), ("G", (1, 1, 1))):
            want = self.seen(np.array(corner) * sizes, turn, tilt) / large
            np.testing.assert_allclose(block.found[name] - block.found["A"], want, atol=1e-6)
        for face, (one, other) in (("top", (0, 1)), ("left", (0, 2)), ("right", (1, 2))):
            circle = run(make(catalogue()["pictorial-circle"], {**axes, "face": face}))
            for k in range(12):
                at = np.zeros(3)
                at[one], at[other] = 30 * math.cos(math.radians(30 * k)), 30 * math.sin(math.radians(30 * k))
                want = self.seen(at, turn, tilt) / large
                np.testing.assert_allclose(circle.found[f"P{k}"] - circle.found["O"], want, atol=1e-6)

    def test_contours_of_a_round_solid_pass_all_it_shows(self) -> None:
        """Every place of the skin is drawn between them, and both are reached."""
        for axis, bottom, top in itertools.product(("upright", "front", "right"), (50, 30), (50, 12, 0)):
            givens = {"axis": axis, "bottom": bottom, "top": top, "drawn": "axonometric", "scale_front": 3.0,
                      "scale_right": 4.0, "scale_height": 4.5}  # fmt: skip
            drawn = run(make(catalogue()["pictorial-round"], givens))
            self.assertTrue(all(proof.holds for proof in drawn.proofs))
            figure, picture = drawn.figure, drawn.picture
            assert isinstance(figure, Solid) and picture is not None
            skin = np.vstack([picture.at(face.corners) for face in figure.skin()])
            lined = np.vstack(
                [line for mark in drawn.marks if mark.role is Role.OUTLINE for line in mark.polylines(64)]
            )
            for turn in range(0, 360, 5):
                u = np.array([math.cos(math.radians(turn)), math.sin(math.radians(turn))])
                self.assertAlmostEqual(float((lined @ u).max()), float((skin @ u).max()), delta=0.25)

    def test_what_no_picture_has_is_refused_and_what_is_advised_is_taken(self) -> None:
        for givens, words in (
            ({"drawn": "axonometric", "scale_front": 9}, r"Lower scale_front to ([\d.]+)"),
            ({"drawn": "axonometric", "scale_front": 0.05}, r"Raise scale_front to ([\d.]+)"),
            ({"drawn": "axonometric", "scale": "isometric"}, "Set scale to own"),
            ({"scale": "own"}, "Set scale to true"),
        ):
            with self.assertRaisesRegex(Refused, words) as caught:
                make(catalogue()["pictorial-block"], givens)
            told = re.search(words, str(caught.exception))
            if told is not None and told.groups():
                make(catalogue()["pictorial-block"], {**givens, "scale_front": float(told[1])})


if __name__ == "__main__":
    unittest.main()
