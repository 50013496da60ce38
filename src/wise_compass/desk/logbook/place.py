"""The logbook: what recurs, scatter by instrument over time and minutes a step as plots on one page, each with its
table; and every entry, from which there is a way back to its figure, its problem and its photograph."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from datetime import datetime
from pathlib import Path
from typing import Any, overload

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import (
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.logbook.entrypanel import EntryPanel
from wise_compass.desk.parts.dayfield import DayField
from wise_compass.desk.parts.dialogs import ask
from wise_compass.desk.parts.labels import button, heading, wrapped
from wise_compass.desk.parts.listing import Listing
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import COPPER, GROUND, INK, SETTLE_MS, SOFT, TEAL, px, shade, wide
from wise_compass.desk.parts.work import Work
from wise_compass.desk.places.place import Place, laid_out, scrolled, sentence_of
from wise_compass.desk.session.jobwindow import JobWindow
from wise_compass.drafting.figure import FAMILIES
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import are, many
from wise_compass.logbook.reckon import (
    Filter,
    LogbookRow,
    Snapshot,
    ToldLogbook,
    first_sentence,
    tables,
    title_of,
    without_scatter,
)
from wise_compass.logbook.store import Logbook
from wise_compass.outputs.files import read_text, write_output

HIGH = 176
"""Pixels of a plot's height, by day's text."""
TITLES = {"slips": "What goes wrong, and how often", "scatter": "Scatter, by instrument", "pace": "Pace"}
HEADS = ("when", "who", "figure", "method", "mark", "what it was", "minutes", "picture")
PAGES = {"slips": "Slips", "scatter": "Scatter", "pace": "Pace"}
NOTHING = {
    "slips": "Nothing has gone wrong in what is shown here.",
    "scatter": "Nothing is measured in what is shown here.",
    "pace": "Nothing is timed in what is shown here: practise with the clock.",
}
WIDTHS = {"slips": [150, 110, 0, 50, 50, 50], "scatter": [0, 110, 170, 120], "pace": [0, 120, 90, 90]}
LARGEST_PICTURE = 40_000_000


class LogbookPlace(Place):
    """The logbook of this desk, read whenever it is come to. ``book`` is opened for as long as a call takes."""

    def __init__(self, window: JobWindow | None, book: Logbook | None = None) -> None:
        super().__init__()
        self.window, self.book = window, book or Logbook()
        self.snapshot: Snapshot | None = None
        self.shown: list[LogbookRow] = []
        self._work: Work | None = None
        self.since, self.until, self.family, self.person = DayField("From"), DayField("To before"), Pick(), Pick()
        self.family.setAccessibleName("Family")
        self.person.setAccessibleName("Person")
        self.family.addItem("all families", "")
        for id, title in FAMILIES.items():
            self.family.addItem(title, id)
        self.person.addItem("everybody", "")
        self.recurs, self.says = wrapped("What recurs", "word"), wrapped("What there is", "hint")
        self.plots: dict[str, QLabel] = {}
        self.lists: dict[str, Listing] = {}
        self._stacks: dict[str, QStackedWidget] = {}
        self.entries = Listing(
            "Entries", HEADS, 5, [wide(118), wide(60), wide(120), wide(100), wide(110), 0, wide(54), wide(50)]
        )
        self.entries.setMinimumHeight(px(190))
        self.entries.selectionModel().selectionChanged.connect(lambda *_: self._show_picked())
        self.one = EntryPanel(self)
        self.spine = self._lines()
        self.body = laid_out(sentence_of(self.recurs, self.says), [self._page()], self.one)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SETTLE_MS)
        self._soon.timeout.connect(self.show_chosen)
        for field in (self.since, self.until):
            field.told.connect(self._soon.start)
        for choice in (self.family, self.person):
            choice.currentIndexChanged.connect(lambda _: self.show_chosen())
        self.buttons = self.one.buttons

    @property
    def page(self) -> str:
        """Its page of the handbook."""
        return "logbook"

    def come(self) -> None:
        """There may be more in it by now."""
        self.read()

    def leave(self) -> None:
        if self._work is not None:
            self._work.stop()

    def say(self, words: str) -> None:
        self.says.setText(words)

    def focus(self) -> None:
        self.entries.setFocus(Qt.FocusReason.OtherFocusReason)

    def _lines(self) -> QWidget:
        """What is asked for, at the left."""
        lines = QWidget()
        inside = QVBoxLayout(lines)
        inside.setContentsMargins(12, 12, 12, 0)
        inside.setSpacing(4)
        rows = (("From", self.since), ("to before", self.until), ("of", self.family), ("by", self.person))
        for words, box in rows:
            inside.addWidget(QLabel(words))
            inside.addWidget(box)
            inside.addSpacing(4)
        inside.addStretch(1)
        return lines

    def _page(self) -> QWidget:
        """Slips and pace side by side, scatter below them, and every entry at the foot."""
        page = QWidget()
        page.setObjectName("page")
        page.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        grid = QGridLayout(page)
        grid.setContentsMargins(18, 12, 18, 14)
        grid.setHorizontalSpacing(18)
        for id, at in (("slips", (0, 0, 1, 2)), ("scatter", (1, 0, 1, 1)), ("pace", (1, 1, 1, 1))):
            grid.addWidget(self._part(id), *at)
        grid.addWidget(heading("Entries"), 2, 0, 1, 2)
        grid.addWidget(self.entries, 3, 0, 1, 2)
        grid.setRowStretch(3, 1)
        grid.setColumnStretch(0, 1)
        grid.setColumnStretch(1, 1)
        return scrolled(page, "The page of the logbook")

    def _part(self, id: str) -> QWidget:
        """A plot and, in its place where one likes, the table that tells the same."""
        part, self.plots[id] = QWidget(), QLabel()
        self.plots[id].setAccessibleName(f"Plot of {id}; its table tells the same")
        self.plots[id].setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.plots[id].setWordWrap(True)
        self.plots[id].setMinimumSize(200, px(HIGH))
        heads = tables(ToldLogbook(0, (), (), ()))[id][0]
        self.lists[id] = Listing(PAGES[id], heads, 2 if id == "slips" else 0, WIDTHS[id])
        stack = self._stacks[id] = QStackedWidget()
        stack.addWidget(self.plots[id])
        stack.addWidget(self.lists[id])
        stack.setFixedHeight(px(HIGH))
        turn = button("as a table", lambda: self._turn(id, turn))
        turn.setObjectName("link")
        turn.setAccessibleName(f"{PAGES[id]} as a table, or as a plot")
        top = QHBoxLayout()
        top.addWidget(heading(TITLES[id]), 1)
        top.addWidget(turn)
        inside = QVBoxLayout(part)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(2)
        inside.addLayout(top)
        inside.addWidget(stack)
        return part

    def _turn(self, id: str, turn: QPushButton) -> None:
        stack = self._stacks[id]
        stack.setCurrentIndex(1 - stack.currentIndex())
        turn.setText("as a plot" if stack.currentIndex() else "as a table")

    # what is shown

    def read(self) -> None:
        """Read the logbook anew."""
        try:
            self.snapshot = Snapshot(self.book)
        except Refused as refusal:
            self.snapshot = None
            self.recurs.setText("The logbook cannot be read")
            self.says.setText(refusal.says)
            return
        now, people = self.person.currentData(), self.snapshot.people
        self.person.blockSignals(True)
        while self.person.count() > 1:
            self.person.removeItem(1)
        for name in people:
            self.person.addItem(name, name)
        self.person.setCurrentIndex(max(self.person.findData(now), 0))
        self.person.blockSignals(False)
        self.show_chosen()

    def chosen(self) -> Filter:
        """What is asked for; raises :class:`Refused` for a day that is none."""
        days = {}
        for name, field in (("since", self.since), ("until", self.until)):
            field.refuse(False)
            words = field.field.text().strip()
            try:
                days[name] = datetime.fromisoformat(words).timestamp() if words else 0.0
            except (ValueError, OverflowError, OSError):
                field.refuse(True)
                raise Refused(name, f"“{words[:20]}” is no day; write one such as 2026-11-25.") from None
        return Filter(days["since"], days["until"], self.family.currentData() or "", self.person.currentData() or "")

    def show_chosen(self) -> None:
        """Show what the filter lets through: the tables at once, the plots as soon as they are drawn."""
        if self.snapshot is None:
            return
        try:
            chosen = self.chosen()
        except Refused as refusal:
            self.says.setText(refusal.says)
            return
        self.shown = self.snapshot.chosen(chosen)
        told = without_scatter(self.shown)
        count = many(told.entries, "entry", "entries")
        self.recurs.setText(_recurring(told))
        self.says.setText(
            self.book.said
            or (f"{count}." if self.snapshot.rows else "Nothing is noted yet. Practise, or keep a check.")
        )
        self.entries.fill(HEADS, _Lines(self.shown))
        self._fill_tables(told)
        if self._work is not None:
            self._work.stop()
        ratio, width = self.body.devicePixelRatioF(), float(max(self.body.width() - self.one.width() - 60, 660))
        from wise_compass.logbook.plots import Colours, plots

        colours = Colours(shade(GROUND), shade(INK), shade(SOFT), shade(COPPER), shade(TEAL))
        snapshot, shown = self.snapshot, self.shown

        def work(hear: Callable[[int, int], None]) -> tuple[ToldLogbook, dict[str, bytes]]:
            whole = told._replace(spreads=snapshot.spreads(shown))
            hear(0, 1)
            one, half = (plots(whole, colours, size, float(px(HIGH)), ratio) for size in (width, width / 2 - 9))
            return whole, {**half, "slips": one["slips"]}

        self._work = Work(work, self)
        self._work.done.connect(self._show_plots)
        self._work.start()

    def _fill_tables(self, told: ToldLogbook) -> None:
        for id, (heads, rows) in tables(told).items():
            self.lists[id].fill(heads, rows)
            if not rows:
                self.plots[id].setPixmap(QPixmap())
                self.plots[id].setText(NOTHING[id])

    def _show_plots(self, found: tuple[ToldLogbook, dict[str, bytes]]) -> None:
        told, made = found
        self._fill_tables(told)
        for id, content in made.items():
            if content:
                picture = QPixmap()
                picture.loadFromData(content)
                picture.setDevicePixelRatio(self.body.devicePixelRatioF())
                self.plots[id].setPixmap(picture)

    def settle(self) -> None:
        """Until the plots are drawn."""
        if self._work is not None:
            self._work.wait()

    # what is done with entries

    def attempt(self, do: Callable[[], Any]) -> None:
        """Do something that may be refused; a refusal is told on top."""
        try:
            do()
        except Refused as refusal:
            self.says.setText(refusal.says)

    def selected(self) -> list[LogbookRow]:
        """The entries that are picked."""
        rows = sorted({index.row() for index in self.entries.selectionModel().selectedRows()})
        return [self.shown[row] for row in rows if row < len(self.shown)]

    def _show_picked(self) -> None:
        self.one.show_row(self.selected())

    def _picked(self) -> list[LogbookRow]:
        if not (rows := self.selected()):
            raise Refused("", "Pick an entry of the list first.")
        return rows

    def delete(self) -> None:
        """Forget the picked entries, at once and for good."""
        picked = self._picked()
        words = "this entry" if len(picked) == 1 else f"these {len(picked)} entries"
        if ask(self.body, "Delete", f"Delete {words} for good?", ["Delete", "Keep"]) == "Delete":
            self.book.forget([one.id for one in picked])
            self.read()

    def delete_all(self) -> None:
        """Forget everything."""
        count = len(self.snapshot.rows) if self.snapshot else 0
        words = f"Delete all {count} entries and their pictures for good? What is filtered away goes too."
        if count and ask(self.body, "Delete all", words, ["Keep", "Delete all"]) == "Delete all":
            self.book.forget()
            self.read()

    def attach(self) -> None:
        """Keep a picture of the finished drawing with the picked entry."""
        one = self._picked()[0]
        name, _ = QFileDialog.getOpenFileName(
            self.body, "A picture of the drawing", "", "Pictures (*.jpg *.jpeg *.png)"
        )
        if name:
            self.attach_to(one.id, Path(name))

    def attach_to(self, id: str, path: Path) -> None:
        """Keep a picture file with an entry; raises :class:`Refused`."""
        ending = path.suffix.lower().lstrip(".")
        try:
            if not path.is_file() or path.stat().st_size > LARGEST_PICTURE:
                raise Refused("", f"{path.name} is no picture under {LARGEST_PICTURE // 1_000_000} MB. Choose another.")
            content = path.read_bytes()
        except OSError as error:
            raise Refused("", f"{path.name} cannot be read: {(error.strerror or str(error)).lower()}.") from None
        if not content.startswith((b"\x89PNG", b"\xff\xd8")) or ending not in ("jpg", "jpeg", "png"):
            raise Refused("", f"{path.name} is neither a JPEG nor a PNG picture. Choose another.")
        self.book.attach(id, content, "png" if content.startswith(b"\x89PNG") else "jpg")
        self.read()

    def take_in(self) -> None:
        """Entries from CSV."""
        from wise_compass.logbook.files import read_csv

        name, _ = QFileDialog.getOpenFileName(self.body, "Take entries in", "", "CSV (*.csv)")
        if name:
            entries = read_csv(read_text(Path(name), "a logbook"))
            self.book.note(entries)
            self.read()
            self.says.setText(f"{are(len(entries), 'entry', 'entries')} taken in.")

    def save(self) -> None:
        """What is shown, as CSV or JSON."""
        name, kind = QFileDialog.getSaveFileName(
            self.body, "Save what is shown", "logbook.csv", "CSV (*.csv);;JSON (*.json)"
        )
        if name:
            self.save_to(Path(name if Path(name).suffix else name + (".json" if "json" in kind else ".csv")))

    def save_to(self, path: Path) -> None:
        """What is shown into a file; raises :class:`Refused`."""
        from wise_compass.logbook.files import csv_text, json_text
        from wise_compass.outputs.write import ending_of

        entries = self.book.entries(*self.chosen().where)
        write_output(path, json_text(entries) if ending_of(path, ("csv", "json")) == "json" else csv_text(entries))
        self.says.setText(f"{are(len(entries), 'entry', 'entries')} in {path.name}.")


def _recurring(told: ToldLogbook) -> str:
    """What recurs, in a sentence."""
    if not told.entries:
        return "What was checked and practised stands here"
    if not told.wrongs:
        return "Nothing has gone wrong in what is shown here"
    worst = told.wrongs[0]
    says = first_sentence(worst.says) or worst.slip or f"step {worst.step}"
    return f"Most often, {worst.times} of {worst.of}: {title_of(worst.figure)}. {says}"


class _Lines(Sequence[list[Any]]):
    """The rows of the list of entries, each put into words when it comes into sight."""

    def __init__(self, rows: list[LogbookRow]) -> None:
        self.rows = rows

    def __len__(self) -> int:
        return len(self.rows)

    @overload
    def __getitem__(self, place: int) -> list[Any]: ...
    @overload
    def __getitem__(self, place: slice) -> list[list[Any]]: ...
    def __getitem__(self, place: int | slice) -> list[Any]:
        if isinstance(place, slice):
            return [self._line(one) for one in self.rows[place]]
        return self._line(self.rows[place])

    @staticmethod
    def _line(one: LogbookRow) -> list[Any]:
        when = time.strftime("%Y-%m-%d %H:%M", time.localtime(one.at))
        minutes = None if one.minutes is None else round(one.minutes, 1)
        return [
            when,
            one.person,
            title_of(one.figure),
            one.method,
            one.mark,
            one.says,
            minutes,
            "yes" if one.picture else "",
        ]
