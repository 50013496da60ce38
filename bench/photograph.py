"""How well photographs are read: simulated sheets over many figures, by ``python -m bench.photograph [SHARE]``; 1 is
200 of them.

Points found, how far off, points wrongly found, slips and lone steps judged from the photograph beside exact
measurements, bad photographs refused, and seconds. A point is wrongly found where it is over half a millimetre from
where it shows.
"""

from __future__ import annotations

import sys
import time
from collections import Counter
from collections.abc import Iterator

import numpy as np

from wise_compass.camera.finding import adrift_in, crowded_in
from wise_compass.camera.judging import judged, measures_of
from wise_compass.camera.laid import laid_of
from wise_compass.camera.pencil import Penned, pencilled
from wise_compass.camera.picture import picture_of
from wise_compass.camera.reading import read_pixels
from wise_compass.camera.stand_in import Shot, jpeg, photographed
from wise_compass.drafting.refusals import Refused
from wise_compass.practice.setting import set_problem
from wise_compass.study.judge import Judge
from wise_compass.study.measures import Taken

FIGURES = (
    "bisect-angle", "triangle-three-sides", "triangle-circumradius-angles", "polygon-on-side", "polygon-in-circle",
    "star-polygon", "rectangle",
    "rhombus", "trapezium", "fillet", "arc-two-circles", "common-tangents", "reverse-curve", "ellipse", "parabola",
    "cycloid",
    "archimedean-spiral", "skew-lines", "frustum", "pictorial-block",
)  # fmt: skip
PHOTOGRAPHS = 200
WRONG = 0.5


def shots(count: int, random: np.random.Generator) -> Iterator[Shot]:
    """Photographs by hand: tilts to 25°, 6 to 12 megapixels, turned any way."""
    for k in range(count):
        tilt = random.uniform(-1, 1, 2)
        tilt *= random.uniform(0, 25) / max(float(np.hypot(*tilt)), 1e-9)
        turn = float(random.uniform(-8, 8) + (180 if k % 7 == 3 else 0))
        yield Shot(
            float(random.uniform(6, 12)), (float(tilt[0]), float(tilt[1])), turn, k, float(random.uniform(0.7, 1.2))
        )


def main() -> None:
    """Print what came of them."""
    share = float(sys.argv[1]) if len(sys.argv) > 1 else 1.0
    random = np.random.default_rng(20)
    errors: list[float] = []
    points = found = 0
    seconds: list[float] = []
    told: Counter[str] = Counter()
    kinds: Counter[str] = Counter()
    for k, shot in enumerate(shots(max(int(PHOTOGRAPHS * share), 1), random)):
        figure = FIGURES[k % len(FIGURES)]
        laid = laid_of(set_problem(figure, random))
        kind = ("honest", "slip", "step")[(k // len(FIGURES)) % 3]
        slips = laid.run.slips
        slip = slips[int(random.integers(len(slips)))].id if kind == "slip" and slips else None
        settings = [step.n for step in laid.run.steps if any(not one.words for one in step.settings)]
        off = (
            (int(random.choice(settings)), float(random.uniform(8, 20) * random.choice([-1, 1])))
            if kind == "step" and settings
            else None
        )
        try:
            penned = pencilled(laid, k + 1, slip, off)
        except Refused as refusal:
            told[f"not drawn: {refusal.says[:40]}"] += 1
            continue
        left, bottom, right, top = laid.paper.frame
        at = np.array(list(penned.points.values()))
        if (at < [left, bottom]).any() or (at > [right, top]).any():
            told["not photographed: it runs off its sheet"] += 1
            continue
        grey = picture_of(jpeg(photographed(penned, shot)))
        begun = time.perf_counter()
        adrift = adrift_in(laid)
        shown = [name for name in penned.points if name not in {*crowded_in(laid.run, laid.scale), *adrift}]
        points += len(shown)
        try:
            reading = read_pixels(grey)
        except Refused as refusal:
            told[f"refused: {refusal.says[:60]}"] += 1
            print(f"{k} {figure} {kind} {slip or off or ''} REFUSED {refusal.says[:90]}", flush=True)
            continue
        seconds.append(time.perf_counter() - begun)
        mine = {name: _off(penned, name, at) for name, at in reading.points.items() if name in penned.points}
        found += len([name for name in mine if name in shown])
        errors += mine.values()
        far = {name: round(one, 2) for name, one in mine.items() if one > WRONG}
        missing = [name for name in shown if name not in mine]
        if far or missing:
            print(
                f"{k} {figure} {kind} {slip or off or ''} read as {reading.finding.slip} far {far} missing {missing}",
                flush=True,
            )
        try:
            taken, cover = measures_of(reading)
        except Refused as refusal:
            told[f"read, not judged: {refusal.says[:60]}"] += 1
            continue
        by_photo = judged(reading).verdict
        exact = _exactly(laid, penned.points, taken, cover)
        verdicts = {"photo": by_photo, "exact": exact}
        for by, verdict in verdicts.items():
            right = (
                verdict.verdict == "honest" if slip is None and off is None
                else verdict.verdict == "slip" and verdict.best.id == slip if slip is not None
                else off is not None and (verdict.best.step == off[0] or off[0] in verdict.alike)
            )  # fmt: skip
            kinds[f"{kind} by {by}: {'right' if right else 'else'}"] += 1
    a = np.array(errors)
    print(f"points found {found} of {points}, {found / points:.1%} (limit 98 %)")
    print(f"off by {np.median(a):.3f} mm at the median (0.1), {np.quantile(a, 0.95):.3f} in 95 of 100 (0.25)")
    print(f"wrongly found {np.mean(a > WRONG):.2%} (0.3 %)")
    print(f"{np.median(seconds):.2f} s a photograph at the median, {max(seconds):.2f} at most (4)")
    for name, count in sorted({**kinds, **told}.items()):
        print(f"{count:5} {name}")
    _bad_ones()


def _off(penned: Penned, name: str, at: np.ndarray) -> float:
    """How far a point was found from where it shows; where a blunder parts its lines by more than :data:`WRONG`, from
    where the hand had it if that is nearer."""
    shows, had = penned.points[name], penned.had[name]
    off = float(np.hypot(*(at - shows)))
    return min(off, float(np.hypot(*(at - had)))) if float(np.hypot(*(shows - had))) > WRONG else off


def _exactly(laid: object, shown: dict[str, np.ndarray], taken: list[Taken], cover: np.ndarray) -> object:
    """The verdict from where the points truly show."""
    again = [one._replace(value=_size(one, shown)) for one in taken]
    return Judge(laid.run, laid.scale).judge(again, np.eye(len(again)) * 0.03**2)


def _size(one: Taken, shown: dict[str, np.ndarray]) -> float:
    a, b = (shown[name] for name in one.measure.points)
    return float(np.hypot(*(a - b)))


def _bad_ones() -> None:
    """Curled, cut off, blurred, another sheet, none at all: each has to be refused."""
    random = np.random.default_rng(4)
    refused: Counter[str] = Counter()
    for k in range(6):
        laid, other = (laid_of(set_problem("rhombus", random)) for _ in range(2))
        penned = pencilled(laid, k)
        for name, shot, told in (
            ("curl of 3 mm", Shot(12, (14.0, -9.0), 3.0, k, curl=3.0), None),
            ("cut off", Shot(12, (6.0, 4.0), 3.0, k, fill=1.25), None),
            ("blurred by 6 px", Shot(12, (6.0, 4.0), 3.0, k, blur=6.0), None),
            ("another sheet", Shot(12, (6.0, 4.0), 3.0, k), other),
        ):
            try:
                read_pixels(picture_of(jpeg(photographed(penned, shot))), told)
            except Refused:
                refused[name] += 1
        nothing = random.normal(120, 30, (1500, 2000)).clip(0, 255).astype(np.uint8)
        try:
            read_pixels(nothing)
        except Refused:
            refused["no sheet at all"] += 1
    print("refused, of 6 each:", dict(refused))


if __name__ == "__main__":
    main()
