"""The day's plan of the job: the sheets as a strip of hours and as a table, when each is done, and what has to lie on
the table."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from wise_compass.desk.parts.dayfield import DayField
from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.labels import button, heading, wrapped
from wise_compass.desk.parts.listing import Listing
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import px, show_refused, wide
from wise_compass.desk.parts.work import Work
from wise_compass.desk.places.place import Place, laid_out, scrolled, sentence_of
from wise_compass.desk.plan.strip import DayStrip
from wise_compass.desk.session.jobwindow import JobWindow
from wise_compass.drafting.refusals import Refused
from wise_compass.logbook.store import Logbook
from wise_compass.outputs.files import write_output
from wise_compass.plan.day import Hours, Plan, PlannedJob, drawn_up, looked_through
from wise_compass.plan.pace import Pace, own_pace
from wise_compass.plan.told import (
    kit_lines,
    minutes_words,
    order_words,
    plan_calendar,
    plan_csv,
    plan_drawings,
    sheet_line,
)

HEADS = ("sheet", "title", "minutes", "from", "to", "waits for")
FIELDS = {"work": "a break after, min", "rest": "of, min", "day": "a day of, min"}
SPOKEN = {"work": "Minutes of work before a break", "rest": "Minutes of a break", "day": "Minutes of a day"}
WEEKS = {7: "every day", 6: "to Saturday", 5: "to Friday"}
EARLY, LATE = 6, 16
"""Hours between which a day's work may be begun."""
KINDS = "PDF (*.pdf);;CSV (*.csv);;Calendar (*.ics)"


def _morning(now: datetime) -> datetime:
    """When one begins who asks at this time: now, by day, else the next morning at eight."""
    if EARLY <= now.hour < LATE:
        return now.replace(second=0, microsecond=0)
    day = now if now.hour < EARLY else now + timedelta(days=1)
    return day.replace(hour=8, minute=0, second=0, microsecond=0)


class PlanPlace(Place):
    """The plan; what is typed of the hours, and what is dragged, is followed at once."""

    def __init__(self, window: JobWindow, book: Logbook | None = None) -> None:
        super().__init__()
        self.window, self.session, self.book = window, window.session, book or Logbook()
        self.plan: Plan | None = None
        self.looked: PlannedJob | None = None
        self.pace: Pace | None = None
        self.order: list[int] | None = None
        """The sheets in an order of one's own, by number; None for the best."""
        self._best = 0
        self._work: Work | None = None
        self.start = DayField("Begin", "2026-11-25 09:00")
        self.start.field.setText(f"{_morning(datetime.now()):%Y-%m-%d %H:%M}")
        self.fields: dict[str, QLineEdit] = {"start": self.start.field}
        self.week = Pick()
        self.week.setAccessibleName("Days of the week that are worked")
        for days, words in WEEKS.items():
            self.week.addItem(words, days)
        self.spine = self._hours_column()
        self.title, self.says = wrapped("How long", "word"), wrapped("Order and pace", "hint")
        self.strip = DayStrip()
        self.strip.moved.connect(self._moved)
        self.strip.picked.connect(self._pick_row)
        self.list = Listing("Sheets in order", HEADS, 1, [wide(50), 0, wide(140), wide(90), wide(90), wide(80)])
        self.list.setFixedHeight(px(220))
        self.list.clicked.connect(lambda index: self.strip.choose(index.row()))
        self.kit = QListWidget()
        self.kit.setObjectName("ticks")
        self.kit.setAccessibleName("What has to lie on the table; tick what does")
        self.kit.setWordWrap(True)
        keep(self.kit, PRESS)
        self.best = button("The best order again", self._best_again)
        self.show_it = button("Show its sheet", self._show_sheet)
        self.body = laid_out(
            sentence_of(self.title, self.says), [scrolled(self.strip, "The days"), self.list], self._side()
        )
        for field in (self.start.field, *list(self.fields.values())[1:]):
            field.editingFinished.connect(self.draw_up)
        self.start.told.connect(lambda: self.draw_up() if not self.start.field.hasFocus() else None)
        self.week.currentIndexChanged.connect(lambda _: self.draw_up())

    @property
    def page(self) -> str:
        """Its page of the handbook."""
        return "plan"

    def come(self) -> None:
        """The job may be another by now."""
        if self.looked is None or self.looked.job != self.session.job:
            self.looked = None
            self.order = None
        self.draw_up()

    def leave(self) -> None:
        if self._work is not None:
            self._work.stop()

    def say(self, words: str) -> None:
        self.says.setText(words)

    def focus(self) -> None:
        self.strip.setFocus(Qt.FocusReason.OtherFocusReason)

    def print_out(self) -> bool:
        from wise_compass.desk.leaving.papers import Papers

        if self.plan is not None:
            Papers(self.window).print_drawings("Plan", plan_drawings(self.plan, self.session.style))
        return True

    def hand_over(self, other: Place) -> None:
        assert isinstance(other, PlanPlace)
        other.looked, other.order = self.looked, self.order
        for name, field in self.fields.items():
            other.fields[name].setText(field.text())

    def _hours_column(self) -> QWidget:
        lines = QWidget()
        inside = QVBoxLayout(lines)
        inside.setContentsMargins(12, 12, 12, 0)
        inside.setSpacing(4)
        inside.addWidget(QLabel("Begin"))
        inside.addWidget(self.start)
        usual = Hours(datetime.now())
        for name, words in FIELDS.items():
            field = QLineEdit(f"{getattr(usual, name):g}")
            field.setObjectName("field")
            field.setAccessibleName(SPOKEN[name])
            inside.addSpacing(4)
            inside.addWidget(QLabel(words))
            inside.addWidget(field)
            self.fields[name] = field
        inside.addSpacing(4)
        inside.addWidget(QLabel("worked"))
        inside.addWidget(self.week)
        inside.addStretch(1)
        return lines

    def _side(self) -> QWidget:
        side = QWidget()
        side.setObjectName("sidepage")
        side.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        inside = QVBoxLayout(side)
        inside.setContentsMargins(14, 14, 14, 12)
        inside.setSpacing(8)
        inside.addWidget(heading("What has to lie on the table"))
        inside.addWidget(self.kit, 1)
        tip = wrapped("How the strip works", "hint")
        tip.setText(
            "Drag a bar to draw its sheet earlier or later, or move it with Ctrl "
            "and an arrow. The darker a bar, the more "
            "changes of opening and instrument it takes; their number stands in it."
        )
        inside.addWidget(tip)
        for one in (self.best, self.show_it, button("Save the plan…", self.save)):
            inside.addWidget(one)
        return side

    # drawing it up

    def hours(self) -> Hours:
        """The hours as they are typed; raises :class:`Refused` for those that cannot be."""
        values: dict[str, Any] = {}
        for name, field in self.fields.items():
            show_refused(field, False)
            try:
                if name == "start":
                    values[name] = datetime.fromisoformat(field.text().strip())
                else:
                    values[name] = float(field.text().replace(",", "."))
            except ValueError:
                show_refused(field, True)
                what = "a day and time such as 2026-11-25 09:00" if name == "start" else "a number of minutes"
                raise Refused(name, f"“{field.text()[:30]}” cannot be; write {what}.") from None
        hours = Hours(**values, week=self.week.currentData())
        try:
            hours.check()
        except Refused as refusal:
            show_refused(self.fields[refusal.given], True)
            raise
        return hours

    def draw_up(self) -> None:
        """Draw the plan up anew; the job is looked through beside the window's own work."""
        try:
            hours = self.hours()
        except Refused as refusal:
            self.says.setText(refusal.words(self.session.style))
            return
        if self._work is not None:
            self._work.stop()
        if self.looked is not None:
            self._show_by(hours)
            return
        job, book = self.session.job, self.book
        self.title.setText("The plan is drawn up …")
        self.says.setText("Each sheet is run to see what it takes.")
        self._work = Work(lambda hear: (looked_through(job, hear), own_pace(book)), self)
        self._work.told.connect(lambda done, whole: self.says.setText(f"{done} of {whole} sheets are looked through."))
        self._work.done.connect(self._take)
        self._work.failed.connect(self._fail)
        self._work.start()

    def settle(self) -> None:
        """Until it is drawn up."""
        if self._work is not None:
            self._work.wait()

    def _take(self, found: tuple[PlannedJob, Pace]) -> None:
        self.looked, self.pace = found
        self._best = drawn_up(self.looked, self.pace, self.hours()).changes
        self._show_by(self.hours())

    def _show_by(self, hours: Hours) -> None:
        assert self.looked is not None
        try:
            self._show(drawn_up(self.looked, self.pace, hours, self.order))
        except Refused as refusal:
            self.order = None
            self._show(drawn_up(self.looked, self.pace, hours))
            self.says.setText(refusal.words(self.session.style))

    def _fail(self, error: Exception) -> None:
        self.title.setText("No plan yet")
        self.says.setText(error.says if isinstance(error, Refused) else f"A fault of its own: {error}.")
        for one in (self.best, self.show_it):
            one.setEnabled(False)

    def _show(self, plan: Plan) -> None:
        self.plan = plan
        style = self.session.style
        done = f", done {plan.end:%A %d %B, %H:%M}" if plan.end else ""
        self.title.setText(f"{minutes_words(plan.minutes)}{done}")
        more = plan.changes - self._best
        own = f"Your own order: {more} changes more than the best. " if self.order is not None else ""
        self.says.setText(f"{own}{order_words(plan)} {plan.pace.says}")
        self.best.setEnabled(self.order is not None)
        self.best.setToolTip("" if self.order is not None else "This is the best order")
        self.show_it.setEnabled(True)
        self.strip.show_plan(plan, self.week.currentData())
        self.list.fill(HEADS, [sheet_line(one, style) for one in plan.sheets])
        self._fill_kit(list(kit_lines(plan, style)))

    def _fill_kit(self, lines: list[str]) -> None:
        """What has to lie there, a line a thing; what was ticked stays so."""
        ticked = {
            self.kit.item(n).text()
            for n in range(self.kit.count())
            if self.kit.item(n).checkState() == Qt.CheckState.Checked
        }
        self.kit.clear()
        for line in lines:
            kind, _, rest = line.rstrip(".").partition(": ")
            things = rest.split(", ") if kind in ("Instruments", "Leads", "Scale rules", "Paper") else [rest]
            for thing in things:
                words = thing if kind == "Instruments" else f"{kind}: {thing}"
                item = QListWidgetItem(words)
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                item.setCheckState(Qt.CheckState.Checked if words in ticked else Qt.CheckState.Unchecked)
                self.kit.addItem(item)

    # an order of one's own

    def _moved(self, place: int, before: int) -> None:
        """A sheet is dropped before another: what that costs is told, or why it cannot be."""
        if self.plan is None or self.looked is None:
            return
        numbers = [one.number for one in self.strip.sheets]
        number = numbers.pop(place)
        numbers.insert(before - (before > place), number)
        try:
            plan = drawn_up(self.looked, self.pace, self.hours(), numbers)
        except Refused as refusal:
            self.says.setText(refusal.words(self.session.style))
            return
        self.order = numbers
        self._show(plan)
        self.strip.choose(numbers.index(number))

    def _pick_row(self, place: int) -> None:
        self.list.selectRow(place)

    def _best_again(self) -> None:
        self.order = None
        self.draw_up()

    def _show_sheet(self) -> None:
        """The chosen sheet, at Set out."""
        place = max(self.strip.chosen, 0)
        if self.plan is not None and self.strip.sheets:
            plan = self.session.job.sheets[self.strip.sheets[place].number - 1]
            self.session.select(plan.entries[0].id)
            self.window.go(0)

    def save(self) -> None:
        """As PDF, CSV or for a calendar."""
        name, kind = self.window.ask_path("Save the plan", f"{self.session.job.title}, plan.pdf", KINDS)
        if name:
            path = Path(name if Path(name).suffix else name + "." + kind.split("*.")[-1].rstrip(")"))
            try:
                self.save_to(path)
            except Refused as refusal:
                self.says.setText(refusal.words(self.session.style))

    def save_to(self, path: Path) -> None:
        """By the ending of the file; raises :class:`Refused`."""
        from wise_compass.outputs.pdf import pdf_bytes
        from wise_compass.outputs.write import ending_of

        if self.plan is None:
            raise Refused("", "There is no plan to save.")
        makers: dict[str, Callable[[Plan], str | bytes]] = {
            "csv": plan_csv,
            "ics": plan_calendar,
            "pdf": lambda plan: pdf_bytes(plan_drawings(plan, self.session.style), f"{plan.title}: plan"),
        }
        write_output(path, makers[ending_of(path, tuple(makers))](self.plan))
        self.says.setText(f"The plan is in {path.name}.")
