"""All sheets of the job as small papers: drawn one after another, so that the window never waits for them."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QAbstractListModel, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QPainter, QPen, QPixmap
from PySide6.QtWidgets import (
    QAbstractItemView,
    QLabel,
    QListView,
    QPushButton,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.paper.surface import PainterSurface
from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.indexes import Index
from wise_compass.desk.parts.theme import COPPER, HAIRLINE, INK, PAPER, SOFT, TEAL, colour, font, on_paper
from wise_compass.desk.parts.work import Later
from wise_compass.desk.session.session import Session
from wise_compass.drafting.wording import many
from wise_compass.job.build import build_sheet
from wise_compass.job.model import SheetPlan
from wise_compass.sheet.drawing import Drawing

CELL, PICTURE = QSize(192, 176), QSize(172, 126)
PENS = 3.2
"""Pixels to a millimetre of a line's width: thinner than the paper is shrunk, so that figures stay legible."""


class SheetPictures(QAbstractListModel):
    """The sheets, and the pictures of them that are drawn already."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.pictures: dict[int, tuple[object, QPixmap | str]] = {}

    def rowCount(self, parent: Index | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.session.job.sheets)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if role == Qt.ItemDataRole.DisplayRole:
            return self.session.job.sheets[index.row()].title
        if role == Qt.ItemDataRole.AccessibleTextRole:
            plan = self.session.job.sheets[index.row()]
            return f"Sheet {index.row() + 1}, {plan.title}, {many(len(plan.entries), 'figure')}"
        return None

    def picture(self, row: int) -> QPixmap | str | None:
        """A sheet's picture as it stands, why it has none, or None while it is still to be drawn."""
        have = self.pictures.get(row)
        return have[1] if have is not None and have[0] == self.key(row) else None

    def key(self, row: int) -> object:
        job = self.session.job
        plan: SheetPlan = job.sheets[row]
        return plan, job.settings, job.title, row, len(job.sheets)

    def draw(self, row: int, later: Later, then: Callable[[], object]) -> None:
        """Compose a sheet beside the window and make its picture; ``then`` what comes next."""
        job, plan, key = self.session.job, self.session.job.sheets[row], self.key(row)
        runs = {entry.id: made for entry in plan.entries if (made := self.session.standing(entry)) is not None}

        def keep(made: QPixmap | str) -> None:
            self.pictures[row] = (key, made)
            self.dataChanged.emit(self.index(row), self.index(row))
            then()

        later.ask(
            lambda: build_sheet(job, row, runs).drawing,
            lambda drawing: keep(small(drawing)),
            lambda refusal: keep(refusal.words(self.session.style)),
            held=0.0,
        )


def small(drawing: Drawing) -> QPixmap:
    """A drawing as a small paper; its lettering is left away, since none could read it."""
    zoom = min(PICTURE.width() / drawing.width, PICTURE.height() / drawing.height)
    pixmap = QPixmap(QSize(round(drawing.width * zoom), round(drawing.height * zoom)))
    pixmap.fill(on_paper(PAPER))
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    surface = PainterSurface(painter, Glass(zoom, 0.0, 0.0, drawing.height), least=0.3, pens=PENS)
    for item in drawing.items:
        if item.layer in ("result", "frame", "tone", "hatch") and item.polyline() is not None:
            item.put(surface)
    painter.end()
    return pixmap


class _Papers(QStyledItemDelegate):
    def __init__(self, sheets: SheetPictures, parent: QWidget) -> None:
        super().__init__(parent)
        self.sheets = sheets

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        return CELL

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        box, picture = option.rect, self.sheets.picture(index.row())
        painter.save()
        room = QRectF(box.left() + 12, box.top() + 10, PICTURE.width(), PICTURE.height())
        if isinstance(picture, QPixmap):
            at = QRectF(0, 0, picture.width(), picture.height())
            at.moveCenter(room.center())
            painter.drawPixmap(at.topLeft(), picture)
            chosen = bool(option.state & QStyle.StateFlag.State_Selected)
            painter.setPen(QPen(colour(TEAL if chosen else HAIRLINE), 3 if chosen else 1))
            painter.drawRect(at)
        else:
            painter.setPen(QPen(colour(HAIRLINE), 1, Qt.PenStyle.DashLine))
            painter.drawRect(room)
            painter.setFont(font(11))
            painter.setPen(colour(COPPER if picture else SOFT))
            painter.drawText(
                room.adjusted(6, 6, -6, -6), Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignCenter, picture or "…"
            )
        painter.setFont(font(12, True))
        painter.setPen(colour(INK))
        words = painter.fontMetrics().elidedText(
            f"{index.row() + 1}  {index.data()}", Qt.TextElideMode.ElideRight, CELL.width() - 24
        )
        painter.drawText(
            QRectF(box.left() + 12, box.top() + PICTURE.height() + 16, CELL.width() - 24, 20),
            Qt.AlignmentFlag.AlignHCenter,
            words,
        )
        painter.restore()


class Overview(Dialog):
    """The papers of a job beside each other; the one picked is shown when it closes."""

    def __init__(self, parent: QWidget, session: Session, model: SheetPictures | None = None) -> None:
        super().__init__(parent)
        self.session, self.model = session, model or SheetPictures(session)
        self.setWindowTitle("All sheets")
        self.resize(min(parent.width() - 60, 1240), min(parent.height() - 60, 760))
        job = session.job
        self.head = QLabel(f"{job.title}: {len(job.sheets)} sheets. Enter shows the one marked, Escape leaves.")
        self.head.setObjectName("hint")
        self.list = QListView()
        self.list.setAccessibleName("Sheets of the job")
        self.list.setViewMode(QListView.ViewMode.IconMode)
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setMovement(QListView.Movement.Static)
        self.list.setUniformItemSizes(True)
        self.list.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.list.setItemDelegate(_Papers(self.model, self.list))
        self.list.setModel(self.model)
        self.list.activated.connect(self.show_sheet)
        self.list.clicked.connect(self.show_sheet)
        close = QPushButton("Cancel")
        close.setAutoDefault(False)
        close.clicked.connect(self.reject)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(18, 14, 18, 14)
        inside.addWidget(self.head)
        inside.addWidget(self.list, 1)
        inside.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        at = job.find(session.entry_id)
        if at is not None:
            self.list.setCurrentIndex(self.model.index(at[0]))
            self.list.scrollTo(self.model.index(at[0]))
        self._later, self._next = Later(self), QTimer(self)
        self._next.setSingleShot(True)
        self._next.timeout.connect(self._draw_one)
        self._next.start(0)
        self.finished.connect(self._later.drop)
        self.list.setFocus()

    def _draw_one(self) -> None:
        """Draw one of the papers that are missing, those in sight first."""
        missing = [row for row in range(self.model.rowCount()) if self.model.picture(row) is None]
        if not missing:
            return
        sight = self.list.viewport().rect()
        seen = (row for row in missing if self.list.visualRect(self.model.index(row)).intersects(sight))
        self.model.draw(next(seen, missing[0]), self._later, lambda: self._next.start(0))

    def settle(self) -> None:
        """Until the paper that is being drawn is there."""
        self._later.settle()

    @property
    def drawing(self) -> bool:
        """Whether papers are still to be drawn."""
        return self._next.isActive() or self._later.busy

    def show_sheet(self, index: Index) -> None:
        """Show a sheet and leave."""
        entries = self.session.job.sheets[index.row()].entries
        if entries:
            self.session.select(entries[0].id)
        self.accept()
