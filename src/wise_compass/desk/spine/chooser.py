"""Setting a new figure: the catalogue by family, a picture and a sentence each, searchable."""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import QEvent, QObject, QRectF, QSize, Qt
from PySide6.QtGui import QKeyEvent, QPainter
from PySide6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QDialogButtonBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.indexes import Index
from wise_compass.desk.parts.labels import wrapped
from wise_compass.desk.parts.theme import HAIRLINE, INK, PAPER, SOFT, TEAL, colour, font, px
from wise_compass.desk.spine.pictures import default_courses, paint_picture
from wise_compass.drafting.figure import FAMILIES, Figure
from wise_compass.drafting.kit import Drafter
from wise_compass.drafting.lacks import lacks
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import catalogue, figure_named
from wise_compass.job.person import own_drafter

KIND = Qt.ItemDataRole.UserRole


class _FigurePainter(QStyledItemDelegate):
    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        return QSize(300, px(78 if index.data(KIND) else 34))

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        kind: type[Figure] | None = index.data(KIND)
        box = option.rect
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if kind is None:
            painter.setFont(font(12, True))
            painter.setPen(colour(SOFT))
            painter.drawText(box.left() + 12, box.top() + 23, index.data())
            painter.setPen(colour(HAIRLINE))
            painter.drawLine(box.left() + 12, box.bottom() - 2, box.right() - 12, box.bottom() - 2)
            painter.restore()
            return
        if option.state & QStyle.StateFlag.State_Selected:
            painter.setBrush(colour(PAPER))
            painter.setPen(colour(TEAL))
            painter.drawRect(QRectF(box).adjusted(4.5, 2.5, -4.5, -2.5))
        picture = QRectF(box.left() + 20, box.top() + 13, 62, 52)
        paint_picture(painter, default_courses(kind.id), picture, INK, 1.6)
        left = box.left() + 100
        painter.setFont(font(15, True))
        painter.setPen(colour(INK))
        painter.drawText(left, box.top() + 27, kind.title)
        painter.setFont(font(13))
        painter.setPen(colour(SOFT))
        painter.drawText(QRectF(left, box.top() + 34, box.width() - 120, 40), Qt.TextFlag.TextWordWrap, kind.summary)
        painter.restore()


@lru_cache(maxsize=256)
def _told(figure: str, drafter: Drafter) -> str:
    kind = figure_named(figure)
    try:
        made = run(kind(), None, Conventions(drafter=drafter))
    except Refused:
        return ""
    missing = lacks(made.steps, drafter.kit)
    if not missing:
        return ""
    return f"With your kit, at its usual sizes: {PLAIN.say(missing[0].says)}; {missing[0].way}."


def kit_words(kind: type[Figure]) -> str:
    """What the drafter's kit lacks for a figure; empty where it serves."""
    return _told(kind.id, own_drafter())


class Chooser(Dialog):
    """Picks a figure; :attr:`picked` holds it after the dialog was accepted."""

    def __init__(self, parent: QWidget | None, can_share: bool) -> None:
        super().__init__(parent)
        self.setWindowTitle("Set a new figure")
        self.resize(620, 620)
        self.picked: type[Figure] | None = None
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search: a name, a use, a given …")
        self.search.setAccessibleName("Search the catalogue")
        self.search.textChanged.connect(self._fill)
        self.search.installEventFilter(self)
        self.list = QListWidget()
        self.list.setItemDelegate(_FigurePainter(self.list))
        self.list.setAccessibleName("Figures of the catalogue")
        self.list.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.list.setObjectName("choices")
        self.list.itemActivated.connect(lambda _: self.accept())
        self.share = QCheckBox("On the same sheet as the figure now shown")
        self.share.setEnabled(can_share)
        buttons = QDialogButtonBox()
        set_it = buttons.addButton("Set it", QDialogButtonBox.ButtonRole.AcceptRole)
        set_it.setDefault(True)
        buttons.addButton("Leave it", QDialogButtonBox.ButtonRole.RejectRole)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        self.none = QLabel("Nothing in the catalogue answers to that. Try a shorter word.")
        self.none.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.none.hide()
        self.kit = wrapped("What your kit cannot do of it", "hint")
        self.kit.hide()
        self.list.currentItemChanged.connect(lambda now, _: self._tell_kit(now))
        inside = QVBoxLayout(self)
        inside.addWidget(self.search)
        inside.addWidget(self.list, 1)
        inside.addWidget(self.none)
        inside.addWidget(self.kit)
        below = QHBoxLayout()
        below.addWidget(self.share, 1)
        below.addWidget(buttons)
        inside.addLayout(below)
        self._fill("")

    def _fill(self, wanted: str) -> None:
        self.list.clear()
        words = wanted.lower().split()
        family = ""
        for kind in catalogue().values():
            text = " ".join(
                (
                    kind.id,
                    kind.title,
                    kind.summary,
                    FAMILIES[kind.family],
                    *(g.says for g in kind.givens.values()),
                    *(m.title for m in kind.methods.values()),
                )
            ).lower()
            if not all(word in text for word in words):
                continue
            if kind.family != family:
                family = kind.family
                head = QListWidgetItem(FAMILIES[family])
                head.setFlags(Qt.ItemFlag.NoItemFlags)
                self.list.addItem(head)
            item = QListWidgetItem(kind.title)
            item.setData(KIND, kind)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{kind.title}. {kind.summary}")
            self.list.addItem(item)
        found = self.list.count() > 1
        self.none.setVisible(not found)
        if found:
            self.list.setCurrentRow(1)

    def _tell_kit(self, item: QListWidgetItem | None) -> None:
        """What the drafter's kit cannot do of the picked figure at its usual sizes, and a way round."""
        kind = item.data(KIND) if item is not None else None
        says = kit_words(kind) if kind is not None else ""
        self.kit.setVisible(bool(says))
        self.kit.setText(says)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Up and Down in the search move through what it found."""
        if watched is self.search and event.type() == QEvent.Type.KeyPress:
            assert isinstance(event, QKeyEvent)
            if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
                self.list.event(event)
                return True
        return super().eventFilter(watched, event)

    def accept(self) -> None:
        item = self.list.currentItem()
        self.picked = item.data(KIND) if item else None
        if self.picked is not None:
            super().accept()
