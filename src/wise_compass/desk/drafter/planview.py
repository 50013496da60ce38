"""The day's plan of the job: the order of its sheets, what has to lie on the table, and when each is done."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import button, heading, wrapped
from wise_compass.desk.parts.listing import Listing
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import show_refused, wide
from wise_compass.desk.parts.work import Work
from wise_compass.desk.session.jobwindow import AskPath
from wise_compass.desk.session.session import Session
from wise_compass.drafting.refusals import Refused
from wise_compass.logbook.store import Logbook
from wise_compass.outputs.files import write_output
from wise_compass.plan.day import Hours, Plan, plan_of
from wise_compass.plan.pace import own_pace
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
FIELDS = {"start": "Begin", "work": "a break after, min", "rest": "of, min", "day": "a day of, min"}
WEEKS = {7: "every day", 6: "to Saturday", 5: "to Friday"}
KINDS = "PDF (*.pdf);;CSV (*.csv);;Calendar (*.ics)"


class PlanView(Dialog):
    """The plan; what is typed of the hours is followed at once."""

    def __init__(
        self, parent: QWidget | None, session: Session, save_path: AskPath, book: Logbook | None = None
    ) -> None:
        super().__init__(parent)
        self.session, self._save_path, self.book = session, save_path, book or Logbook()
        self.plan: Plan | None = None
        self._work: Work | None = None
        self.setWindowTitle("The day’s plan")
        self.resize(wide(760), 640)
        self.fields: dict[str, QLineEdit] = {}
        hours = QHBoxLayout()
        now = datetime.now().replace(second=0, microsecond=0)
        for name, words in FIELDS.items():
            field = QLineEdit(f"{now:%Y-%m-%d %H:%M}" if name == "start" else f"{getattr(Hours(now), name):g}")
            field.setObjectName("field")
            field.setAccessibleName(words)
            field.setFixedWidth(wide(150 if name == "start" else 56))
            field.editingFinished.connect(self.draw_up)
            hours.addWidget(QLabel(words))
            hours.addWidget(field)
            self.fields[name] = field
        self.week = Pick()
        self.week.setAccessibleName("Days of the week that are worked")
        for days, words in WEEKS.items():
            self.week.addItem(words, days)
        self.week.currentIndexChanged.connect(self.draw_up)
        hours.addWidget(self.week)
        hours.addStretch(1)
        self.title, self.says, self.kit = wrapped("How long", "word"), wrapped("Order and pace", "hint"), wrapped("Kit")
        self.list = Listing("Sheets in order", HEADS, 1, [wide(50), 0, wide(140), wide(90), wide(90), wide(80)])
        save = button("Save the plan…", self.save)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 16)
        inside.setSpacing(9)
        inside.addLayout(hours)
        for widget in (self.title, self.says):
            inside.addWidget(widget)
        inside.addWidget(self.list, 1)
        inside.addWidget(heading("What has to lie on the table"))
        inside.addWidget(self.kit)
        inside.addWidget(save)
        self.draw_up()

    def hours(self) -> Hours:
        """The hours as they are typed; raises :class:`Refused` for those that cannot be."""
        values: dict[str, Any] = {}
        for name, field in self.fields.items():
            show_refused(field, False)
            try:
                if name == "start":
                    values[name] = datetime.fromisoformat(field.text().strip())
                else:
                    values[name] = float(field.text())
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
        """Draw the plan up anew, beside the window's own work."""
        try:
            hours, job, book = self.hours(), self.session.job, self.book
        except Refused as refusal:
            self.says.setText(refusal.words(self.session.style))
            return
        if self._work is not None:
            self._work.stop()
        self.title.setText("The plan is drawn up …")
        self._work = Work(lambda hear: plan_of(job, own_pace(book), hours, hear), self)
        self._work.done.connect(self._show)
        self._work.failed.connect(self._fail)
        self._work.start()

    def again(self) -> None:
        """Shown once more: the job may be another by now."""
        self.draw_up()

    def settle(self) -> None:
        """Until it is drawn up."""
        if self._work is not None:
            self._work.wait()

    def _fail(self, error: Exception) -> None:
        self.title.setText("No plan")
        self.says.setText(error.says if isinstance(error, Refused) else f"A fault of its own: {error}.")

    def _show(self, plan: Plan) -> None:
        self.plan = plan
        style = self.session.style
        done = f", done {plan.end:%A %d %B, %H:%M}" if plan.end else ""
        self.title.setText(f"{minutes_words(plan.minutes)}{done}")
        self.says.setText(f"{order_words(plan)} {plan.pace.says}")
        self.list.fill(HEADS, [sheet_line(one, style) for one in plan.sheets])
        self.kit.setText("\n".join(kit_lines(plan, style)))

    def save(self) -> None:
        """As PDF, CSV or for a calendar."""
        name, kind = self._save_path("Save the plan", f"{self.session.job.title}, plan.pdf", KINDS)
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
