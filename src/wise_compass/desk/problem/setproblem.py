"""Setting a problem: typed or pasted in words, read as it is written, or chosen by its picture."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QListWidget, QPushButton, QVBoxLayout, QWidget

from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import wrapped
from wise_compass.desk.parts.theme import font, px, show_refused, wide
from wise_compass.desk.problem.field import DOUBTED, TOLD, UNUSED, Marked, StatementField
from wise_compass.desk.problem.filledbrief import FilledBrief
from wise_compass.desk.problem.grid import FigureGrid
from wise_compass.desk.problem.kitwords import kit_words
from wise_compass.drafting.figure import FAMILIES, Figure
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import INCH, many
from wise_compass.figures.catalogue import catalogue, figure_named
from wise_compass.job.build import style_of
from wise_compass.job.model import Entry, SheetPlan
from wise_compass.job.settings import Settings
from wise_compass.job.stated import stated_sheet, wishes_of
from wise_compass.words.account import unused
from wise_compass.words.filled import Filled
from wise_compass.words.filling import fill
from wise_compass.words.lexicon import lexicon
from wise_compass.words.order import put_in_order
from wise_compass.words.reading import LEAST_NAME, Reading, read
from wise_compass.words.several import parted

if TYPE_CHECKING:
    from wise_compass.desk.handbook.reader import Reader

WAIT = 60
"""ms after the last key before a problem is read."""
ALL = "All that fit these words"


class SetProblem(Dialog):
    """Sets a problem. After it was accepted :attr:`sheets` holds what is set: one entry, or a sheet each of several;
    :attr:`picked` the figure of the first."""

    def __init__(
        self, parent: QWidget | None, can_share: bool, settings: Settings | None = None, text: str = ""
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Set a problem")
        self.resize(min(wide(1080), parent.width() - 60 if parent else 1080), px(680))
        self.picked: type[Figure] | None = None
        self.sheets: list[SheetPlan] = []
        self.settings = settings or Settings()
        self.style_of_job = style = style_of(self.settings)
        self.wishes: dict[str, str] = {}
        """The paper and the scale that the problem tells."""
        self.reading: Reading | None = None
        self.search = StatementField()
        self.brief = FilledBrief(style)
        self.says = wrapped("What was read", "hint")
        self.families = QListWidget()
        self.families.setAccessibleName("Families of figures")
        self.families.addItems([ALL, *FAMILIES.values()])
        self.families.setCurrentRow(0)
        self.families.setFixedWidth(wide(226))
        self.families.setSpacing(2)
        self.families.setFont(font(13))
        self.list = FigureGrid()
        self.none = QLabel("Nothing in the catalogue answers to that. Try a shorter word.")
        self.none.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.none.hide()
        self.kit = wrapped("What your kit cannot do of it", "hint")
        self.kit.hide()
        self.share = QCheckBox("On the same sheet as the figure now shown")
        self.share.setEnabled(can_share)
        self._lay()
        self.reader: Reader | None = None
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(WAIT)
        self._later.timeout.connect(self.read)
        self.search.textChanged.connect(self._later.start)
        self.search.entered.connect(self.accept)
        self.search.walked.connect(self._walk)
        self.search.pointed.connect(self.brief.light)
        self.search.refused.connect(self._refuse)
        self.brief.pointed.connect(self.search.light)
        self.brief.changed.connect(self._tell)
        self.families.currentRowChanged.connect(lambda _: self._show())
        self.list.currentItemChanged.connect(lambda *_: self._refill())
        self.list.itemActivated.connect(lambda _: self.accept())
        self.search.setPlainText(text)
        self.read()

    def _lay(self) -> None:
        hint = QLabel("Enter sets it · Shift+Enter begins a line · Esc leaves")
        hint.setObjectName("hint")
        title = QLabel("Set a problem")
        title.setObjectName("shown")
        head = QHBoxLayout()
        head.addWidget(title, 1)
        head.addWidget(hint)
        middle = QHBoxLayout()
        middle.addWidget(self.families)
        right = QVBoxLayout()
        right.addWidget(self.none)
        right.addWidget(self.list, 1)
        middle.addLayout(right, 1)
        self.set_it, leave = QPushButton("Set it"), QPushButton("Leave it")
        self.set_it.setDefault(True)
        self.set_it.clicked.connect(self.accept)
        leave.clicked.connect(self.reject)
        below = QHBoxLayout()
        below.addWidget(self.share, 1)
        below.addWidget(leave)
        below.addWidget(self.set_it)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 16, 22, 16)
        inside.setSpacing(8)
        inside.addLayout(head)
        inside.addWidget(self.search)
        inside.addWidget(self.brief)
        inside.addWidget(self.says)
        inside.addLayout(middle, 1)
        inside.addWidget(self.kit)
        inside.addLayout(below)

    # what is read

    @property
    def problems(self) -> list[str]:
        """The problems in the field, one by one."""
        return parted(self.search.toPlainText())

    def read(self) -> None:
        """Bring everything up to the words; of several problems the first is shown."""
        self._later.stop()
        problems = self.problems
        bare = INCH if self.style_of_job.units == "in" else 1.0
        try:
            self.reading = read(problems[0], bare) if problems else None
        except Refused as refusal:
            self.reading = None
            self.list.show_kinds([])
            self._refill()
            self._refuse(refusal.says)
            return
        self._show()

    def _show(self) -> None:
        """The figures that fit the words, in a family or in all of them."""
        kinds = list(self._fitting())
        row = self.families.currentRow()
        if row > 0:
            family = list(FAMILIES)[row - 1]
            kinds = [kind for kind in kinds if kind.family == family] if self.problems else []
            kinds = kinds or [kind for kind in catalogue().values() if kind.family == family]
        self.none.setVisible(not kinds)
        self.list.setVisible(bool(kinds))
        self.list.show_kinds(kinds)
        self._refill()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_F1:
            self._handbook()
        else:
            super().keyPressEvent(event)

    def _handbook(self) -> None:
        """The handbook about problems in words, over the pictures; or away again."""
        from wise_compass.desk.handbook.reader import Reader

        if self.reader is None:
            self.reader = Reader(self)
        if self.reader.isVisible():
            self.reader.close_it()
            self.search.setFocus()
        else:
            self.reader.open("words")

    def _fitting(self) -> Iterator[type[Figure]]:
        """Figures in the order in which they fit: by what was read, and by the words of the catalogue."""
        text = self.search.toPlainText().lower().split()
        if not text:
            yield from catalogue().values()
            return
        reading = self.reading
        told = [one.id for one in (reading.tried if reading else ()) if one.named >= LEAST_NAME]
        words = [kind.id for kind in catalogue().values() if all(word in _words_of(kind) for word in text)]
        measured = reading is not None and bool(reading.statement.quantities)
        if reading is not None and reading.best is None and not words and measured:
            told = []
        first = [*told, *words] if measured or not words else [*words, *told]
        kin = [kind.id for kind in catalogue().values() if first and kind.family == figure_named(first[0]).family]
        for id in dict.fromkeys([*first, *kin]):
            yield figure_named(id)

    def _refill(self) -> None:
        kind = self.list.kind()
        self.brief.show_filled(kind, self._filled(kind) if kind is not None else None)
        kit = kit_words(kind) if kind is not None else ""
        self.kit.setVisible(bool(kit))
        self.kit.setText(kit)
        self._mark()
        self._tell()

    def _filled(self, kind: type[Figure]) -> Filled | None:
        reading = self.reading
        if reading is None:
            return None
        if reading.best is not None and reading.best.id == kind.id:
            return reading.best
        found = next((one for one in reading.tried if one.id == kind.id), None)
        found = found or fill(reading.statement, lexicon().figures[kind.id])
        put_in_order(found)
        return found

    def _mark(self) -> None:
        """Mark in the text what was used, what is doubtful, and what was not used."""
        reading, found = self.reading, self.brief.found
        if reading is None or found is None or self.brief.untold:
            self.search.mark([])
            return
        text = self.search.toPlainText()
        first = max(text.find(reading.statement.text), 0)
        marks = [
            Marked(first + start, first + end, DOUBTED if name in found.doubts else TOLD, name)
            for name, (start, end) in found.spans.items()
        ]
        for words in (*found.unused, *reading.unknown):
            at = reading.statement.low.find(words.lower())
            if at >= 0:
                marks.append(Marked(first + at, first + at + len(words), UNUSED))
        self.search.mark(marks)

    def _tell(self) -> None:
        """Say in words what is missing, doubtful or not used."""
        self.says.setText(" ".join(self._told()))
        show_refused(self.says, bool(self.brief.empty()))
        ready = len(self.problems)
        self.set_it.setText("Set it" if ready < 2 else f"Set {many(ready, 'problem')}")

    def _told(self) -> Iterator[str]:
        reading, kind, found = self.reading, self.brief.kind, self.brief.found
        if len(self.problems) > 1:
            yield f"{many(len(self.problems), 'problem')}, a sheet each; the first is shown."
        if reading is None or kind is None or found is None:
            return
        if reading.best is None and not self.brief.untold:
            yield reading.refuse
        for name in self.brief.empty():
            clash = found.conflicts.get(name)
            told = f"told twice, {' and '.join(f'{value:g}' for value in clash)}" if clash else "missing"
            told = "waits for what is missing" if name in found.pending else told
            yield f"{kind.givens[name].says[0].upper()}{kind.givens[name].says[1:]}: {told}."
        if self.brief.untold:
            return
        for name, why in found.doubts.items():
            if name not in self.brief.corrected and name not in found.conflicts:
                yield f"Is {name.replace('_', ' ')} right? {why[0].upper()}{why[1:]}."
        for name, working in found.workings.items():
            if name not in found.doubts and name not in self.brief.corrected and working != found.why.get(name):
                yield f"{name.replace('_', ' ').capitalize()} is worked out: {working}."
        if reading.best is found and reading.doubt:
            yield f"Is it this figure? {reading.doubt[0].upper()}{reading.doubt[1:]}."
        if reading.figures and reading.best is found:
            yield f"There is more than one figure in it: {', '.join(reading.figures)}."
        if left := unused(Reading(reading.statement, found, unknown=reading.unknown)):
            yield f"Not used: {', '.join(left)}."

    def _refuse(self, words: str) -> None:
        self.says.setText(words)
        show_refused(self.says, True)

    def _walk(self, event: QKeyEvent) -> None:
        self.list.event(event)

    # setting

    def accept(self) -> None:
        if self._later.isActive():
            self.read()
        if len(self.problems) > 1:
            self._set_several()
            return
        kind = self.list.kind()
        if kind is None:
            return
        try:
            figure = self.brief.made()
        except Refused as refusal:
            self._refuse(refusal.words(self.style_of_job))
            if refusal.given in self.brief.slots:
                self.brief.slots[refusal.given].setFocus()
            return
        text = "" if self.brief.untold else self.search.toPlainText().strip()
        entry = Entry(kind.id, kind.title, self.brief.method(), figure.stored(), stated=text)
        if self.reading is not None and text:
            self.wishes = wishes_of(self.reading)
        self.sheets.append(SheetPlan(kind.title, (entry,), **{"paper": self.settings.paper, **self.wishes}))
        self.picked = kind
        super().accept()

    def _set_several(self) -> None:
        """Set what can be set, a sheet each, however the dialog is left then; what needs an answer stays in the field,
        and is told."""
        kept, asks = list[str](), list[str]()
        bare = INCH if self.style_of_job.units == "in" else 1.0
        for text in self.problems:
            try:
                self.sheets.append(stated_sheet(read(text, bare), self.settings.paper))
            except Refused as refusal:
                kept.append(text)
                asks.append(refusal.words(self.style_of_job))
        if kept:
            ready = len(self.sheets)
            self.search.setPlainText("\n\n".join(kept))
            self.read()
            self._refuse(f"{ready} set. {many(len(kept), 'problem')} left: {' '.join(asks)}")
            if ready:
                self.picked = figure_named(self.sheets[0].entries[0].figure)
            return
        self.picked = figure_named(self.sheets[0].entries[0].figure)
        super().accept()


def _words_of(kind: type[Figure]) -> str:
    givens, methods = kind.givens.values(), kind.methods.values()
    own = (kind.id, kind.title, kind.summary, FAMILIES[kind.family])
    return " ".join((*own, *(one.says for one in givens), *(one.title for one in methods))).lower()
