"""Photographs of another make: ``PYTHONPATH=src:. .venv/bin/python -m bench.apart.photographs [OF EACH] [FOLDER]``.

The blank sheet is the one that is printed, painted by Qt from its SVG; a hand of :mod:`bench.apart.hand` draws on it
with a lead that the paper's tooth breaks up, pricks, letters and rubs out; a telephone looks at it from somewhere above
a wooden table. Nothing of the program's own simulators is used. With a folder the pictures are kept there.
"""

from __future__ import annotations

import io
import sys
import time
from collections import Counter
from collections.abc import Mapping
from pathlib import Path
from typing import Any, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image
from PySide6.QtCore import QByteArray, QPointF, Qt
from PySide6.QtGui import QColor, QFont, QGuiApplication, QImage, QPainter, QPen, QPolygonF
from PySide6.QtSvg import QSvgRenderer
from scipy.ndimage import gaussian_filter

from bench.apart.__main__ import givens_of
from bench.apart.constructions import CONSTRUCTIONS
from bench.apart.hand import Array, Blundered, Drawn, Hand
from wise_compass.camera.judging import judged
from wise_compass.camera.laid import Laid, blank, laid_of
from wise_compass.camera.picture import picture_of
from wise_compass.camera.reading import Reading, read_pixels
from wise_compass.drafting.refusals import Refused
from wise_compass.outputs.svg import svg_text
from wise_compass.practice.problems import Problem

FINE = 14
"""Pixels to a mm of the paper."""
WRONG = 0.5
"""mm from which a point was read in a wrong place: from where the hand had it, and from where its lines cross beside
it."""
BESIDE = 1.2
"""mm from a point within which lines that cross show it, where a hand's lines miss each other."""
UNDRAWN = {"archimedean-spiral", "circle-three-points", "trapezium", "hyperbola", "line-from-views"}
"""Whose functions tell points and draw no lines."""
Grey = NDArray[np.float32]


def _image(width: int, height: int, fill: Qt.GlobalColor) -> QImage:
    image = QImage(width, height, QImage.Format.Format_Grayscale8)
    image.fill(fill)
    return image


def _values(image: QImage) -> Grey:
    """The greys of an image, (rows, columns), from 0 to 1."""
    rows = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(image.height(), image.bytesPerLine())
    return (rows[:, : image.width()] / 255.0).astype(np.float32)


def printed(laid: Laid) -> Grey:
    """The blank sheet as a printer makes it."""
    sheet = blank(laid)
    image = _image(round(sheet.width * FINE), round(sheet.height * FINE), Qt.GlobalColor.white)
    painter = QPainter(image)
    QSvgRenderer(QByteArray(svg_text(sheet).encode())).render(painter)
    painter.end()
    return _values(image)


def pencilled(laid: Laid, hand: Hand, drawn: Drawn, shape: tuple[int, int]) -> Grey:
    """How dark the lead lies, (rows, columns), from 0 to 1."""
    random = np.random.default_rng((hand.seed, 71))
    image = _image(shape[1], shape[0], Qt.GlobalColor.black)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def place(at: Array) -> QPointF:
        x, y = laid.on_paper(at)
        return QPointF(x * FINE, shape[0] - y * FINE)

    lead, soft = random.uniform(0.18, 0.3), random.uniform(0.38, 0.6)
    for stroke in hand.pencil.strokes:
        long = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(stroke.places, axis=0).T))])
        parts = max(int(long[-1] / 3.0), 1)
        press = np.convolve(random.normal(0.0, 1.0, parts + 8), np.ones(8) / 3.0, "same")
        for k in range(parts):
            at = np.linspace(long[-1] * k / parts, long[-1] * (k + 1) / parts, 8)
            piece = np.stack([np.interp(at, long, stroke.places[:, axis]) for axis in (0, 1)], axis=1)
            width = (soft if stroke.lined else lead) * (1.0 + 0.08 * press[k])
            dark = int(np.clip((215 if stroke.lined else 140) + 14 * press[k], 70, 250))
            pen = QPen(QColor(dark, dark, dark), width * FINE)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            painter.drawPolyline(QPolygonF([place(one) for one in piece]))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(200, 200, 200))
    for prick in hand.pencil.pricks:
        painter.drawEllipse(place(prick), 0.14 * FINE, 0.14 * FINE)
    painter.setPen(QColor(150, 150, 150))
    for name, at in drawn.items():
        font = QFont("Osifont")
        font.setPixelSize(round(random.uniform(2.6, 3.8) * FINE))
        painter.setFont(font)
        painter.drawText(place(at) + QPointF(*(random.uniform(1.2, 2.6, 2) * [1, -1] * FINE)), name)
    painter.end()
    tooth = gaussian_filter(random.standard_normal((1021, 1021), dtype=np.float32), 1.6, mode="wrap")
    over = np.tile(1.0 + 0.22 * tooth / tooth.std(), [size // 1021 + 1 for size in shape])[: shape[0], : shape[1]]
    return np.asarray(np.minimum(_values(image) * over, 1.0), dtype=np.float32)


def sheet(laid: Laid, hand: Hand, drawn: Drawn) -> Grey:
    """The sheet as it lies on the table: what it throws back, from 0 to 1."""
    random = np.random.default_rng((hand.seed, 72))
    print_ = printed(laid)
    lead = pencilled(laid, hand, drawn, print_.shape)
    rows, columns = print_.shape
    for _ in range(int(random.integers(1, 4))):  # rubbed out across, or smeared by the heel of the hand
        y, x, size = random.uniform(0.2, 0.8) * rows, random.uniform(0.2, 0.8) * columns, random.uniform(2, 5) * FINE
        place = slice(max(int(y - size), 0), int(y + size)), slice(max(int(x - 2 * size), 0), int(x + 2 * size))
        if random.integers(2):
            lead[place] *= 0.55
        else:
            lead[place] = 0.75 * lead[place] + 0.25 * gaussian_filter(lead[place], 0.5 * FINE)
    blotched = gaussian_filter(random.normal(0.0, 1.0, (rows // 40 + 2, columns // 40 + 2)), 1.5)
    paper = np.kron(blotched, np.ones((40, 40)))[:rows, :columns] * 0.01 + 0.9
    return np.asarray(paper * (0.1 + 0.9 * print_) * (1.0 - 0.72 * lead), dtype=np.float32)


class Telephone:
    """A camera somewhere over the table: where it stands, which way it looks, its lens."""

    def __init__(self, paper: Grey, seed: int) -> None:
        self.random = random = np.random.default_rng((seed, 73))
        self.width = int(random.choice([3264, 3648, 4000]))
        self.height = self.width * 3 // 4
        self.across, self.up = paper.shape[1] / FINE, paper.shape[0] / FINE
        self.focal = random.uniform(0.72, 0.95) * self.width
        self.lens = float(random.uniform(-0.05, 0.05)), float(random.uniform(-0.02, 0.02))
        aim = np.array([self.across / 2, self.up / 2, 0.0]) + [*random.uniform(-6, 6, 2), 0.0]
        lean, way = np.radians(random.uniform(0.0, 24.0)), random.uniform(0.0, 2 * np.pi)
        look = -np.array([np.sin(lean) * np.cos(way), np.sin(lean) * np.sin(way), np.cos(lean)])
        roll = np.radians(random.uniform(-9.0, 9.0) + (180.0 if random.uniform() < 0.12 else 0.0))
        above = np.array([-np.sin(roll), np.cos(roll), 0.0])
        right = np.cross(look, above)
        right /= np.linalg.norm(right)
        self.turn = np.stack([right, np.cross(look, right), look])  # rows: right, down and away, as the camera has them
        far = 100.0
        corners = np.array([[0, 0, 0], [self.across, 0, 0], [self.across, self.up, 0], [0, self.up, 0]], dtype=float)
        while True:  # steps back until the whole sheet is in the picture
            self.eye = aim - far * look
            seen = (corners - self.eye) @ self.turn.T
            flat = np.abs(seen[:, :2] / seen[:, 2:]) * self.focal
            if (
                (seen[:, 2] > 0).all()
                and flat[:, 0].max() < 0.46 * self.width
                and flat[:, 1].max() < 0.46 * self.height
            ):
                break
            far *= 1.01

    def rays(self, rows: slice) -> Array:
        """Where the rays of some rows' pixels meet the table: (…, 2) mm."""
        x = np.arange(self.width) + 0.5 - self.width / 2
        y = np.arange(rows.start, rows.stop) + 0.5 - self.height / 2
        across, down = np.meshgrid(x / self.focal, y / self.focal)
        square = across**2 + down**2
        bend = 1.0 + self.lens[0] * square + self.lens[1] * square**2
        ways = np.stack([across * bend, down * bend, np.ones_like(across)], axis=-1) @ self.turn
        return np.asarray((self.eye - ways * (self.eye[2] / ways[..., 2:]))[..., :2])

    def picture(self, paper: Grey) -> NDArray[np.uint8]:
        """What it takes: (rows, columns, 3)."""
        grain = self.random.uniform(0, 2 * np.pi)
        paper = cv2.GaussianBlur(paper, (0, 0), 0.6)  # a pixel gathers the light of its whole width
        made = np.empty((self.height, self.width), dtype=np.float32)
        for top in range(0, self.height, 96):
            rows = slice(top, min(top + 96, self.height))
            at = self.rays(rows)
            x, y = at[..., 0], at[..., 1]
            seen = cv2.remap(
                paper,
                (x * FINE - 0.5).astype(np.float32),
                ((self.up - y) * FINE - 0.5).astype(np.float32),
                cv2.INTER_CUBIC,
                borderMode=cv2.BORDER_REPLICATE,
            )
            wood = 0.42 + 0.05 * np.sin((x * np.cos(grain) + y * np.sin(grain)) * 0.9 + 2 * np.sin(0.02 * (x - y)))
            inside = (x >= 0) & (x <= self.across) & (y >= 0) & (y <= self.up)
            made[rows] = np.where(inside, seen, wood)
        return self._developed(made)

    def _developed(self, made: Grey) -> NDArray[np.uint8]:
        """Lamps, the shadow of a hand, the lens's softness, a trembling hand, the sensor's mosaic and what the
        telephone makes of it."""
        random = self.random
        y, x = np.mgrid[-0.75 : 0.75 : self.height * 1j, -1.0 : 1.0 : self.width * 1j].astype(np.float32)
        lamp = random.uniform(-1.5, 1.5), random.uniform(-1.5, 1.5)
        light = 1.1 / (1.0 + 0.1 * ((x - lamp[0]) ** 2 + (y - lamp[1]) ** 2)) / (1.0 + 0.12 * (x**2 + y**2)) ** 2
        bow = (x - float(random.choice([-1.1, 1.1]))) ** 2 + (y - random.uniform(-0.9, 0.9)) ** 2 * 1.8
        light *= 1.0 - 0.22 / (1.0 + np.exp(np.minimum((bow - random.uniform(0.1, 0.5)) * 24.0, 60.0)))
        made = cv2.GaussianBlur(made * light, (0, 0), random.uniform(0.6, 1.1))
        tremble = np.zeros((5, 5), dtype=np.float32)
        way, size = random.uniform(0, 2 * np.pi), random.uniform(0.0, 1.2)
        for share in np.linspace(-1, 1, 9):
            tremble[round(2 + share * size * np.sin(way)), round(2 + share * size * np.cos(way))] += 1.0
        made = cv2.filter2D(made, -1, tremble / tremble.sum())
        tints = 1.0, 0.95, random.uniform(0.72, 0.9)
        which = np.array([[0, 1], [1, 2]])[np.arange(self.height)[:, None] % 2, np.arange(self.width) % 2]
        mosaic = made * np.array(tints, dtype=np.float32)[which]
        noise = random.uniform(0.008, 0.02) * np.sqrt(np.maximum(mosaic, 0.0)) + 0.004
        mosaic += noise * random.standard_normal(mosaic.shape, dtype=np.float32)
        cross = np.array([[0, 1, 0], [1, 4, 1], [0, 1, 0]], dtype=np.float32) / 4.0
        full = np.array([[1, 2, 1], [2, 4, 2], [1, 2, 1]], dtype=np.float32) / 4.0
        colours = np.stack(
            [cv2.filter2D(mosaic * (which == k), -1, cross if k == 1 else full) for k in range(3)], axis=-1
        )
        grey = colours.mean(axis=-1)
        sharper = 0.5 * (grey - cv2.GaussianBlur(grey, (0, 0), 1.8))
        colours = np.clip((colours + sharper[..., None]) * random.uniform(0.85, 1.05), 0.0, 1.0)
        toned = colours**0.9
        return np.asarray((toned * toned * (3.0 - 2.0 * toned) * 0.4 + toned * 0.6) * 255.0, dtype=np.uint8)


def jpeg(pixels: NDArray[np.uint8], quality: int) -> bytes:
    kept = io.BytesIO()
    Image.fromarray(pixels).save(kept, "JPEG", quality=quality)
    return kept.getvalue()


def problem_for(figure: str, method: str, givens: Mapping[str, Any]) -> Laid:
    """The first paper on which it lies at full size."""
    for paper in ("A4", "A3", "A2"):
        try:
            return laid_of(Problem(figure, method, dict(givens), paper))
        except Refused:
            continue
    raise Refused("paper", f"{figure} lies on no paper at full size.")


def crossings_beside(hand: Hand, at: Array) -> list[Array]:
    """Where two of a hand's strokes cross beside a point."""
    pieces = []
    for stroke in hand.pencil.strokes:
        one, other = stroke.places[:-1], stroke.places[1:]
        away = other - one
        share = np.clip(((at - one) * away).sum(axis=1) / np.maximum((away**2).sum(axis=1), 1e-12), 0.0, 1.0)
        far = np.hypot(*(one + share[:, None] * away - at).T)
        near = np.flatnonzero(far < BESIDE)
        pieces.append(np.stack([one[near], away[near]], axis=1))
    found = []
    for k, mine in enumerate(pieces):
        for theirs in pieces[:k]:
            for p, u in mine:
                for q, v in theirs:
                    turn = u[0] * v[1] - u[1] * v[0]
                    s, t = np.linalg.solve(np.stack([u, -v], axis=1), q - p) if abs(turn) > 1e-9 else (2.0, 2.0)
                    if 0.0 <= s <= 1.0 and 0.0 <= t <= 1.0 and np.hypot(*(p + s * u - at)) < BESIDE:
                        found.append(p + s * u)
    return found


class Sheet(NamedTuple):
    """A drawing photographed: the picture's bytes, what lies where, who drew it and where they had its points."""

    content: bytes
    laid: Laid
    hand: Hand
    drawn: Drawn


def photographed(figure: str, method: str, hand: Hand) -> Sheet:
    """A hand's drawing of the usual givens on a table; raises :class:`Blundered` where it comes to no crossing."""
    givens = givens_of(figure)
    laid = problem_for(figure, method, givens)
    drawn = CONSTRUCTIONS[figure, method](hand, givens)
    paper = sheet(laid, hand, drawn)
    quality = int(np.random.default_rng((hand.seed, 74)).integers(78, 94))
    return Sheet(jpeg(Telephone(paper, hand.seed).picture(paper), quality), laid, hand, drawn)


def errors_of(reading: Reading, made: Sheet) -> dict[str, float]:
    """How far each point that was found lies from where the hand had it, or where its lines cross beside it, in mm."""
    errors = {}
    for name, at in made.drawn.items():
        if name in reading.points:
            places = made.laid.on_paper(np.array([at, *crossings_beside(made.hand, at)]))
            errors[name] = float(np.hypot(*(places - reading.points[name]).T).min())
    return errors


def hand_of(figure: str, method: str, seed: int) -> Hand:
    """The hand of a number; every fourth reads one length or angle 4 to 12 mm or degrees off."""
    readings = Hand(0)
    CONSTRUCTIONS[figure, method](readings, givens_of(figure))
    random = np.random.default_rng((seed, len(figure), 74))
    wrong = None
    if seed % 4 == 3:
        off = float(random.uniform(4.0, 12.0) * random.choice([-1, 1]))
        wrong = int(random.integers(len(readings.readings))), lambda size: size + off
    which = list(CONSTRUCTIONS).index((figure, method))
    return Hand(15000 + 100 * which + seed, wrong)


def main(count: int = 4, folder: Path | None = None) -> dict[str, Any]:
    """Photograph, read and judge so many of each figure, honest ones and some with a reading off in turn."""
    tally: Counter[str] = Counter()
    errors: list[float] = []
    seconds: list[float] = []
    for figure, method in CONSTRUCTIONS:
        for seed in range(count if figure not in UNDRAWN else 0):
            hand = hand_of(figure, method, seed)
            kind = "honest" if hand.wrong is None else "off"
            try:
                made = photographed(figure, method, hand)
            except Blundered:
                continue
            if folder is not None:
                (folder / f"{figure}-{seed}.jpg").write_bytes(made.content)
            told = f"{figure} {seed} {kind}"
            began = time.perf_counter()
            try:
                reading = read_pixels(picture_of(made.content))
                checked = judged(reading)
            except Refused as refusal:
                tally[f"{kind}, refused"] += 1
                print(told, "refused:", refusal.says, flush=True)
                continue
            seconds.append(time.perf_counter() - began)
            far = errors_of(reading, made)
            errors += far.values()
            said = {*reading.finding.missing, *reading.finding.crowded, *reading.finding.adrift}
            silent = made.drawn.keys() - far.keys() - said
            tally["points said to be missing"] += len(made.drawn.keys() - far.keys() - silent)
            tally["points left out in silence"] += len(silent)
            wrong = None if hand.wrong is None else hand.readings[hand.wrong[0]]
            right = checked.kind == "honest" if wrong is None else wrong in checked.verdict.alike
            tally[f"{kind}, {'right' if right else checked.kind}"] += 1
            if silent or not right or max(far.values(), default=0.0) > WRONG:
                best = [(one.kind, one.id or one.step) for one in checked.verdict.explanations[:2]]
                bad = {name: round(one, 2) for name, one in far.items() if one > WRONG}
                print(told, "step", wrong, "told", best, "far", bad, "silent", silent, flush=True)
    all_of = np.array(errors)
    return {
        **dict(sorted(tally.items())),
        "points": len(all_of),
        "off_at_the_median_mm": round(float(np.median(all_of)), 3),
        "off_in_95_of_100_mm": round(float(np.quantile(all_of, 0.95)), 3),
        "wrong": int((all_of > WRONG).sum()),
        "seconds_at_the_median": round(float(np.median(seconds)), 2),
        "seconds_at_most": round(max(seconds), 2),
    }


if __name__ == "__main__":
    application = QGuiApplication.instance() or QGuiApplication(sys.argv[:1])
    words = sys.argv[1:]
    for key, value in main(int(words[0]) if words else 4, Path(words[1]) if len(words) > 1 else None).items():
        print(f"{key}: {value}")
