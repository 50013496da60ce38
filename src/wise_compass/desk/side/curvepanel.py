"""The Curve panel: how far the hand's curve strays from the true one, what would hold it, and the curve table."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.keys import PRESS, TABLE, keep
from wise_compass.desk.parts.labels import heading, wrapped
from wise_compass.desk.parts.theme import SETTLE_MS, show_refused, wide
from wise_compass.desk.parts.work import Later
from wise_compass.desk.sentence.slots import ListSlot
from wise_compass.desk.session.session import Session
from wise_compass.desk.side.plotpart import PlotPart
from wise_compass.desk.side.tablefile import ask_csv, write_table
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import INCH, Style, trim
from wise_compass.job.build import kept_wish
from wise_compass.sheet.inks import INKS
from wise_compass.study.gaps import MOST_EXTRA, Extra, Stray, counted, stray
from wise_compass.study.tables import Table, curve_table
from wise_compass.study.tablewish import BY, LENGTHS, TableWish

MOST_LISTED = 12


class CurvePanel(QScrollArea):
    """Everything about the curve of the selected figure. Filled when it is in sight and the figure is new."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        body = QWidget()
        self.setWidget(body)
        self.inside = QVBoxLayout(body)
        self.inside.setContentsMargins(12, 10, 12, 12)
        self.inside.setSpacing(8)
        self._shown: object = None
        self._filling = False
        self._entry = ""
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SETTLE_MS)
        self._soon.timeout.connect(self.fill)
        self._places: tuple[tuple[float, float], ...] = ()
        self._later, self._tabling = Later(self), Later(self)
        self.plot = PlotPart(session)
        self.inside.addWidget(self.plot)
        self._stray_part()
        self.inside.addSpacing(8)
        self._table_part()

    # the hand's curve

    def _stray_part(self) -> None:
        self.inside.addWidget(heading("The hand’s curve and the true one"))
        self.says = wrapped("How far the hand’s curve strays")
        self.inside.addWidget(self.says)
        row = QHBoxLayout()
        row.addWidget(QLabel("Hold it within"))
        self.hold = QLineEdit()
        self.hold.setObjectName("field")
        self.hold.setFixedWidth(wide(74))
        self.hold.setAccessibleName("The gap to stay within")
        self.hold.setToolTip("The gap to stay within; the line’s own width unless told otherwise")
        self.hold.textEdited.connect(lambda _: self.fill(anew=True))
        row.addWidget(self.hold)
        row.addWidget(QLabel("on the paper"))
        row.addStretch(1)
        self.inside.addLayout(row)
        self.take = QPushButton()
        self.take.clicked.connect(self._take)
        self.inside.addWidget(self.take, 0, Qt.AlignmentFlag.AlignLeft)
        self.further = wrapped("Further points")
        self.further.setObjectName("hint")
        self.inside.addWidget(self.further)
        self.gaps = QCheckBox("Draw the gap plot")
        self.gaps.toggled.connect(self._plot)
        self.inside.addWidget(self.gaps)

    def _style(self) -> Style:
        return self.session.style

    def _size(self) -> float:
        """What a bare number of a length is, in mm."""
        return INCH if self._style().units == "in" else 1.0

    def _limit(self) -> float:
        """The gap to hold, in figure mm; raises :class:`Refused` for one that is none."""
        scale = self.session.scale
        typed = self.hold.text().strip()
        limit = parse_quantity(typed, "length", self._size()) if typed else INKS["outline"].width
        if not 0.001 <= limit <= 100:
            style = self._style()
            raise Refused("hold", f"The gap to hold goes from {style.short(0.001)} to {style.short(100.0)}.")
        return limit / scale

    def _say_stray(self, made: Run) -> None:
        self._later.drop()
        self._enough: int | None = None
        self._places = ()
        self.take.hide()
        self.further.hide()
        if not self.hold.text():
            self.hold.setPlaceholderText(self._style().short(INKS["outline"].width))
        try:
            limit = self._limit()
        except Refused as refusal:
            self.says.setText(refusal.words(self._style()))
            show_refused(self.hold, True)
            return
        show_refused(self.hold, False)
        self.says.setText("Held against the true curve …")
        self._later.ask(lambda: stray(made, limit), lambda strays: self._tell_stray(made, strays), held=0.02)

    def _tell_stray(self, made: Run, strays: Stray | None) -> None:
        """How far the hand's curve strays, and what would hold it closer."""
        if made is not self.session.run:  # another figure has been chosen meanwhile
            return
        if strays is None:
            self.says.setText("This curve is drawn in arcs that are the true curve itself.")
            return
        self.says.setText(strays.sentence(self._style()))
        if not strays.joined:
            return
        self._offer_divisions(made, strays.enough)
        if strays.extras is None:
            self.further.setText(f"More than {MOST_EXTRA} further points would be needed to hold it so close.")
        else:
            self.further.setText(self._further_words(strays.extras))
            self._places = tuple((float(one.at[0]), float(one.at[1])) for one in strays.extras)
        self.further.setVisible(bool(self.further.text()))
        self.session.hint(self._places)

    def settle(self) -> None:
        """Until it is told how far the curve strays, and tabled where it runs."""
        self._later.settle()
        self._tabling.settle()

    def _offer_divisions(self, made: Run, enough: int | None) -> None:
        """The button that takes the fewest divisions that hold, where they are others than now."""
        name = counted(made.figure)
        now = made.figure.given_values[name] if name else None
        self._enough = enough
        if enough is not None and now is not None and enough != now:
            self.take.setText(f"Take {enough} divisions{', which are enough' if enough < now else ''}")
            self.take.show()

    def _further_words(self, extras: Sequence[Extra]) -> str:
        """Where further points would be set, each by its coordinates."""
        if not extras:
            return ""
        style = self._style()
        rows = [
            f"{one.between[0]}–{one.between[1]}:  {style.length(float(one.at[0]), False)}, "
            f"{style.length(float(one.at[1]), False)}"
            for one in extras[:MOST_LISTED]
        ]
        more = f"\nand {len(extras) - MOST_LISTED} more" if len(extras) > MOST_LISTED else ""
        return (
            f"Or keep the divisions and set {len(extras)} further points, only "
            "where it is sharp (crosses on the board):\n" + "\n".join(rows) + more
        )

    def _take(self) -> None:
        made = self.session.run
        if made is not None and self._enough is not None:
            self.session.set_given(counted(made.figure), str(self._enough))
            self.fill()

    def _plot(self, on: bool) -> None:
        if not self._filling:
            self.session.set_gaps(on)
            self.fill()

    # the table

    def _table_part(self) -> None:
        self.inside.addWidget(heading("Curve table"))
        self.by = ListSlot(
            "by", "What the steps run along", [(id, words) for id, words in BY.items()], "level", small=True
        )
        self.by.activated.connect(lambda _: self._wish(by=self.by.currentData(), step=0.0))
        self.curves = ListSlot("curve", "Which curve", [], "", small=True)
        self.curves.activated.connect(lambda index: self._wish(curve=index))
        self.step = QLineEdit()
        self.step.setObjectName("field")
        self.step.setFixedWidth(wide(74))
        self.step.setAccessibleName("Step of the table")
        self.step.textEdited.connect(self._step_typed)
        counts = [(str(n), str(n)) for n in range(7)]
        self.decimals = ListSlot("decimals", "Decimals of the table", counts, "2", small=True)
        self.decimals.activated.connect(lambda n: self._wish(decimals=n))
        for parts in ((self.curves,), ("Steps", self.by), ("of", self.step, "with", self.decimals, "decimals")):
            row = QHBoxLayout()
            for part in parts:
                row.addWidget(QLabel(part) if isinstance(part, str) else part)
            row.addStretch(1)
            self.inside.addLayout(row)
        self.table_says = wrapped("What is wrong with the table")
        self.table_says.setObjectName("hint")
        self.inside.addWidget(self.table_says)
        self.ordinates = QTableWidget()
        self.ordinates.setObjectName("ordinates")
        self.ordinates.setAccessibleName("Curve table")
        self.ordinates.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.ordinates.verticalHeader().hide()
        self.ordinates.verticalHeader().setDefaultSectionSize(22)
        self.ordinates.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.ordinates.setMinimumHeight(180)
        self.inside.addWidget(self.ordinates, 1)
        self.on_sheet = QCheckBox("Print it on the sheet")
        self.on_sheet.toggled.connect(lambda on: None if self._filling else self._wish(on_sheet=on))
        self.inside.addWidget(self.on_sheet)
        save = QPushButton("Save as CSV…")
        save.clicked.connect(self._save)
        for button in (self.take, self.gaps, self.on_sheet, save):
            keep(button, PRESS)
        keep(self.ordinates, TABLE)
        self.inside.addWidget(save, 0, Qt.AlignmentFlag.AlignLeft)

    def _table_wish(self) -> TableWish:
        entry, made = self.session.entry, self.session.run
        wish = kept_wish(entry.table, made) if entry is not None and made is not None else TableWish()
        return wish._replace(by="level", on_sheet=False) if wish.by == LENGTHS else wish

    def _wish(self, **changes: object) -> None:
        """Want the table otherwise; what cannot be is said, and nothing changes."""
        try:
            self.session.set_table(**{"by": self._table_wish().by, **changes})
        except Refused as refusal:
            self.fill(anew=True)
            self._say_refused(refusal)
        else:
            self.fill(anew=True)

    def _say_refused(self, refusal: Refused) -> None:
        self.table_says.setText(refusal.words(self._style()))
        self.table_says.show()

    def _step_typed(self, words: str) -> None:
        try:
            kind = "angle" if self._table_wish().by == "angle" else "length"
            step = parse_quantity(words, kind, self._size()) if words.strip() else 0.0
            if step < 0:
                raise Refused("step", "The step must be more than 0.")
            self.session.set_table(by=self._table_wish().by, step=step)
        except Refused as refusal:
            show_refused(self.step, True)
            self._say_refused(refusal)
            return
        show_refused(self.step, False)
        self.fill()

    def table(self) -> Table | None:
        """The table as it is wanted; None where there is none, which is then said."""
        made = self.session.run
        self.table_says.hide()
        if made is None:
            return None
        try:
            return curve_table(made.figure, made.way, self._table_wish(), self._style())
        except Refused as refusal:
            self._say_refused(refusal)
            return None

    def _show_table(self, made: Run) -> None:
        wish, style = self._table_wish(), self._style()
        self.by.show_value(wish.by)
        self.decimals.show_value(str(wish.decimals))
        courses = made.courses
        if [self.curves.itemText(k) for k in range(self.curves.count())] != [course.says for course in courses]:
            self.curves.clear()
            self.curves.addItems([course.says for course in courses])
        self.curves.setCurrentIndex(wish.curve)
        self.curves.setVisible(len(courses) > 1)
        self.table_says.hide()
        self._tabling.ask(
            lambda: curve_table(made.figure, made.way, wish, style),
            lambda table: self._put_table(wish, table),
            self._refuse_table,
            held=0.05,
        )

    def _refuse_table(self, refusal: Refused) -> None:
        self._say_refused(refusal)
        self.ordinates.setRowCount(0)

    def _put_table(self, wish: TableWish, table: Table) -> None:
        """The rows of the table as it is wanted."""
        size, unit = (1.0, "°") if wish.by == "angle" else (self._size(), f" {self._style().units}")
        if not self.step.hasFocus():
            self.step.setText(f"{trim(wish.step / size, 6)}{unit}" if wish.step else "")
            show_refused(self.step, False)
        self.step.setPlaceholderText(f"{trim(table.step / size, 6)}{unit}")
        self.ordinates.setColumnCount(len(table.columns))
        self.ordinates.setHorizontalHeaderLabels([f"{n} {u}" for n, u in zip(table.columns, table.units)])
        self.ordinates.setRowCount(len(table.rows))
        for r, row in enumerate(table.texts()):
            for c, words in enumerate(row):
                item = QTableWidgetItem(words)
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.ordinates.setItem(r, c, item)

    def _save(self) -> None:
        entry, table = self.session.entry, self.table()
        if entry is None or table is None:
            return
        path = ask_csv(self, "Save the curve table", entry.title)
        if path is not None:
            self.save_to(path)

    def save_to(self, path: Path) -> None:
        """Write the table as CSV; says so, or why not."""
        table = self.table()
        if table is not None:
            write_table(self.session, table, path, "row")

    # both

    def _key(self) -> object:
        """What everything here depends on."""
        entry = self.session.entry
        if entry is None:
            return None
        return (self.session.run, entry.table, entry.gaps, self.session.scale, self.session.job.settings)

    def fill_soon(self) -> None:
        """Bring everything up to the figure: at once to another one, a little later while one is being changed."""
        if self._shown is None or self._entry != self.session.entry_id or self._key() == self._shown:
            self.fill()
        else:
            self._show_wishes()
            self._soon.start()

    def _show_wishes(self) -> None:
        """What is wanted on the sheet, which may have been asked for or undone elsewhere."""
        entry, made = self.session.entry, self.session.run
        if entry is None or made is None:
            return
        always = not made.method.exact(made.figure)
        self._filling = True
        self.gaps.setChecked(entry.gaps or always)
        self.gaps.setEnabled(not always)
        self.on_sheet.setChecked(self._table_wish().on_sheet)
        self._filling = False

    def fill(self, anew: bool = False) -> None:
        """Bring everything up to the selected figure."""
        self._soon.stop()
        self._entry = self.session.entry_id
        entry, made = self.session.entry, self.session.run
        if entry is None or made is None or not made.courses:
            self._shown = None
            self.session.hint(())
            return
        key = self._key()
        if key == self._shown and not anew:
            self.session.hint(self._places)
            return
        self._shown = key
        self.plot.fill()
        self._show_wishes()
        self._say_stray(made)
        self._show_table(made)
        self.session.hint(self._places)
