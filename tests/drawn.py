"""Givens drawn at random for any figure of the catalogue, inside its bounds, at their edges and outside."""

from __future__ import annotations

import math
import random
from typing import Any

from hypothesis import strategies as st

from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Choice, Count, Given, Measure
from wise_compass.drafting.named_rows import NamedRows
from wise_compass.drafting.places import Blocks, Circle, Lengths, Rows
from wise_compass.drafting.turn_rows import Angles, Motions
from wise_compass.figures.plane.scales import UNITS

TYPICAL = {"length": (1.0, 400.0), "angle": (0.0, 180.0), "number": (0.1, 12.0)}


def given_values(given: Given[Any]) -> st.SearchStrategy[Any]:
    """Values for one given: mostly plausible ones, some at the fixed bounds, some beyond."""
    if isinstance(given, Choice):
        return st.sampled_from(given.options)
    if isinstance(given, Count):
        inside = st.integers(given.least // given.multiple, given.most // given.multiple)
        return inside.map(lambda n: n * given.multiple) | st.integers(given.least - 2, given.most + 2)
    if isinstance(given, Lengths):
        size = len(given.default)
        if isinstance(given, Circle):
            return st.tuples(st.floats(-150, 150), st.floats(-150, 150), st.floats(0.1, 90) | st.just(0.0))
        return st.lists(st.floats(-150, 150).map(lambda x: round(x, 3)), min_size=size, max_size=size).map(tuple)
    if isinstance(given, Measure):
        if given.name == "turns":  # most figures take them by the twelfth
            return st.integers(1, 36).map(lambda n: n / 12) | st.floats(-1, 14)
        low, high = TYPICAL[given.kind]
        fixed = [float(b) for b in given.limits.values() if isinstance(b, (int, float))]
        near = [given.default, *(b for b in fixed if abs(b) < 1000)]
        lowest, highest = max([low, *[b for b in fixed if b < given.default]]), high
        for bound in fixed:
            if given.default < bound < highest:
                highest = bound
        plausible = st.floats(min(lowest, given.default), max(highest, given.default))
        return st.one_of(
            plausible,
            plausible,
            st.sampled_from(near),
            st.floats(-10, 2 * high),
            st.floats(0.2, 3.0).map(lambda f: f * given.default),
        )
    if isinstance(given, NamedRows):
        return st.integers(0, 2**32)
    if isinstance(given, Blocks):
        places, sizes = (
            st.integers(0, 5).map(lambda n: 10.0 * n),
            st.integers(1, 4).map(lambda n: 10.0 * n) | st.floats(-1, 40),
        )
        row = st.tuples(st.sampled_from(given.shapes), places, places, places, sizes, sizes, sizes)
        return st.lists(row, min_size=1, max_size=4).map(tuple) | _bored(given) | st.just(given.default)
    if isinstance(given, Motions):
        rise = st.tuples(st.sampled_from(("harmonic", "uniform", "parabolic", "cycloidal")), st.floats(5, 60))
        parts = st.lists(st.floats(10, 120), min_size=4, max_size=4)
        return st.tuples(rise, rise, parts).map(_moved) | st.just(given.default)
    if isinstance(given, Angles):
        return st.lists(st.floats(0, 90) | st.just(90.0), min_size=4, max_size=4).map(lambda row: [[x] for x in row])
    if given.name == "stretches":
        stretch = st.tuples(st.floats(-5, 20), st.floats(25, 90), st.floats(1, 45))
        return st.lists(stretch, min_size=1, max_size=1) | st.just(given.default)
    if isinstance(given, Rows):
        wide = (
            st.tuples(*[st.floats(-150, 150) for _ in given.columns])
            if len(given.columns) > 1
            else (st.tuples(st.floats(0.1, 30) | st.just(0.0)))
        )
        return st.lists(wide, min_size=len(given.default), max_size=len(given.default)).map(tuple)
    return st.just(given.default)


def _bored(given: Blocks) -> st.SearchStrategy[Any]:
    """One block with holes that run through it, end in it, cut into each other or leave it aslant or beside."""
    solids, holes = ([shape for shape in given.shapes if ("hole" in shape) == hole] for hole in (False, True))
    sides = st.tuples(*[st.integers(20, 60).map(float)] * 3)
    hole = st.tuples(
        st.sampled_from(holes), *[st.integers(-8, 45).map(float)] * 3, *[st.integers(5, 45).map(float)] * 3
    )

    def rows(drawn: Any) -> tuple[tuple[Any, ...], ...]:
        shape, size, taken = drawn
        return ((shape, 0.0, 0.0, 0.0, *size), *taken)

    return st.tuples(st.sampled_from(solids), sides, st.lists(hole, min_size=1, max_size=3)).map(rows)


def _moved(drawn: Any) -> list[list[Any]]:
    """Motions that rise, dwell, fall back and dwell in a whole turn."""
    (up, lift), (down, _), parts = drawn
    angles = [360.0 * part / sum(parts) for part in parts]
    lifts = [lift, 0.0, -lift, 0.0]
    return [[law, angle, by] for law, angle, by in zip((up, "dwell", down, "dwell"), angles, lifts)]


def drawn_givens(kind: type[Figure]) -> st.SearchStrategy[dict[str, Any]]:
    """All givens of a figure."""

    def in_steps(values: dict[str, Any]) -> dict[str, Any]:
        """Turns that go by divisions or sides are drawn so half the time, told by the divisions being even."""

        if "vector_angle" in values and values["turns"] > 0 and 5 <= values["vector_angle"] <= 90:
            part = values["vector_angle"] / 360
            return {
                **values,
                "turns": max(round(values["turns"] / part), 1) * part,
                "ratio": 0.8 + values["ratio"] % 0.5,
            }
        if "over" in values and "reading" in values:  # a scale that can be drawn, and a mark of it
            values["over"] = UNITS[values["unit"]] / (4 + abs(values["over"]) % 20)
            fine = max(values.get("levels", 1), 1) * values["parts"] * values.get("steps", 1)
            values["reading"] = round(abs(values["reading"]) % max(values["range"], 1) * fine) / max(fine, 1)
        if "left_leg" in values and "shares" in values:  # legs that reach from one level side to the other
            wide = abs(values["ab"] - values["cd"]) or 10.0
            lean = 0.55 + values["left_leg"] % 1.5
            values = {**values, "left_leg": lean * wide, "right_leg": (lean - 0.5 + values["right_leg"] % 0.9) * wide}
        if "corners" in values and ("P" in values or "pitches" in values):  # a convex plot, a point about its middle
            count = len(values["corners"])
            turns = [math.radians((k + 0.4 + 0.002 * y) * 360 / count) for k, (_, y) in enumerate(values["corners"])]
            values["corners"] = tuple((80 * math.cos(turn), 60 * math.sin(turn)) for turn in turns)
            values = {**values, "P": tuple(0.15 * x for x in values["P"])} if "P" in values else values
        if "rows" in values and "path" in values:  # a seed: a profile made from its solution
            values["rows"], values["path"] = profile_at_random(values["rows"], values["ends"])
        if "core_diameter" in values:
            values = {**values, "core_diameter": values["outer_diameter"] * (0.2 + 0.8 * (values["core_diameter"] % 1))}
        if "enters" in values:  # solids of a size, that meet and reach through each other
            about = {"offset": 16.0, "slope": 35.0, "aside": 12.0}
            for name, one in kind.givens.items():
                if name in about:
                    values[name] = abs(values[name]) % about[name]
                elif one.kind == "length" and name != "reach":
                    values[name] = one.default * (0.85 + abs(values[name]) % 0.4)
            values = {**values, "reach": 1.5 * kind.givens["reach"].default, "seam": 1 + values.get("seam", 1) % 3}
            values = {name: value for name, value in values.items() if name in kind.givens}
        if "diameter_1" in values and "top" in values:  # balls of nearly one size
            for name in ("diameter_1", "diameter_2", "diameter_3", "top"):
                values[name] = kind.givens[name].default * (0.9 + abs(values[name]) % 0.25)
        parts = values.get("divisions") or values.get("sides") or values.get("centres") or 12
        if "turns" in values and parts > 0 and values["turns"] > 0:
            return (
                {**values, "turns": max(round(values["turns"] * parts), 1) / parts}
                if parts % 2 == 0 or "centres" in values
                else values
            )
        return values

    return st.fixed_dictionaries({name: given_values(given) for name, given in kind.givens.items()}).map(in_steps)


def profile_at_random(seed: int, ends: str = "closed") -> tuple[list[list[Any]], list[str]]:
    """Bosses round an oval and what joins each to the next, up to 24 rows that name a path: a tangent, a hollow arc, or
    a round one that holds both. Each radius is large enough to reach, so that every one exists."""
    draw = random.Random(seed)
    count = draw.randint(2, 11)
    places = [
        (140 * math.cos(turn) + draw.uniform(-4, 4), 90 * math.sin(turn) + draw.uniform(-4, 4))
        for turn in (math.tau * (k + draw.uniform(-0.1, 0.1)) / count for k in range(count))
    ]
    radii = [round(draw.uniform(5, 18), 2) for _ in places]
    rows: list[list[Any]] = [
        ["circle", f"C{k}", round(x, 3), round(y, 3), r, "left"] for k, ((x, y), r) in enumerate(zip(places, radii))
    ]
    path = []
    for k in range(count if ends == "closed" else count - 1):
        j, name = (k + 1) % count, f"J{k}"
        apart = math.dist(rows[k][2:4], rows[j][2:4])
        path += [f"C{k}", name]
        how = draw.choice(("tangent", "hollow", "round"))
        if how == "tangent":
            rows.append(["tangent", name, f"C{k}", f"C{j}"])
        elif how == "hollow":
            radius = round(max(apart - radii[k] - radii[j], 0.2) / 2 + draw.uniform(3, 60), 2)
            rows.append(["arc", name, radius, "right", f"C{k}", f"C{j}", "right"])
        else:
            radius = round((apart + radii[k] + radii[j]) / 2 + draw.uniform(3, 90), 2)
            rows.append(["arc", name, radius, "left", f"C{k}", f"C{j}", "left"])
    if ends == "open":
        last = f"C{count - 1}"
        rows += [["on", "E", "C0", draw.uniform(0, 360)], ["on", "Z", last, draw.uniform(0, 360)]]
        path = ["E", *path, last, "Z"]
    return rows, path
