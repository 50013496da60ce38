"""The logbook: which slips recur, scatter by instrument over time, minutes a step, as plots each with its table; and
every entry."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import Any, overload

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLabel, QLineEdit, QPushButton, QTabWidget, QVBoxLayout, QWidget

from wise_compass.desk.parts.dialogs import ask
from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import button, wrapped
from wise_compass.desk.parts.listing import Listing
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import COPPER, INK, PANEL, SETTLE_MS, SOFT, TEAL, shade, show_refused, wide
from wise_compass.desk.parts.work import Work
from wise_compass.drafting.figure import FAMILIES
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import are, many
from wise_compass.logbook.reckon import Filter, LogbookRow, Snapshot, ToldLogbook, tables, title_of, without_scatter
from wise_compass.logbook.store import Logbook
from wise_compass.outputs.files import read_text, write_output

HEADS = ("when", "who", "figure", "method", "mark", "what it was", "minutes", "picture")
PAGES = {"slips": "Slips", "scatter": "Scatter", "pace": "Pace"}
NOTHING = {
    "slips": "Nothing has gone wrong in what is shown here.",
    "scatter": "Nothing is measured in what is shown here.",
    "pace": "Nothing is timed in what is shown here: practise with the clock.",
}
WIDTHS = {"slips": [150, 110, 0, 50, 50, 50], "scatter": [0, 110, 170, 120], "pace": [0, 120, 90, 90]}
LARGEST_PICTURE = 40_000_000


class LogbookView(Dialog):
    """The logbook of this desk. ``book`` is opened for as long as a call takes."""

    def __init__(self, parent: QWidget | None, book: Logbook | None = None) -> None:
        super().__init__(parent)
        self.book = book or Logbook()
        self.snapshot: Snapshot | None = None
        self.shown: list[LogbookRow] = []
        self._work: Work | None = None
        self.setWindowTitle("Logbook")
        self.resize(wide(900), 680)
        self.since, self.until, self.family, self.person = QLineEdit(), QLineEdit(), Pick(), Pick()
        top = QHBoxLayout()
        for words, box in (("From", self.since), ("to before", self.until), ("of", self.family), ("by", self.person)):
            box.setAccessibleName({"of": "Family", "by": "Person"}.get(words, f"{words}, a day such as 2026-11-25"))
            top.addWidget(QLabel(words))
            top.addWidget(box, 1)
        for box in (self.since, self.until):
            box.setPlaceholderText("any day")
            box.setFixedWidth(wide(110))
        self.family.addItem("all families", "")
        for id, title in FAMILIES.items():
            self.family.addItem(title, id)
        self.person.addItem("everybody", "")
        self.says = wrapped("What there is", "hint")
        self.pages = QTabWidget()
        self.pages.setDocumentMode(True)
        self.pages.tabBar().setDrawBase(False)
        self.plots: dict[str, QLabel] = {}
        self.lists: dict[str, Listing] = {}
        for id, title in PAGES.items():
            self.pages.addTab(self._page(id), title)
        self.entries = Listing(
            "Entries", HEADS, 5, [wide(120), wide(90), wide(130), wide(110), wide(130), 0, wide(60), wide(60)]
        )
        self.pages.addTab(self._entries_page(), "Entries")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(20, 16, 20, 14)
        inside.addLayout(top)
        inside.addWidget(self.says)
        inside.addWidget(self.pages, 1)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SETTLE_MS)
        self._soon.timeout.connect(self.show_chosen)
        for field in (self.since, self.until):
            field.textChanged.connect(lambda _: self._soon.start())
        for choice in (self.family, self.person):
            choice.currentIndexChanged.connect(lambda _: self.show_chosen())
        self.read()

    def _page(self, id: str) -> QWidget:
        page, self.plots[id] = QWidget(), QLabel()
        self.plots[id].setAccessibleName(f"Plot of {id}; the table below tells the same")
        self.plots[id].setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.plots[id].setMinimumHeight(260)
        heads = tables(ToldLogbook(0, (), (), ()))[id][0]
        self.lists[id] = Listing(PAGES[id], heads, 2 if id == "slips" else 0, WIDTHS[id])
        inside = QVBoxLayout(page)
        inside.setContentsMargins(0, 8, 0, 0)
        inside.addWidget(self.plots[id])
        inside.addWidget(self.lists[id], 1)
        return page

    def _entries_page(self) -> QWidget:
        page = QWidget()
        inside = QVBoxLayout(page)
        inside.setContentsMargins(0, 8, 0, 0)
        inside.addWidget(self.entries, 1)
        below = QHBoxLayout()
        self.buttons: dict[str, QPushButton] = {}
        for words, do in (
            ("Attach a picture…", self.attach),
            ("Delete it", self.delete),
            ("Delete all…", self.delete_all),
            ("Take in CSV…", self.take_in),
            ("Save as…", self.save),
        ):
            self.buttons[words] = button(words, partial(self._try, do))
            below.addWidget(self.buttons[words])
        inside.addLayout(below)
        return page

    # what is shown

    def read(self) -> None:
        """Read the logbook anew."""
        try:
            self.snapshot = Snapshot(self.book)
        except Refused as refusal:
            self.snapshot = None
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

    def again(self) -> None:
        """Shown once more: there may be more in it by now."""
        self.read()

    def chosen(self) -> Filter:
        """What is asked for; raises :class:`Refused` for a day that is none."""
        days = {}
        for name, field in (("since", self.since), ("until", self.until)):
            show_refused(field, False)
            words = field.text().strip()
            try:
                days[name] = datetime.fromisoformat(words).timestamp() if words else 0.0
            except (ValueError, OverflowError, OSError):
                show_refused(field, True)
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
        self.says.setText(
            self.book.said
            or (f"{count}." if self.snapshot.rows else "Nothing is noted yet. Practise, or keep a check.")
        )
        self.entries.fill(HEADS, _Lines(self.shown))
        self._fill_tables(told)
        if self._work is not None:
            self._work.stop()
        ratio, width = self.devicePixelRatioF(), float(max(self.width() - 60, 400))
        from wise_compass.logbook.plots import Colours, plots

        colours = Colours(shade(PANEL), shade(INK), shade(SOFT), shade(COPPER), shade(TEAL))
        snapshot, shown = self.snapshot, self.shown

        def work(hear: Callable[[int, int], None]) -> tuple[ToldLogbook, dict[str, bytes]]:
            whole = told._replace(spreads=snapshot.spreads(shown))
            hear(0, 1)
            return whole, plots(whole, colours, width, 255.0, ratio)

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
                picture.setDevicePixelRatio(self.devicePixelRatioF())
                self.plots[id].setPixmap(picture)

    def settle(self) -> None:
        """Until the plots are drawn."""
        if self._work is not None:
            self._work.wait()

    # what is done with entries

    def _try(self, do: Callable[[], Any]) -> None:
        try:
            do()
        except Refused as refusal:
            self.says.setText(refusal.says)

    def _picked(self) -> list[LogbookRow]:
        rows = sorted({index.row() for index in self.entries.selectionModel().selectedRows()})
        if not rows:
            raise Refused("", "Pick an entry of the list first.")
        return [self.shown[row] for row in rows]

    def delete(self) -> None:
        """Forget the picked entries, at once and for good."""
        picked = self._picked()
        words = "this entry" if len(picked) == 1 else f"these {len(picked)} entries"
        if ask(self, "Delete", f"Delete {words} for good?", ["Delete", "Keep"]) == "Delete":
            self.book.forget([one.id for one in picked])
            self.read()

    def delete_all(self) -> None:
        """Forget everything."""
        count = len(self.snapshot.rows) if self.snapshot else 0
        words = f"Delete all {count} entries and their pictures for good? What is filtered away goes too."
        if count and ask(self, "Delete all", words, ["Keep", "Delete all"]) == "Delete all":
            self.book.forget()
            self.read()

    def attach(self) -> None:
        """Keep a picture of the finished drawing with the picked entry."""
        one = self._picked()[0]
        name, _ = QFileDialog.getOpenFileName(self, "A picture of the drawing", "", "Pictures (*.jpg *.jpeg *.png)")
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

        name, _ = QFileDialog.getOpenFileName(self, "Take entries in", "", "CSV (*.csv)")
        if name:
            entries = read_csv(read_text(Path(name), "a logbook"))
            self.book.note(entries)
            self.read()
            self.says.setText(f"{are(len(entries), 'entry', 'entries')} taken in.")

    def save(self) -> None:
        """What is shown, as CSV or JSON."""
        name, kind = QFileDialog.getSaveFileName(
            self, "Save what is shown", "logbook.csv", "CSV (*.csv);;JSON (*.json)"
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
