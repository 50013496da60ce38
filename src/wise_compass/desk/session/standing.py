"""What stands: the job being edited, what is selected of it, the runs of its entries and the sheet that is shown."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from wise_compass.desk.parts.theme import SETTLE_MS
from wise_compass.drafting.figure import Figure, make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.build import build_sheet, run_entry, run_key, style_of
from wise_compass.job.dimensions import read_typed
from wise_compass.job.history import History
from wise_compass.job.model import Entry, Job
from wise_compass.job.person import own_drafter
from wise_compass.job.recovery import Keeper
from wise_compass.job.store import stamp_of
from wise_compass.sheet.compose import Sheet
from wise_compass.sheet.layout import Before

if TYPE_CHECKING:
    from wise_compass.desk.session.asked import Asked
    from wise_compass.desk.session.lying import Lying
    from wise_compass.drafting.kit import Drafter


class Standing(QObject):
    """Signals: ``job_changed`` (the list of entries, titles, settings), ``selected`` (another entry), ``drawn`` (the
    shown sheet is new), ``stepped`` (another step), ``lit`` (spots to light up), ``said`` (a message), ``laid`` (a
    photograph lies on the board, is laid aside or taken away)."""

    job_changed = Signal()
    selected = Signal()
    drawn = Signal()
    stepped = Signal()
    lit = Signal()
    said = Signal(str)
    laid = Signal()

    def __init__(self, job: Job, path: Path | None = None, keeper: Keeper | None = None) -> None:
        super().__init__()
        self.history = History(job)
        self.path = path
        self.keeper = keeper or Keeper()
        self.entry_id = job.entries()[0].id if job.entries() else ""
        self.shown: Sheet | None = None
        """The sheet as it is shown: while a value is being changed its dimensions keep the ways that they had."""
        self.refusal: Refused | None = None
        self.photographs: dict[str, Lying] = {}
        self.asked: Asked | None = None
        """What the board is to let a person choose from."""
        self.aside = False
        """Whether the photograph of the selected figure is laid aside, so that its sheet is seen."""
        self._stamp = stamp_of(path)
        self._runs: dict[str, tuple[tuple[object, ...], Run]] = {}
        self._keys: dict[str, tuple[Job, Entry, Drafter, tuple[object, ...]]] = {}
        self._sheet_key: object = None
        self.changing = False
        """Whether what was drawn last is a value that is being changed, and likely to change again."""
        self._settle_soon = QTimer(self)
        self._settle_soon.setSingleShot(True)
        self._settle_soon.setInterval(SETTLE_MS)
        self._settle_soon.timeout.connect(self._settle)
        self._drafter = own_drafter()
        self._keep_soon = QTimer(self)
        self._keep_soon.setSingleShot(True)
        self._keep_soon.setInterval(250)
        self._compose()

    @property
    def job(self) -> Job:
        return self.history.job

    @property
    def entry(self) -> Entry | None:
        return self.job.entry(self.entry_id)

    @property
    def run(self) -> Run | None:
        """The exact run of the selected entry, or None while it has none."""
        return self.standing(self.entry)

    @property
    def last_step(self) -> int:
        made = self.run
        return len(made.steps) if made else 0

    @property
    def scale(self) -> float:
        """The scale of the shown sheet, which settings follow."""
        return self.shown.scale if self.shown is not None else 1.0

    @property
    def sheet(self) -> Sheet | None:
        """The selected entry's sheet, each dimension where it is best read."""
        if self._settle_soon.isActive():
            self._settle()
        return self.shown

    def _settle(self) -> None:
        """A value has come to rest: weigh where its dimensions go, and show it where that is elsewhere."""
        before = self.shown
        self._compose()
        if self.shown is not None and before is not None and not self.shown.dimensioned_as(before):
            self.drawn.emit()

    @property
    def photographed(self) -> Lying | None:
        """The photograph of the selected figure, if one was read."""
        return self.photographs.get(self.entry_id)

    @property
    def lying(self) -> Lying | None:
        """The photograph that lies on the board in the place of the paper."""
        return None if self.aside else self.photographed

    def ask(self, asked: Asked | None) -> None:
        """Have the board let a person choose, or no more."""
        if asked is not self.asked:
            self.asked = asked
            self.lit.emit()

    def lay(self, photograph: Lying | None) -> None:
        """Lay a photograph of the selected figure on the board, or take the one that lies there away."""
        if photograph is None:
            self.photographs.pop(self.entry_id, None)
        else:
            self.photographs[self.entry_id] = photograph
        self.aside = False
        self.laid.emit()

    def lay_aside(self, aside: bool) -> None:
        """Show the sheet in the place of its photograph, or that again."""
        if aside != self.aside:
            self.aside = aside
            self.laid.emit()

    def run_for(self, entry: Entry) -> Run | None:
        """An entry's run as it is now, made once; None where its figure cannot be."""
        entry = self.job.entry(entry.id) or entry  # who lists entries may hold one that has been changed since
        have = self.standing(entry)
        if have is None:
            with suppress(Refused):
                have = self._make(entry)
        return have

    def standing(self, entry: Entry | None) -> Run | None:
        """The run that stands for an entry as it is now, if one was made."""
        kept = self._runs.get(entry.id) if entry is not None else None
        return kept[1] if kept and entry is not None and kept[0] == self._key(entry) else None

    def _key(self, entry: Entry) -> tuple[object, ...]:
        """What the run of an entry depends on, worked out anew where the job or the drafter is another."""
        asked, have = (self.job, entry, self._drafter), self._keys.get(entry.id)
        if have is None or any(one is not other for one, other in zip(have, asked)):
            have = self._keys[entry.id] = (*asked, run_key(entry, self.job))
        return have[3]

    def _make(self, entry: Entry, figure: Figure | None = None) -> Run:
        """Run an entry, of which the figure may be made already; raises :class:`Refused`."""
        key, at = self._key(entry), self.job.find(entry.id)
        made = run_entry(entry, self.job.settings, self.job.sheets[at[0]] if at else None, figure)
        self._runs[entry.id] = (key, made)
        return made

    @property
    def style(self) -> Style:
        """How the job's numbers are read and said."""
        return style_of(self.job.settings)

    def _recheck_typed(self) -> None:
        """After going elsewhere and back, what was refused before is still refused."""
        entry = self.entry
        self.refusal = None
        if entry is None or not entry.typed:
            return
        kind = figure_named(entry.figure)
        try:
            read, _ = read_typed(self.job, entry, entry.typed, self.style)
            make(kind, {**entry.givens, **read})
        except Refused as refusal:
            self.refusal = refusal

    def _forget(self) -> None:
        """Nothing that was made for another job is of use."""
        self._runs.clear()
        self._keys.clear()
        self.photographs.clear()

    def redraw(self) -> None:
        """What is drawn follows something beside the job that has changed, such as the drafter's kit."""
        self._compose()
        self.drawn.emit()

    def _compose(self, changing: bool = False) -> None:
        """Draw the sheet of the selected entry, of which a value may be ``changing`` still."""
        self._settle_soon.stop()
        self.changing = changing
        self._drafter = own_drafter()  # once a drawing: each look asks the file system
        at = self.job.find(self.entry_id)
        if at is None:
            self.shown = None
            return
        before = Before(self.shown.faces, changing) if self.shown is not None else None
        try:
            runs = {entry.id: self.standing(entry) or self._make(entry) for entry in self.job.sheets[at[0]].entries}
            self.shown = build_sheet(self.job, at[0], runs, before=before)
        except Refused as refusal:
            if self.refusal is None:
                self.refusal = refusal
            if self._sheet_key != self.entry_id:
                self.shown = None
        else:
            self._sheet_key = self.entry_id
            if self.shown.provisional:
                self._settle_soon.start()

    @property
    def sheet_number(self) -> int:
        at = self.job.find(self.entry_id)
        return at[0] if at else -1
