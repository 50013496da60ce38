"""Exact touching, equal, parallel and collinear cases for every figure; and the geometry they stand on."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np

from tests.test_catalogue import Checked
from wise_compass.drafting.figure import make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import catalogue
from wise_compass.geometry.vectors import distance

ROOT3 = math.sqrt(3)
CASES: dict[str, list[dict[str, Any]]] = {
    "divide-line": [{"length": 0.1, "parts": 60}, {"parts": 2}],
    "bisect-line": [{"length": 0.1}, {"length": 20000}],
    "perpendicular": [{"at": 0}, {"at": 110}, {"at": 110, "off": 40}, {"at": 0, "off": 0.1}],
    "bisect-angle": [{"angle": 90}, {"angle": 60}, {"angle": 0.05}, {"angle": 179.95}],
    "set-angle": [{"angle": 45}, {"angle": 90}, {"angle": 135}, {"angle": 0.05}],
    "root-length": [{"number": 1}, {"number": 4}, {"number": 0.01}],
    "mean-proportional": [{"first": 40, "second": 40}, {"first": 0.1, "second": 20000}],
    "golden-section": [{"length": 0.1}],
    "triangle-three-sides": [
        {"ab": 60, "bc": 60, "ca": 60},
        {"ab": 30, "bc": 50, "ca": 40},
        {"ab": 100, "bc": 50.0001, "ca": 50},
    ],
    "scale-bar": [
        {"levels": 0, "reading": 5},
        {"levels": 10, "reading": 0},
        {"levels": 2, "reading": 4.95, "second_unit": "yard"},
        {"over": 200000, "unit": "km", "range": 25, "levels": 0, "reading": 17.5, "second_unit": "minute"},
    ],
    "vernier-scale": [
        {"reading": 0.1, "sense": "retrograde"},
        {"lie": "slid", "reading": 2.3},
        {"range": 1, "parts": 10, "steps": 9, "reading": 0.8},
    ],
    "chord-scale": [{"angle": a} for a in (5, 10, 60, 90, 100, 120, 175, 179.9)] + [{"step": "1", "angle": 12.5}],
    "fourth-proportional": [{"second": 48}, {"third": 64}, {"first": 10, "second": 200, "third": 300}],
    "divide-in-ratio": [
        {"ratios": [1, 1]},
        {"ratios": [1, 2]},
        {"ratios": [1.0001, 1]},
        {"ratios": [0.5, 0.25, 12]},
        {"ratios": [1] * 12},
    ],
    "similar-figure": [
        {"pole": [0, 0]},
        {"pole": [27, 0]},
        {"pole": [30, 20], "first": 3, "second": 1},
        {"by": "areas", "first": 4, "second": 1},
        {"pole": [-54, 0]},
    ],
    "polygon-to-square": [
        {"corners": [[0, 0], [80, 0], [30, 50]]},
        {"corners": [[0, 0], [30, 50], [80, 0]]},
        {"corners": [[0, 0], [60, 0], [60, 60], [0, 60]]},
    ],
    "divide-area": [
        {"P": [0, 0]},
        {"P": [45, 0]},
        {"P": [90, 0], "shares": [1, 1]},
        {"corners": [[0, 0], [0, 60], [80, 60], [80, 0]], "P": [40, 30], "shares": [1, 1, 1, 1]},
        {"corners": [[0, 0], [80, 0], [80, 60]], "P": [80, 30], "shares": [1, 1]},
    ],
    "divide-by-parallels": [
        {"cd": 0, "left_leg": 80, "right_leg": 70},
        {"ab": 40, "cd": 96},
        {"left_leg": 60, "right_leg": 60, "shares": [1, 2]},
    ],
    "triangle-two-sides-angle": [{"ab": 50, "arm": 50, "angle": 60}, {"angle": 90}, {"angle": 90, "corner": "right"}],
    "triangle-side-two-angles": [
        {"angle_A": 60, "angle_B": 60},
        {"angle_A": 90, "angle_B": 45},
        {"angle_A": 0.05, "angle_B": 0.05},
    ],
    "triangle-side-side-angle": [
        {"ab": 80, "bc": 40, "angle_A": 30},
        {"ab": 80, "bc": 80, "angle_A": 60},
        {"angle_A": 90, "bc": 81},
    ],
    "triangle-circumradius-angles": [{"angle_A": 90, "angle_B": 45}, {"angle_A": 60, "angle_B": 60}],
    "triangle-inradius-angles": [{"angle_A": 90, "angle_B": 45}, {"angle_A": 60, "angle_B": 60}],
    "triangle-hypotenuse-leg": [{"hypotenuse": 50, "leg": 30}],
    "triangle-perimeter-angles": [{"angle_A": 90, "angle_B": 45}, {"angle_A": 60, "angle_B": 60}],
    "rectangle": [{"length": 40, "width": 40}],
    "parallelogram": [{"ab": 40, "ad": 40, "angle_A": 90}, {"angle_A": 60}],
    "rhombus": [{"first_diagonal": 60, "second_diagonal": 60}],
    "trapezium": [
        {"ab": 110, "cd": 62, "left_leg": 40, "right_leg": 40},
        {"ab": 62, "cd": 110, "left_leg": 48, "right_leg": 40},
        {"ab": 100, "cd": 70, "left_leg": 40, "right_leg": 50},
    ],
    "polygon-on-side": [{"sides": n} for n in (3, 4, 5, 6, 24)],
    "polygon-in-circle": [{"sides": n} for n in (3, 4, 5, 6, 8, 10, 12, 15, 24)],
    "polygon-about-circle": [{"sides": n} for n in (3, 4, 24)],
    "star-polygon": [{"points": 6, "skip": 2}, {"points": 5, "skip": 2}, {"points": 24, "skip": 11}],
    "fillet": [{"angle": 90}, {"angle": 60}, {"angle": 120}],
    "arc-line-circle": [
        {"radius": 4},
        {"line_distance": 0},
        {"line_distance": 26},
        {"line_distance": 18},
        {"circle_radius": 18},
        {"circle_radius": 40, "radius": 20, "line_distance": 0, "contact": "inside"},
        {"circle_radius": 40, "radius": 20, "line_distance": 40, "contact": "inside"},
    ],
    "arc-two-circles": [
        {"radius": 13.5},
        {"radius_1": 20, "radius_2": 20, "distance": 60, "radius": 10},
        {"radius_1": 20, "radius_2": 20, "distance": 40, "radius": 20},
        {"radius_1": 20, "radius_2": 10, "distance": 40, "radius": 35, "contact_1": "inside", "contact_2": "inside"},
        {"radius_1": 24, "radius_2": 24, "contact_1": "inside", "contact_2": "outside", "radius": 60, "distance": 60},
    ],
    "tangents-from-point": [{"radius": 30, "distance": 60}, {"radius": 29, "distance": 29.0001}],
    "common-tangents": [
        {"radius_1": 20, "radius_2": 20},
        {"radius_1": 20, "radius_2": 20, "kind": "crossed"},
        {"radius_1": 17, "radius_2": 31},
        {"radius_1": 30, "radius_2": 20, "distance": 50},
    ],
    "circle-three-points": [
        {"A": (0, 0), "B": (80, 0), "C": (40, 40)},
        {"A": (0, 0), "B": (0, 80), "C": (40, 40)},
        {"A": (0, 0), "B": (60, 0), "C": (0, 80)},
    ],
    "circle-point-line": [
        {"radius": 19, "point": (40, 38)},
        {"point": (40, 0)},
        {"point": (40, -38)},
        {"line": (0, 0, 0, 90), "point": (30, 40)},
        {"radius": 38, "point": (40, 38)},
    ],
    "reverse-curve": [
        {"length": 100, "offset": 100, "first_radius": 50},
        {"length": 104, "offset": 42, "first_radius": 0.1},
    ],
    "arch": [
        {"rise": 60},
        {"rise": 90, "stones": 3},
        {"kind": "pointed", "rise": 120 * 0.75**0.5},
        {"kind": "pointed", "rise": 61, "stones": 12},
        {"kind": "three-centred", "rule": "radius"},
        {"kind": "five-centred", "stones": 60},
        {"kind": "four-centred", "rise": 52},
        {"kind": "ogee", "rise": 80, "stones": 10, "thickness": 4},
        {"kind": "rampant"},
        {"kind": "rampant", "step": -30, "stones": 9},
    ],
    "catenary": [
        {"span": 100, "sag": 0.1},
        {"span": 100, "sag": 500, "divisions": 36},
        {"span": 120, "sag": 18, "divisions": 2},
    ],
    "tangent-profile": [
        # equal radii; a hole about a boss; a sweep of over 300°
        {
            "rows": (
                ("circle", "A", 0, 0, 20, "left"),
                ("circle", "B", 90, 0, 20, "left"),
                ("tangent", "S", "A", "B"),
                ("tangent", "U", "B", "A"),
                ("circle", "H", 90, 0, 8, "left"),
            ),
            "path": ("A", "S", "B", "U"),
        },
        {
            "rows": (("line", "L", -80, -20, 80, -20), ("circle", "A", 0, 0, 20, "left"), ("on", "E", "A", 250)),
            "path": ("L", "A", "E"),
            "ends": "open",
        },
        # points for ends, a tangent from one to a circle that is run round to the right
        {
            "rows": (
                ("point", "P", 0, 0),
                ("circle", "C", 60, 10, 12, "right"),
                ("tangent", "S", "P", "C"),
                ("point", "Q", 110, -30),
                ("tangent", "U", "C", "Q"),
            ),
            "path": ("P", "S", "C", "U", "Q"),
            "ends": "open",
        },
        # the arc through the place where two that are to be joined touch it: a point on one of them
        {
            "rows": (
                ("circle", "A", 0, 0, 20, "left"),
                ("circle", "B", 90, 0, 12, "left"),
                ("on", "P", "A", 60),
                ("touch", "K", "right", "A", "B", "P"),
                ("tangent", "S", "A", "B"),
            ),
            "path": ("A", "S", "B", "K"),
        },
        {
            "rows": (
                ("line", "L", 0, 0, 80, 0),
                ("line", "M", 80, 0, 40, 70),
                ("line", "N", 40, 70, 0, 0),
                ("touch", "K", "left", "L", "M", "N"),
                ("on", "E", "K", 270),
                ("on", "F", "K", 90),
            ),
            "path": ("E", "K", "F"),
            "ends": "open",
        },
    ],
    "moulding": [
        *({"kind": kind} for kind in ("ovolo", "cavetto", "cyma-reversa", "scotia")),
        {"kind": "ovolo", "height": 40, "projection": 40, "arc_angle": 90},
        {"arc_angle": 180},
        {"projection": 0},
        {"kind": "scotia", "projection": 0},
    ],
    "sliding-rod": [
        {"along": 45},
        {"along": 0},
        {"along": 90, "angle": 60},
        {"along": 120},
        {"angle": 1, "along": 20},
        {"angle": 120, "off": 30, "divisions": 8},
    ],
    "slider-crank": [
        {"offset": 0},
        {"offset": 0, "off": 0, "along": 92},
        {"along": 0, "off": 0},
        {"offset": -20, "divisions": 72},
        {"rod": 41, "offset": 12},
    ],
    "four-bar": [
        {"mode": "crossed"},
        {"ground": 24, "crank": 58, "coupler": 62, "rocker": 54},
        {"along": 0, "off": 0},
        {"along": 66, "off": 0, "divisions": 8},
    ],
    "tangent-chain": [
        {"corners": ((0, 0), (40, 0), (40, 40), (0, 40)), "radii": ((20,), (20,))},
        {"corners": ((0, 0), (40, 0), (80, 0)), "radii": ((10,),)},
        {"corners": ((0, 0), (40, 0), (40, 40)), "radii": ((40,),)},
        {"corners": ((0, 0), (40, 0), (40, 40)), "radii": ((0,),)},
    ],
    "three-circle-tangents": [
        {"circle_1": (0, 0, 20), "circle_2": (40, 0, 20), "circle_3": (20, 20 * ROOT3, 20)},
        {"circle_1": (0, 0, 20), "circle_2": (50, 0, 30), "circle_3": (100, 0, 20)},
        {"circle_1": (0, 0, 30), "circle_2": (40, 0, 10), "circle_3": (20, 60, 15)},
        {"circle_1": (0, 0, 0), "circle_2": (40, 0, 0), "circle_3": (20, 30, 0)},
        {"circle_1": (0, 0, 20), "circle_2": (0, 0, 40), "circle_3": (30, 0, 10)},
        {"circle_1": (0, 0, 15), "circle_2": (60, 0, 15), "circle_3": (120, 0, 15)},
        {"circle_1": (0, 0, 15), "circle_2": (60, 0, 15), "circle_3": (30, 50, 15)},
    ],
    "ellipse": [
        {"long": 100, "wide": 100},
        {"wide": 151.9},
        {"lie": "upright", "wide": 151.9, "touch": "tangent", "at": 0},
    ],
    "ellipse-tangent": [{"at": 0}, {"at": 90}, {"at": 180}, {"wide": 151, "at": 45}],
    "ellipse-conjugate": [
        {"angle": 90},
        {"angle": 90, "first": 78, "second": 124},
        {"first": 80, "second": 80, "angle": 60},
        {"angle": 120},
    ],
    "parabola": [{"at": 0, "touch": "tangent"}, {"base": 60, "axis": 15, "at": 30, "touch": "circle-outside"}],
    "hyperbola": [{"foci": 100, "vertices": 70.71067811865476}, {"at": 0, "touch": "tangent"}],
    "rectangular-hyperbola": [{"x": 40, "y": 40}, {"at": 40, "x": 40, "y": 40, "touch": "tangent"}],
    "conic-by-eccentricity": [{"eccentricity": 1}, {"eccentricity": 0.999999}, {"eccentricity": 1.000001}],
    "cycloid": [{"at": 0}, {"at": 360}, {"at": 180}, {"turns": 0.25}],
    "trochoid": [{"tracing_radius": 18}, {"tracing_radius": 18.0000001, "at": 0}, {"tracing_radius": 0.1}],
    "epicycloid": [{"rolling_diameter": 144}, {"at": 0}, {"at": 360}],
    "hypocycloid": [{"rolling_diameter": 72}, {"rolling_diameter": 72, "at": 180}, {"at": 0}],
    "epitrochoid": [{"tracing_radius": 16}, {"tracing_radius": 16.00001, "at": 0}],
    "hypotrochoid": [{"tracing_radius": 16}, {"rolling_diameter": 72, "tracing_radius": 11}],
    "involute-circle": [{"at": 1}, {"turns": 0.25, "at": 90}],
    "involute-polygon": [{"sides": 3, "turns": 1 / 3, "at": 1}],
    "archimedean-spiral": [{"inner": 0}, {"inner": 0, "touch": "tangent", "at": 0}, {"turns": 1}],
    "logarithmic-spiral": [{"ratio": 1.0011}, {"vector_angle": 90, "ratio": 2}],
    "arc-volute": [{"centres": 2}, {"centres": 2, "turns": 0.5, "at": 0}],
    "helix": [{"starts": 8}, {"turns": 0.25, "divisions": 8}, {"starts": 3, "divisions": 8}],
    "conical-helix": [{"turns": 0.25, "divisions": 8}],
    "coil-spring": [{"pitch": 7.01}, {"wire": 24, "pitch": 40}, {"section": "square", "pitch": 7}],
    "screw-thread": [
        {"starts": 4, "lead": 50, "divisions": 8},
        {"form": "vee", "starts": 3, "lead": 40, "divisions": 8},
    ],
    "line-in-space": [
        {"angle_h": 49, "angle_v": 41},
        {"angle_h": 90, "angle_v": 0},
        {"angle_h": 0, "angle_v": 90},
        {"angle_h": 0, "angle_v": 0},
        {"end_above": -30, "end_front": -20},
    ],
    "line-from-length-and-views": [
        {"length": 70, "top_length": 70, "front_length": 0},
        {"length": 70, "top_length": 70, "front_length": 70},
        {"length": 70, "top_length": 0, "front_length": 70},
        {"length": 50, "top_length": 40, "front_length": 30},
        {"end_above": -30, "end_front": -20},
    ],
    "point-in-space": [{"P": p} for p in ((3, 0, 5), (3, 5, 0), (3, 0, 0), (-3, -5, -9))],
    "line-from-views": [
        {"A": (0, 0, 0), "B": (50, 0, 0)},
        {"A": (0, 10, 0), "B": (0, 10, 40)},
        {"A": (0, 10, 5), "B": (0, 40, 5)},
        {"A": (0, 10, 5), "B": (0, 40, 35)},
        {"A": (0, 10, 5), "B": (30, 10, 35)},
        {"A": (-3, -10, -5), "B": (-30, -40, -5)},
    ],
    "true-shape": [
        {"A": (0, 10, 20), "B": (50, 10, 20), "C": (20, 40, 20)},
        {"A": (0, 10, 20), "B": (50, 10, 20), "C": (20, 10, 50)},
        {"A": (10, 0, 0), "B": (10, 40, 0), "C": (10, 0, 50)},
        {"A": (60, -20, 20), "B": (40, 20, -20), "C": (40, 20, 40)},
        {"A": (0, 10, 20), "B": (50, 10, 20), "C": (20, 40, 50)},
    ],
    "point-to-plane": [
        {"P": (30, 30, 30), "A": (0, 10, 20), "B": (50, 10, 20), "C": (20, 40, 20)},
        {"P": (10, 22, 15)},
        {"P": (30, 30, 30), "A": (40, 60, -20), "B": (40, 60, 60), "C": (0, -20, 20)},
    ],
    "line-meets-plane": [
        {"A": (20, 20, 0), "B": (20, 20, 60), "C": (0, 0, 30), "D": (60, 0, 30), "E": (0, 60, 30)},
        {"A": (20, 20, 0), "B": (20, 40, 60), "C": (0, 0, 30), "D": (60, 0, 30), "E": (0, 60, 30)},
        {"A": (0, 20, 20), "B": (60, 20, 20), "C": (30, 0, 0), "D": (30, 60, 0), "E": (30, 0, 60)},
        {"A": (20, 0, 20), "B": (60, -20, 0), "C": (60, 40, 20), "D": (-20, 0, 0), "E": (-20, 0, 60)},
    ],
    "two-laminae": [
        {"A": (0, 0, 20), "B": (60, 0, 20), "C": (20, 60, 20), "D": (10, 10, 0), "E": (50, 10, 0), "F": (30, 10, 60)},
        {"A": (40, 0, 60), "B": (40, 60, 20), "C": (40, 0, 0), "D": (0, 10, 10), "E": (80, 10, 30), "F": (30, 50, 40)},
        {"A": (0, 20, 0), "B": (60, 20, 0), "C": (30, 20, 60), "D": (30, 0, 10), "E": (30, 60, 10), "F": (30, 20, 50)},
        {"A": (40, 0, 0), "B": (40, 60, 0), "C": (40, 0, 60), "D": (0, 0, 20), "E": (80, 0, 20), "F": (0, 60, 20)},
        {"A": (0, 0, 20), "B": (60, 0, 20), "C": (20, 60, 20), "D": (30, 30, 20), "E": (50, 40, 60), "F": (10, 40, 60)},
        {"D": (8, 14, 52)},
        {"D": (8, 14, 52), "E": (92, 10, 40)},
    ],
    "skew-lines": [
        {"A": (20, 20, 0), "B": (20, 20, 60), "C": (0, 40, 10), "D": (60, 40, 10)},
        {"A": (20, 0, 20), "B": (20, 60, 20), "C": (0, 40, 10), "D": (60, 40, 30)},
        {"A": (0, 20, 20), "B": (60, 20, 20), "C": (30, 0, 40), "D": (30, 60, 40)},
        {"A": (0, 0, 0), "B": (-20, 20, -20), "C": (40, 40, 0), "D": (20, 20, 0)},
        {"A": (0, 0, 0), "B": (60, 0, 0), "C": (0, 0, 0), "D": (0, 30, 40)},
    ],
    "plane-by-traces": [
        {"trace_h": h, "trace_v": v}
        for h, v in (
            (0, 40),
            (40, 0),
            (90, 40),
            (40, 90),
            (90, 90),
            (0, 90),
            (90, 0),
            (45, 45),
            (0, 0.01),
            (0.01, 0),
            (0.01, 0.01),
        )
    ],
    "lamina": [
        {"sides": n, "angle_h": h, "edge_angle_v": v}
        for n in (3, 4, 8, 16)
        for h, v in ((0, 0), (90, 0), (0, 90), (90, 90))
    ],
    "square-on-side": [{"side": 0.1}],
    "square-in-circle": [{"diameter": 0.2}],
    "square-on-diagonal": [{"diagonal": 0.2}],
    "prism": [
        {"cut_height": 64, "cut_angle": 0},
        {"turn": 0, "cut_height": 64, "cut_angle": 45},
        {"sides": 4, "side": 40, "turn": 45, "cut_height": 20, "cut_angle": 45},
        {"sides": 4, "side": 40, "turn": 45, "cut_height": 0, "cut_angle": 45},
        {"sides": 4, "side": 40, "turn": 0, "cut_height": 44, "cut_angle": 45},
        {"turn": 0, "cut_height": 40, "cut_angle": 89, "seam": 4},
        {"cut": "none", "sides": 24},
    ],
    "pyramid": [
        {"cut_height": 66, "cut_angle": 70},
        {"cut_height": 0, "cut_angle": 30},
        {"sides": 4, "turn": 45, "cut_height": 20, "cut_angle": math.degrees(math.atan2(66, 17))},
        {"cut_height": 65.99, "cut_angle": 0},
        {"turn": 0, "cut_height": 20, "cut_angle": 60, "seam": 3},
        {"cut": "none", "sides": 24},
    ],
    "cylinder": [
        {"cut_height": 70, "cut_angle": 0},
        {"cut_height": 26, "cut_angle": 45, "divisions": 8},
        {"cut_height": 44, "cut_angle": 45, "divisions": 72, "seam": 18},
        {"cut_height": 35, "cut_angle": math.degrees(math.atan2(35, 26))},
        {"cut_height": 0, "cut_angle": 80},
        {"cut": "none", "divisions": 6},
    ],
    "cone": [
        {"cut_height": 30, "cut_angle": math.degrees(math.atan2(72, 31))},
        {"cut_height": 72, "cut_angle": 75, "divisions": 8},
        {"cut_height": 72, "cut_angle": math.degrees(math.atan2(72, 31)) + 5, "divisions": 72},
        {"cut_height": 110, "cut_angle": 80},
        {"cut_height": 31, "cut_angle": 45, "seam": 6},
        {"cut_height": 71.99, "cut_angle": 0},
        {"cut": "none", "divisions": 6},
    ],
    "frustum": [
        {"bottom": 48, "top": 76},
        {"top": 0.1},
        {"bottom": 76, "top": 75},
        {"bottom": 10, "top": 400, "height": 1},
    ],
    "oblique-cone": [
        {"offset": 0},
        {"offset": 29, "divisions": 8},
        {"offset": -29, "seam": 6},
        {"offset": 90, "divisions": 72, "seam": 36},
        {"offset": -29.0001},
    ],
    "tilted-solid": [
        {"kind": kind, "axis_h": axis_h, "axis_v": axis_v, "turn": turn}
        for kind in ("prism", "pyramid", "cylinder", "cone")
        for axis_h, axis_v, turn in ((90, 0, 0), (0, 0, 0), (0, 90, 15), (90, 37, 30), (0, 180, 45), (45, 270, 0))
    ],
    "elbow": [
        {"pieces": 2, "bend": 178},
        {"pieces": 12, "bend": 180, "divisions": 72, "seam": 18},
        {"radius": 27},
        {"bend": 5, "pieces": 3, "divisions": 8, "seam": 7},
    ],
    "sphere-gores": [{"gores": 4, "divisions": 6}, {"gores": 48, "divisions": 48}],
    "sphere-zones": [{"zones": 2}, {"zones": 3}, {"zones": 24}],
    "isometric-scale": [{"length": 0.1}, {"length": 10}, {"length": 600}, {"length": 601}],
    "pictorial-block": [
        {"front": 40, "right": 40, "height": 40},
        {"front": 0.1, "right": 300, "height": 7.5},
        *({"drawn": drawn, "receding": receding} for drawn in ("cavalier", "cabinet") for receding in ("30", "60")),
        {"scale": "isometric"},
    ],
    "pictorial-circle": [
        {"face": "left"},
        {"face": "right", "divisions": 72},
        {"drawn": "cavalier", "face": "front"},
        {"drawn": "cavalier", "face": "right", "receding": "60"},
        {"drawn": "cavalier", "face": "top", "receding": "30"},
        {"drawn": "cabinet", "face": "top", "divisions": 8},
        {"scale": "isometric"},
    ],
    "pictorial-prism": [
        {"sides": 4, "axis": "right", "hole": 25},
        {"sides": 3, "hole": 0},
        {"sides": 16, "axis": "front"},
        {"hole": 30, "length": 30 / math.sqrt(2)},
        {"hole": 29.999999, "length": 30 / math.sqrt(2)},
        {"length": 0.1},
    ],
    "pictorial-round": [
        *({"bottom": 50, "top": 0, "axis": axis} for axis in ("upright", "front", "right")),
        *({"bottom": 0, "top": 50, "axis": axis} for axis in ("upright", "front", "right")),
        {"bottom": 2 * math.sqrt(2) * 20, "top": 0, "height": 20},
        {"bottom": 2 * math.sqrt(2) * 20 + 1e-9, "top": 0, "height": 20},
        {"bottom": 80, "top": 20, "height": 10},
        {"bottom": 20, "top": 80, "height": 10, "scale": "isometric"},
    ],
    "perspective-block": [
        {"angle": 0},
        {"angle": 0, "aside": 0, "behind": 0},
        {"angle": 0, "aside": 0, "behind": 20},
        {"angle": 45, "behind": 0},
        {"angle": 89.9, "behind": 0},
        {"eye_height": 50, "height": 50},
        {"eye_height": 25, "height": 50, "angle": 0},
        {"angle": 30, "aside": 150 * ROOT3, "behind": 0},
        {"angle": 45, "aside": -165},
    ],
    "built-up": [
        {"rows": (("box", 0, 0, 0, 10, 10, 10),)},
        {"rows": (("box", 0, 0, 0, 10, 10, 10), ("box", 10, 0, 0, 10, 10, 10), ("box", 0, 10, 0, 20, 5, 10))},
        {"rows": (("cylinder", 0, 0, 0, 10, 10, 10), ("cone", 0, 0, 10, 10, 10, 10))},
        {"rows": (("box", 0, 0, 0, 30, 30, 10), ("hole", 5, 5, 0, 20, 20, 10), ("hole", 0, 0, 4, 30, 30, 6))},
        {
            "rows": (("cylinder-front", 5, 3, -4, 30, 12, 12), ("cylinder-right", 5, 15, -4, 12, 30, 12)),
            "drawn": "cabinet",
        },
        {"rows": (("wedge", 0, 0, 0, 20, 20, 20), ("ramp", 0, 0, 20, 20, 20, 5)), "drawn": "cavalier"},
        {"rows": (("box", 0, 0, 0, 40, 40, 75), ("cylinder", 0, 0, 75, 40, 40, 5)), "angle": 45, "eye_height": 75},
        {
            "rows": (("cone", 0, 0, 0, 40, 40, 60), ("box", 40, 0, 0, 5, 5, 5)),
            "angle": 5,
            "eye_height": 60,
            "distance": 30,
        },
    ],
    "saddle": [
        {"long": 80, "wide": 80},
        {"height": 0.1},
        {"long": 60, "wide": 80, "height": 50},
        {"elements": 16},
        {"elements": 3},
    ],
    "hyperboloid": [{"twist": 180}, {"twist": 0.5}, {"twist": 90, "generators": 8}, {"twist": 120, "generators": 6}],
    "rect-to-round": [
        {"offset_y": 33},
        {"offset_y": 60, "seam": 3},
        {"diameter": 66, "divisions": 8},
        {"offset_x": 45, "offset_y": -33, "divisions": 72, "seam": 54},
        {"length": 50, "width": 50, "diameter": 50},
    ],
    "rect-to-rect": [
        {"top_length": 90, "top_width": 70},
        {"top_length": 90, "top_width": 70, "turn": 45, "seam": 3},
        {"turn": 89.99},
        {"length": 60, "width": 60, "top_length": 60, "top_width": 60, "turn": 45},
        {"offset_x": 70, "offset_y": -15},
        {"offset_x": -20, "offset_y": 15},
    ],
    "round-to-round": [
        {"offset_x": 0},
        {"offset_x": 0, "top": 80},
        {"offset_x": 14},
        {"offset_x": 90, "divisions": 72, "seam": 36},
        {"offset_x": -14, "offset_y": 14, "divisions": 8},
    ],
    "meeting-cylinders": [
        {"branch_diameter": 64, "branch_length": 130},
        {"branch_diameter": 64, "branch_length": 130, "angle": 90, "divisions": 10},
        {"branch_diameter": 64, "branch_length": 250, "angle": 25, "divisions": 72},
        {"offset": 12},
        {"offset": -12, "divisions": 10},
        {"branch_diameter": 20, "offset": 22, "divisions": 8},
        {"branch_diameter": 20, "offset": 10},
        {"angle": 90},
    ],
}


class EveryFigure(Checked):
    def test_each_figure_has_its_cases(self) -> None:
        self.assertEqual(set(CASES), set(catalogue()))

    def test_they_prove_by_every_method_or_are_refused_by_name(self) -> None:
        served = 0
        for id, rows in CASES.items():
            for givens in rows:
                figure = make(catalogue()[id], givens)
                for method in figure.methods.values():
                    with self.subTest(figure=id, method=method.id, givens=givens):
                        try:
                            made = run(figure, method.id)
                        except Refused as refusal:
                            self.assertIsNotNone(method.fits(figure), refusal.says)
                            continue
                        self.check_run(made)
                        served += 1
        self.assertGreater(served, 200)

    def test_twenty_metres_prove_as_well(self) -> None:
        for kind in catalogue().values():
            lengths = {name: given.default for name, given in kind.givens.items() if given.kind == "length"}
            if not lengths or any(given.kind in ("point", "rows") for given in kind.givens.values()):
                continue
            times = 15000 / max(lengths.values())
            try:
                figure = make(kind, {name: value * times for name, value in lengths.items()})
            except Refused as refusal:
                self.assertIn(refusal.given, kind.givens, kind.id)
                continue
            for method in figure.methods.values():
                if method.fits(figure) is None:
                    with self.subTest(figure=kind.id, method=method.id):
                        self.check_run(run(figure, method.id))


class Answers(unittest.TestCase):
    def answers(self, id: str, **givens: Any) -> Any:
        return {value.name: value.value for value in run(make(catalogue()[id], givens)).values}

    def test_a_right_angled_triangle_is_one(self) -> None:
        for bc, count in ((40, 1), (40.001, 2), (39.999999999999, 1)):
            self.assertEqual(self.answers("triangle-side-side-angle", ab=80, bc=bc, angle_A=30)["solutions"], count, bc)
        with self.assertRaises(Refused):
            make(catalogue()["triangle-side-side-angle"], {"ab": 80, "bc": 39.9999, "angle_A": 30})

    def test_touching_arcs_are_one(self) -> None:
        made = run(make(catalogue()["arc-two-circles"], {"radius": 13.5}))
        self.assertEqual([name for name in made.found if name[0] == "K"], ["K1"])
        made = run(make(catalogue()["arc-line-circle"], {"radius": 4}))
        self.assertEqual([name for name in made.found if name[0] == "K"], ["K1"])
        self.assertEqual(self.answers("arc-line-circle", radius=4)["along"], 0)

    def test_slips_measure_what_they_draw(self) -> None:
        from wise_compass.drafting.run import Run, run_slips

        made = [one for _, one in run_slips(catalogue()["cycloid"]())]
        assert isinstance(made[0], Run)
        slipped = made[0]
        fine = np.array([float(slipped.measured["base_length"]) / (2 * np.pi), 18.0])
        t = np.linspace(0, 2 * np.pi, 200001)
        speed = np.hypot(fine[0] - fine[1] * np.cos(t), fine[1] * np.sin(t))
        self.assertAlmostEqual(float(slipped.measured["arch_length"]), float(np.trapezoid(speed, t)), places=4)
        self.assertAlmostEqual(float(slipped.measured["arch_length"]), 115.98, places=2)
        y = 18 - 18 * np.cos(t)
        self.assertAlmostEqual(
            float(slipped.measured["area"]), float(np.trapezoid(y * (fine[0] - 18 * np.cos(t)), t)), places=4
        )
        for id in ("epicycloid", "hypocycloid"):
            kind = catalogue()[id]
            for _, one in run_slips(kind()):
                assert isinstance(one, Run)
                p = one.found.group("P")
                chords = float(distance(p[1:], p[:-1]).sum())
                self.assertLess(chords, float(one.measured["arch_length"]))
                self.assertAlmostEqual(chords / float(one.measured["arch_length"]), 1.0, delta=0.05)
