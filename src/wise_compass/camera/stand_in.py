"""A stand-in for the camera: a drawn sheet on a table, photographed by hand, with the truth of where everything
lies."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from wise_compass.camera.pencil import FINE, Penned
from wise_compass.camera.raster import Pixels
from wise_compass.geometry.vectors import Array


class Shot(NamedTuple):
    """How a photograph is taken: millions of pixels, degrees of tilt both ways and of turn, a seed for what is left to
    chance, blur in pixels, curl in mm that the paper's ends stand up, how much of the picture the sheet fills
    (more than 1 cuts it off), noise, and how much more than usual the lens bends."""

    megapixels: float = 12.0
    tilt: tuple[float, float] = (8.0, -6.0)
    turn: float = 4.0
    seed: int = 0
    blur: float = 0.9
    curl: float = 0.0
    fill: float = 0.88
    noise: float = 4.0
    bend: float = 0.0


class Photograph(NamedTuple):
    """The pixels, (rows, columns, 3) as BGR, and where places of the paper come to lie in them, in pixels."""

    pixels: Pixels
    matrix: Array
    lens: tuple[float, float]
    size: tuple[int, int]


def photographed(penned: Penned, shot: Shot) -> Photograph:
    """Take it: perspective, lens, light, blur and noise. Places on the paper are mm from its lower left corner."""
    random = np.random.default_rng((shot.seed, 5))
    width = round(float(np.sqrt(shot.megapixels * 1e6 * 4 / 3)))
    height = round(width * 3 / 4)
    surface = penned.surface
    across, up = surface.pixels.shape[1] / FINE, surface.height
    focal = 0.85 * width * random.uniform(0.97, 1.03)
    matrix, eye = _pose(shot, across, up, focal, width, height)
    lens = (shot.bend + float(random.uniform(-0.06, 0.02)), float(random.uniform(-0.01, 0.01)))
    seen = _seen(surface.pixels, matrix, eye, shot, lens, (width, height), (across, up), focal)
    picture = _lit(seen, random, shot)
    return Photograph(picture, matrix, lens, (width, height))


def _pose(shot: Shot, across: float, up: float, focal: float, width: int, height: int) -> tuple[Array, Array]:
    """The homography from paper mm to ideal pixels, and where the eye stands over the paper."""
    tilt_x, tilt_y, turn = np.radians([shot.tilt[0], shot.tilt[1], shot.turn])
    about = [
        np.array([[1, 0, 0], [0, np.cos(tilt_x), -np.sin(tilt_x)], [0, np.sin(tilt_x), np.cos(tilt_x)]]),
        np.array([[np.cos(tilt_y), 0, np.sin(tilt_y)], [0, 1, 0], [-np.sin(tilt_y), 0, np.cos(tilt_y)]]),
        np.array([[np.cos(turn), -np.sin(turn), 0], [np.sin(turn), np.cos(turn), 0], [0, 0, 1]]),
    ]
    flip = np.diag([1.0, -1.0, -1.0])  # the paper has y upward and looks at the eye
    turned = about[0] @ about[1] @ about[2] @ flip
    inner = np.array([[focal, 0, width / 2], [0, focal, height / 2], [0, 0, 1]])
    centre = np.array([across / 2, up / 2, 0.0])
    far = 400.0
    for _ in range(30):  # until the sheet fills as much of the picture as it should
        move = np.array([0.0, 0.0, far]) - turned @ centre
        matrix = inner @ np.column_stack([turned[:, 0], turned[:, 1], move])
        corners = np.array([[0, 0, 1], [across, 0, 1], [across, up, 1], [0, up, 1]], dtype=float) @ matrix.T
        places = corners[:, :2] / corners[:, 2:]
        reach = np.abs(places - [width / 2, height / 2]).max(axis=0) / [width / 2, height / 2]
        far *= float(reach.max()) / shot.fill
    return matrix, -turned.T @ move


def _seen(
    paper: Pixels,
    matrix: Array,
    eye: Array,
    shot: Shot,
    lens: tuple[float, float],
    size: tuple[int, int],
    extent: tuple[float, float],
    focal: float,
) -> NDArray[np.float32]:
    """Every pixel of the picture, looked up on the paper; the table where there is none. It goes by bands of rows."""
    bands = [_seen_rows(rows, paper, matrix, eye, shot, lens, size, extent, focal) for rows in _bands(size[1])]
    return np.concatenate(bands)


ROWS = 256
"""Rows of the picture that are worked out at a time."""


def _bands(height: int) -> Iterator[range]:
    return (range(top, min(top + ROWS, height)) for top in range(0, height, ROWS))


def _seen_rows(
    rows: range,
    paper: Pixels,
    matrix: Array,
    eye: Array,
    shot: Shot,
    lens: tuple[float, float],
    size: tuple[int, int],
    extent: tuple[float, float],
    focal: float,
) -> NDArray[np.float32]:
    width, height = size
    x, y = _grid(width, rows)
    x, y = (x - width / 2) / focal, (y - height / 2) / focal
    square = x * x + y * y
    bend = 1.0 / (1.0 + lens[0] * square + lens[1] * square * square)
    x, y = x * bend * focal + width / 2, y * bend * focal + height / 2
    back = np.linalg.inv(matrix).astype(np.float32)
    deep = back[2, 0] * x + back[2, 1] * y + back[2, 2]
    across, up = (
        (back[0, 0] * x + back[0, 1] * y + back[0, 2]) / deep,
        (back[1, 0] * x + back[1, 1] * y + back[1, 2]) / deep,
    )
    if shot.curl:
        straight = across, up
        for _ in range(4):  # where the line of sight meets the curled paper
            lift = (shot.curl * (2.0 * across / extent[0] - 1.0) ** 2 / eye[2]).astype(np.float32)
            across, up = straight[0] + (eye[0] - straight[0]) * lift, straight[1] + (eye[1] - straight[1]) * lift
    table = 0.38 * 255
    columns, lines = (across * FINE - 0.5).astype(np.float32), ((extent[1] - up) * FINE - 0.5).astype(np.float32)
    return cv2.remap(
        paper, columns, lines, cv2.INTER_AREA | cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=(table,)
    ).astype(np.float32)


def _grid(width: int, rows: range) -> tuple[Any, Any]:
    """The columns and rows of every pixel of some rows."""
    x, y = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(rows.start, rows.stop, dtype=np.float32))
    return x, y


def _lit(seen: NDArray[np.float32], random: np.random.Generator, shot: Shot) -> Pixels:
    """Light that falls from one side, a soft shadow, blur and noise."""
    height, width = seen.shape
    over, down = (np.linspace(-1, 1, count, dtype=np.float32) for count in (width, height))
    way, edge = random.uniform(0, 2 * np.pi), random.uniform(0.2, 0.7)
    for rows in _bands(height):
        x, y = np.meshgrid(over, down[rows.start : rows.stop])
        light = 0.86 + 0.12 * (x * np.cos(way) + y * np.sin(way)) - 0.05 * (x * x + y * y)
        shadow = 1.0 / (1.0 + np.exp(-(x * np.sin(way) - y * np.cos(way) + edge) * 9.0))
        seen[rows.start : rows.stop] *= light.astype(np.float32) * (0.9 + 0.1 * shadow).astype(np.float32)
    if shot.blur > 0:
        seen = cv2.GaussianBlur(seen, (0, 0), shot.blur).astype(np.float32)
    made = np.empty((height, width, 3), dtype=np.uint8)
    for rows in _bands(height):
        part = seen[rows.start : rows.stop]
        coloured = np.stack([part * 0.93, part * 0.98, part], axis=-1)
        coloured += random.standard_normal(coloured.shape, dtype=np.float32) * shot.noise
        made[rows.start : rows.stop] = np.clip(coloured, 0, 255).astype(np.uint8)
    return made


def jpeg(photograph: Photograph, quality: int = 88) -> bytes:
    """The photograph as a JPEG file."""
    good, content = cv2.imencode(".jpg", photograph.pixels, [cv2.IMWRITE_JPEG_QUALITY, quality])
    assert good
    return bytes(content.tobytes())


def truth(penned: Penned, shot: Shot, code: str, told: dict[str, Any]) -> dict[str, Any]:
    """What the file beside a photograph tells: where each point truly shows, in mm from the paper's lower left
    corner."""
    points = {name: [round(float(x), 4) for x in at] for name, at in penned.points.items()}
    return {"format": "wise-compass-truth", "code": code, "points": points, "shot": shot._asdict(), **told}
