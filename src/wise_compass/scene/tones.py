"""The faces of a picture in three tones, under its lines: round skins come out in bands along their generators."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.capabilities import Picture, Solid
from wise_compass.drafting.run import Run
from wise_compass.geometry.unfold import normal_of
from wise_compass.geometry.vectors import Array
from wise_compass.scene.order import Pieces, SeenFaces
from wise_compass.sheet.drawing import Item, Line

SUN = np.array([-0.35, 0.6, 0.72])
"""Where light comes from in space: most from above, then from the front, least from the left."""
TONES = ((0.65, "skin_light"), (0.45, "skin"), (-2.0, "skin_dark"))
FACING = 1e-9


def tone_items(run: Run, origin: Array, scale: float) -> list[Item]:
    """The faces of a run's solid that its picture shows, the farthest first; none of figures that are no pictures of
    one."""
    picture = run.picture
    if picture is None or not isinstance(run.figure, Solid):
        return []
    faces = list(run.figure.skin())
    flats = [picture.at(face.corners) for face in faces]
    seen = [
        k
        for k, (face, flat) in enumerate(zip(faces, flats))
        if float(-normal_of(face.corners) @ picture.towards(face.corners.mean(axis=0))) > FACING
    ]
    if not seen:
        return []
    pictured = SeenFaces.of([_deep(picture, faces[k].corners) for k in seen], np.eye(3))
    parts = [(place, part) for place, k in enumerate(seen) for part in faces[k].filled]
    pictured.pieces = Pieces(
        np.concatenate([_deep(picture, part) for _, part in parts]),
        np.array([len(part) for _, part in parts]),
        np.array([place for place, _ in parts]),
    )
    found: list[Item] = []
    for place in pictured.back_to_front():
        k = seen[place]
        lit = float(-normal_of(faces[k].corners) @ SUN) / float(np.sqrt(SUN @ SUN))
        ink = next(name for least, name in TONES if lit > least)
        pieces = (picture.at(piece) for piece in faces[k].filled)
        found += [Line("tone", 0, "", ink, origin + flat * scale, closed=True, filled=True) for flat in pieces]
    return found


def _deep(picture: Picture, places: Array) -> Array:
    """Places (n, 3) as they are pictured, and how near each is; (n, 3)."""
    return np.concatenate([picture.at(places), picture.depth(places)[:, None]], axis=1)
