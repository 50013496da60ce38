"""Light hatching of flat faces in the front and the top view, only where nothing stands nearer to the eye, and of a
pattern's pieces."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wise_compass.drafting.run import Run
from wise_compass.drafting.views import View
from wise_compass.geometry.hidden import crossings_with, hidden_pieces
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.unfold import normal_of
from wise_compass.geometry.vectors import Array, direction, dot, left_of, length
from wise_compass.scene.scene import Scene
from wise_compass.sheet.drawing import Item, Line

SPACING = 3.2
"""mm on the sheet between two lines of a hatch."""
LEANS = (45.0, 135.0, 20.0, 110.0)
"""The way that each face's lines run, so that neighbours are told apart."""


def hatch_items(run: Run, origin: Array, scale: float) -> list[Item]:
    """The hatch of every face of a run's body that is placed with its origin there."""
    scene = Scene(run)
    items: list[Item] = []
    for view in scene.order[:2]:
        # of a closed skin no face that is turned away is seen, nor does it hide one that is not hidden by another
        faces = list(scene.body.faces) or [
            face.corners for face in scene.model.faces if float(dot(-normal_of(face.corners), _sight(view))) > 1e-6
        ]
        boxes = [(view.at(face).min(axis=0), view.at(face).max(axis=0)) for face in faces]
        for k, face in enumerate(faces):
            low, high = boxes[k]
            near = [j for j, box in enumerate(boxes) if j != k and (box[0] < high).all() and (low < box[1]).all()]
            others = [faces[j] for j in near]
            for line in _lines(face, others, view, LEANS[k % len(LEANS)], SPACING / scale, 1e-7 * scene.size):
                items.append(Line("hatch", 0, "", "hatch", origin + line * scale))
    pattern = run.pattern if run.parts else None
    for k, piece in enumerate(pattern.pieces if pattern is not None else ()):
        for line in _flat_lines(piece.flat, LEANS[k % len(LEANS)], SPACING / scale):
            items.append(Line("hatch", 0, "", "hatch", origin + line * scale))
    return items


def _flat_lines(outline: Array, lean: float, spacing: float) -> Iterator[Array]:
    """The hatch of a convex piece of the flat."""
    u = direction(lean)
    w = left_of(u)
    across = outline @ w
    reach = float(np.abs(outline @ u).max()) + 1.0
    for off in np.arange(np.ceil(across.min() / spacing) * spacing, across.max(), spacing):
        a, b = off * w - reach * u, off * w + reach * u
        cuts = crossings_with(a, b, outline, 0.0)
        if len(cuts) >= 2 and cuts[-1] - cuts[0] > 1e-9:
            yield np.array([a + (b - a) * cut for cut in (cuts[0], cuts[-1])])


def _lines(face: Array, others: list[Array], view: View, lean: float, spacing: float, same: float) -> Iterator[Array]:
    """The seen pieces of a face's hatch in a view, on the sheet."""
    sight = _sight(view)
    outline, normal = view.at(face), cross3(face[1] - face[0], face[2] - face[0])
    slope = float(dot(normal, sight))
    if abs(slope) < 1e-6 * float(length(normal)):
        return
    u = direction(lean)
    w = left_of(u)
    across = outline @ w
    reach = float(np.abs(outline @ u).max()) + 1.0
    first = np.ceil(across.min() / spacing) * spacing
    for off in np.arange(first, across.max(), spacing):
        a, b = off * w - reach * u, off * w + reach * u
        cuts = crossings_with(a, b, outline, same)
        if len(cuts) < 2 or cuts[-1] - cuts[0] < 1e-6:
            continue
        ends = [a + (b - a) * cut for cut in (cuts[0], cuts[-1])]
        p, q = (_lifted(end, face, normal, sight, slope, view) for end in ends)
        hidden = sorted(piece for other in others for piece in hidden_pieces(p, q, other, sight, same))
        at = 0.0
        for low, high in [*hidden, (1.0, 1.0)]:
            if low - at > 1e-6:
                yield view.at(np.array([p + (q - p) * at, p + (q - p) * low]))
            at = max(at, high)


def _sight(view: View) -> Array:
    """Towards the eye of the front or the top view."""
    sight = np.cross(view.across, view.away)
    return np.asarray(sight if float(sight[1] + sight[2]) > 0 else -sight)


def _lifted(on_sheet: Array, face: Array, normal: Array, sight: Array, slope: float, view: View) -> Array:
    """The place of a face's plane that a view shows at a place of the sheet."""
    flat = on_sheet - view.origin
    base = float(dot(flat, view.u)) * view.across + float(dot(flat, view.v)) * view.away
    return np.asarray(base + sight * (float(dot(face[0] - base, normal)) / slope))
