"""A lesson in the real window: a card with one task, an arrow to the place, on to the next once it is done; left at any
time, and taken up again."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from functools import partial

from PySide6.QtCore import QPointF, QRect, QRectF, Qt, QTimer
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from wise_compass.desk.lessons.tasks import LESSONS, LessonPlan, Taught
from wise_compass.desk.parts.labels import button, wrapped
from wise_compass.desk.parts.theme import COPPER, colour, wide
from wise_compass.desk.places.place import SIDE
from wise_compass.desk.spine.spinelist import WIDTH
from wise_compass.drafting.refusals import Refused
from wise_compass.job.model import Job
from wise_compass.job.person import change_person, person

LOOK_MS, PRAISE_MS = 200, 900
"""How often it is looked whether a task is done, and how long that is said."""
WIDE = 316


class LessonCard(QFrame):
    """The task at hand, over the lower part of the board."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("lesson")
        self.setFixedWidth(wide(WIDE))
        self.setAccessibleName("Lesson")
        self.where, self.says = wrapped("Which task", "hint"), wrapped("The task", "task")
        self.skip, self.leave = button("Skip it", lambda: None), button("Leave the lesson", lambda: None)
        line = QHBoxLayout()
        line.addStretch(1)
        line.addWidget(self.skip)
        line.addWidget(self.leave)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(18, 14, 18, 14)
        inside.setSpacing(8)
        for part in (self.where, self.says):
            inside.addWidget(part)
        inside.addLayout(line)


class Arrow(QWidget):
    """Leads from the card to where a task is done; lets every press through."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.card, self.goal = QRect(), QRect()

    def point(self, card: QRect, goal: QRect) -> None:
        """From one box to the other."""
        if (card, goal) != (self.card, self.goal):
            self.card, self.goal = card, goal
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self.goal.isEmpty():
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour(COPPER), 2))
        painter.drawRoundedRect(QRectF(self.goal).adjusted(1, 1, -1, -1), 4, 4)
        start = _nearest(self.card, QPointF(self.goal.center()))
        end = _nearest(self.goal, start)
        across = end - start
        if abs(across.x()) + abs(across.y()) > 24:
            path = QPainterPath(start)
            bend = QPointF(-across.y(), across.x()) * 0.12
            middle = (start + end) / 2 + bend
            path.quadTo(middle, end)
            painter.drawPath(path)
            way = end - middle
            long = max((way.x() ** 2 + way.y() ** 2) ** 0.5, 1e-6)
            along, beside = way / long, QPointF(-way.y(), way.x()) / long
            painter.setBrush(colour(COPPER))
            painter.drawPolygon(QPolygonF([end, end - along * 12 + beside * 5, end - along * 12 - beside * 5]))
        painter.end()


def _nearest(box: QRect, to: QPointF) -> QPointF:
    """The place of a box that is nearest to a point."""
    return QPointF(min(max(to.x(), box.left()), box.right()), min(max(to.y(), box.top()), box.bottom()))


class Lessons:
    """The lesson that is given in a window, if one is."""

    def __init__(self, window: Taught) -> None:
        self.window = window
        self.plan: LessonPlan | None = None
        self.number = 0
        self._asked = self._praised = False
        middle = window.body
        self.arrow, self.card = Arrow(middle), LessonCard(middle)
        self.card.skip.clicked.connect(lambda _=False: self.on())
        self.card.leave.clicked.connect(lambda _=False: self.leave())
        self._look = QTimer(window.body)
        self._look.setInterval(LOOK_MS)
        self._look.timeout.connect(self.look)
        for group in window.groups.values():
            for action in group:
                action.triggered.connect(partial(self._note, action.text()))
        self.hide()

    def begin(self, id: str) -> None:
        """Give a lesson, on a job of its own, from where it was left; from the start where it was done."""
        plan, window = LESSONS[id], self.window
        if not window.may_leave():
            return
        done = person().lessons.get(id, 0)
        self.plan, self.number = plan, done if done < len(plan.tasks) else 0
        window.session.start(lesson_job(plan), None)
        window.session.history.mark_saved()
        self._ready()
        self._look.start()

    def _ready(self) -> None:
        """The task at hand, and all that has to stand for it."""
        plan = self.plan
        assert plan is not None
        task = plan.tasks[self.number]
        self._asked = self._praised = False
        task.ready(self.window)
        self.card.where.setText(f"{plan.title}: {self.number + 1} of {len(plan.tasks)}")
        self.card.says.setText(task.says)
        self.card.skip.setText("Skip it")
        self.card.show()
        self.arrow.show()
        self.place()
        QTimer.singleShot(0, self.place)  # once what has been made ready is laid out

    def place(self) -> None:
        """Card and arrow, where they stand now."""
        if self.plan is None:
            return
        middle, card = self.window.body, self.card
        card.adjustSize()
        left, low = wide(WIDTH), middle.height() - card.height()
        if self.window.stage.in_space:  # whose own controls stand along the foot
            card.move(middle.width() - card.width() - 7, low - 12)
        else:
            card.move(left + (middle.width() - left - wide(SIDE) - card.width()) // 2, low - 96)
        self.arrow.setGeometry(middle.rect())
        goal = self.plan.tasks[self.number].where(self.window)
        box = QRect()
        if goal is not None and goal.isVisible():
            box = QRect(goal.mapTo(middle, goal.rect().topLeft()), goal.size()).intersected(middle.rect())
        self.arrow.point(card.geometry(), box)
        self.arrow.raise_()
        card.raise_()

    def look(self) -> None:
        """Whether the task is done; the arrow follows its place."""
        if self.plan is None or self._praised:
            return
        task = self.plan.tasks[self.number]
        if self._asked or task.done(self.window):
            self._praised = True
            self.card.says.setText(f"Done. {task.says}")
            self._keep(self.number + 1)
            QTimer.singleShot(PRAISE_MS, self.on)
            return
        self.place()

    def _note(self, words: str, *_: object) -> None:
        if self.plan is not None and words in self.plan.tasks[self.number].command.split("|"):
            self._asked = True

    def on(self) -> None:
        """The next task, or the end."""
        if self.plan is None:
            return
        self.number += 1
        self._keep(self.number)
        if self.number < len(self.plan.tasks):
            self._ready()
            return
        self.window.session.said.emit(f"{self.plan.title}: done. Further lessons: Shift+F1.")
        self.hide()

    def _keep(self, done: int) -> None:
        plan = self.plan
        assert plan is not None

        def kept(lessons: Mapping[str, int]) -> dict[str, int]:
            return {**lessons, plan.id: done}

        with suppress(Refused):
            change_person(lambda now: now._replace(lessons=kept(now.lessons)))

    def leave(self) -> None:
        """Leave it; the job stays, to go on with as one likes."""
        if self.plan is not None:
            self.window.session.said.emit(f"{self.plan.title} is left; Shift+F1 takes it up again.")
        self.hide()

    def hide(self) -> None:
        """No lesson is given."""
        self.plan = None
        self._look.stop()
        self.card.hide()
        self.arrow.hide()


def lesson_job(plan: LessonPlan) -> Job:
    """The sheets of the demo that a lesson is given on."""
    from wise_compass.job.demo import demo_job

    demo = demo_job()
    sheets = [sheet for sheet in demo.sheets if any(entry.id in plan.shows for entry in sheet.entries)]
    order = {id: place for place, id in enumerate(plan.shows)}
    sheets.sort(key=lambda sheet: min(order.get(entry.id, 99) for entry in sheet.entries))
    return demo._replace(title=plan.title, sheets=tuple(sheets))
