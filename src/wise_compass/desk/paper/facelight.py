"""The face that the current move is about, lit in every view, on the pattern and in space together."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QBrush, QPainter, QPen, QPolygonF

from wise_compass.desk.parts.theme import COPPER, on_paper
from wise_compass.desk.session.session import Session
from wise_compass.drafting.capabilities import Developed
from wise_compass.geometry.vectors import Array

if TYPE_CHECKING:
    from wise_compass.scene.model import FoldedSheet, Lifted


def face_now(session: Session) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The vertices on the body and the places of the flat that the current step's move is about; empty where there are
    none."""
    made = session.run
    if made is None or session.finished or not session.step:
        return (), ()
    figure = made.figure
    return figure.face_at(made.steps[session.step - 1].heading) if isinstance(figure, Developed) else ((), ())


def faces_on_paper(session: Session) -> list[list[Array]]:
    """Where that face lies in each view and on the pattern, in figure mm."""
    made = session.run
    names, keys = face_now(session)
    found = []
    for row in ([f"{name}.top" for name in names], [f"{name}.front" for name in names], list(keys)):
        if made is not None and row and all(key in made.spots for key in row):
            found.append([made.spots[key].here for key in row])
    return found


def face_in_space(session: Session, shape: Lifted | FoldedSheet | None, place: float) -> list[Array]:
    """Where it stands in space: on the body, or on the pattern so far folded."""
    made = session.run
    names, _ = face_now(session)
    if made is None or not names:
        return []
    from wise_compass.scene.model import FoldedSheet as Pattern

    if isinstance(shape, Pattern):
        pieces = shape.pattern.pieces
        k = next((k for k, piece in enumerate(pieces) if piece.names == names), None)
        return [] if k is None else list(shape.pattern.folded(place)[k])
    if shape is None and place > 0:  # the planes fold: nothing stands between them any more
        return []
    return [made.found[name] for name in names if name in made.found]


def light(painter: QPainter, corners: Sequence[QPointF], hatched: bool) -> None:
    """A light tint over a face, or a light hatch if wanted."""
    if len(corners) < 3:
        return
    painter.save()
    painter.setPen(QPen(on_paper(COPPER, 0.7), 1.0))
    style = Qt.BrushStyle.BDiagPattern if hatched else Qt.BrushStyle.SolidPattern
    painter.setBrush(QBrush(on_paper(COPPER, 0.5 if hatched else 0.16), style))
    painter.drawPolygon(QPolygonF(list(corners)))
    painter.restore()
