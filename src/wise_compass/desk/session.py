"""The session: the job being edited, its runs and sheets, and what is selected. Every change goes through here."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from wise_compass.desk.filing import Filing
from wise_compass.desk.scattering import Scattering
from wise_compass.desk.walking import Walking
from wise_compass.desk.work import Later
from wise_compass.drafting.catalogue import figure_named
from wise_compass.drafting.figure import Figure, make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array
from wise_compass.job.build import build_sheet, kept_wish, run_entry, run_key, shop_of, style_of
from wise_compass.job.dimensions import read_typed, settled
from wise_compass.job.history import History
from wise_compass.job.model import Entry, Job
from wise_compass.job.person import own_drafter
from wise_compass.job.recovery import Keeper
from wise_compass.job.store import stamp_of
from wise_compass.sheet.compose import Sheet

if TYPE_CHECKING:
    from wise_compass.drafting.kit import Drafter


class Session(Walking, Scattering, Filing, QObject):
    """Signals: ``job_changed`` (the list of entries, titles, settings), ``selected`` (another entry), ``drawn`` (the
    shown sheet is new), ``stepped`` (another step), ``lit`` (spots to light up), ``said`` (a message)."""

    job_changed = Signal()
    selected = Signal()
    drawn = Signal()
    stepped = Signal()
    lit = Signal()
    said = Signal(str)

    def __init__(self, job: Job, path: Path | None = None, keeper: Keeper | None = None) -> None:
        super().__init__()
        self.history = History(job)
        self.path = path
        self.keeper = keeper or Keeper()
        self.entry_id = job.entries()[0].id if job.entries() else ""
        self.sheet: Sheet | None = None
        self.refusal: Refused | None = None
        self._wrong: tuple[Run | None, list[Array]] = (None, [])
        self._stamp = stamp_of(path)
        self._drawing = Later(self)
        self.hints: tuple[tuple[float, float], ...] = ()
        self.marks_lit: tuple[str, ...] = ()
        self._runs: dict[str, tuple[tuple[object, ...], Run]] = {}
        self._keys: dict[str, tuple[Job, Entry, Drafter, tuple[object, ...]]] = {}
        self._sheet_key: object = None
        self._keep_soon = QTimer(self)
        self._keep_soon.setSingleShot(True)
        self._keep_soon.setInterval(250)
        self._keep_soon.timeout.connect(self._keep)
        self._compose()

    # what stands

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
        return self.sheet.scale if self.sheet is not None else 1.0

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
        asked, have = (self.job, entry, own_drafter()), self._keys.get(entry.id)
        if have is None or any(one is not other for one, other in zip(have, asked)):
            have = self._keys[entry.id] = (*asked, run_key(entry, self.job))
        return have[3]

    def _make(self, entry: Entry, figure: Figure | None = None) -> Run:
        """Run an entry, of which the figure may be made already; raises :class:`Refused`."""
        key, at = self._key(entry), self.job.find(entry.id)
        made = run_entry(entry, self.job.settings, self.job.sheets[at[0]] if at else None, figure)
        self._runs[entry.id] = (key, made)
        return made

    # selecting and walking

    def select(self, entry_id: str) -> None:
        """Show another entry, all of its construction drawn."""
        if entry_id == self.entry_id or self.job.entry(entry_id) is None:
            return
        self.entry_id = entry_id
        self.refusal = None
        self.finished, self.step, self.between = True, 0, 0.0
        self.marks_lit = ()
        self._recheck_typed()
        self._compose()
        self.selected.emit()
        self.drawn.emit()

    @property
    def lines_drawn(self) -> list[Array]:
        """What a wrong drawing of the selected run would look like, where that is shown."""
        made, lines = self._wrong
        return lines if made is self.run else []

    def show_drawn(self, lines: list[Array], made: Run | None = None) -> None:
        """Show over the exact figure what a wrong drawing of that run would look like; nothing for none."""
        before, self._wrong = self.lines_drawn, (made, lines)
        if lines or before:
            self.lit.emit()

    def light(self, names: tuple[str, ...]) -> None:
        """Light up the spots that a value, or the pointer, is about."""
        if names != self.marks_lit:
            self.marks_lit = names
            self.lit.emit()

    def hint(self, places: tuple[tuple[float, float], ...]) -> None:
        """Show places of the figure, in its own mm, where further points would help."""
        if places != self.hints:
            self.hints = places
            self.lit.emit()

    # edits

    def edit(self, job: Job, title: str, key: str = "") -> None:
        """Take an edited job: compose its sheet, tell everyone, keep it aside."""
        before = self.job
        self.history.edit(settled(job), title, key)
        self._after_change(before)

    def _after_change(self, before: Job) -> None:
        if self.job == before:
            return
        if self.job.entry(self.entry_id) is None:
            entries = self.job.entries()
            was = [entry.id for entry in before.entries()]
            place = was.index(self.entry_id) if self.entry_id in was else 0
            self.entry_id = entries[min(place, len(entries) - 1)].id if entries else ""
            self._show_other()
        else:
            self._recheck_typed()
            self._compose()
            self.between = 0.0
            if not self.finished and self.step > self.last_step:
                self.finished = True
            self.drawn.emit()
        if before.outline != self.job.outline:
            self.job_changed.emit()
        self._keep_soon.start()

    def _show_other(self) -> None:
        self.refusal, self.finished, self.step, self.between = None, True, 0, 0.0
        self._recheck_typed()
        self._compose()
        self.selected.emit()
        self.drawn.emit()

    def set_given(self, name: str, text: str) -> bool:
        """Type ``text`` into a given. Where it cannot be, it stays typed, and the last good figure stays drawn."""
        return self.set_givens({name: text})

    def set_givens(self, texts: Mapping[str, str]) -> bool:
        """Type into several givens at once, which are taken or refused together."""
        name = "_".join(texts)
        entry = self.entry
        if entry is None:
            return False
        kind = figure_named(entry.figure)
        # a slot may outlive its figure by a moment
        texts = {given: words for given, words in texts.items() if given in kind.givens}
        typed = {**entry.typed, **texts}
        try:
            read, links = read_typed(self.job, entry, typed, style_of(self.job.settings))
            changed = replace(entry, givens={**entry.givens, **read}, typed={}, links=links)
            self._make(changed, make(kind, changed.givens))
        except Refused as refusal:
            self.history.edit(
                self.job.with_entry(entry.id, lambda e: replace(e, typed=typed)), f"Type {name}", f"{entry.id}.{name}"
            )
            self.refusal = refusal
            self.drawn.emit()
            self._keep_soon.start()
            return False
        self.refusal = None
        self.edit(self.job.with_entry(entry.id, lambda _: changed), f"Change {name}", f"{entry.id}.{name}")
        return True

    def set_method(self, method: str) -> bool:
        """Choose another method; refused where it does not serve for these givens."""
        entry = self.entry
        if entry is None or method == entry.method:
            return True
        changed = replace(entry, method=method)
        have = self.standing(entry)
        try:
            self._make(changed, (have.given or have.figure) if have else None)
        except Refused as refusal:
            self.refusal = refusal
            self.drawn.emit()
            return False
        self.refusal = None
        self.edit(self.job.with_entry(entry.id, lambda _: changed), "Change method")
        return True

    def set_table(self, **changes: object) -> None:
        """Change how the selected figure's curve table is wanted; raises :class:`Refused` where it cannot be so."""
        entry, made = self.entry, self.run
        if entry is None or made is None:
            return
        table = {**entry.table, **changes}
        from wise_compass.study.tables import table_of

        table_of(made.figure, made.method.id, kept_wish(table, made), style_of(self.job.settings))
        self.edit(self.job.with_entry(entry.id, lambda e: replace(e, table=table)), "Curve table", f"{entry.id}.table")

    def set_shop(self, **changes: object) -> None:
        """Change what is asked of the selected figure's pattern; raises :class:`Refused` where it cannot be so."""
        entry = self.entry
        if entry is None:
            return
        changed = replace(entry, shop={**entry.shop, **changes})
        shop_of(changed, self._make(changed))
        name = "_".join(changes)
        self.edit(self.job.with_entry(entry.id, lambda _: changed), f"Change {name}", f"{entry.id}.shop.{name}")

    def set_side(self, number: int, side: str) -> None:
        """Have the selected figure's auxiliary view of this number, from 0, on the usual side, the other, or where it fits."""
        entry = self.entry
        if entry is not None:
            sides = [*entry.sides, *["auto"] * (number + 1 - len(entry.sides))]
            sides[number] = side
            kept = tuple(sides) if set(sides) != {"auto"} else ()
            self.edit(self.job.with_entry(entry.id, lambda e: replace(e, sides=kept)), f"Place view {number + 3}")

    def set_wish(self, title: str, **wish: bool | str | float) -> None:
        """Have something on the sheet with the selected figure, its space view, hatching or hidden edges, or leave it away."""
        entry = self.entry
        if entry is not None:
            self.edit(self.job.with_entry(entry.id, lambda e: replace(e, **wish)), title)

    def set_gaps(self, shown: bool) -> None:
        """Draw the selected figure's gap plot, or leave it away."""
        self.set_wish("Gap plot", gaps=shown)

    def set_sheet(self, **changes: str) -> None:
        """Change the paper, its lie or the scale of the shown sheet."""
        at = self.job.find(self.entry_id)
        if at:
            self.edit(self.job.with_sheet(at[0], **changes), f"Change {', '.join(changes)}")

    def shift_figure(self, by: tuple[float, float] | None) -> None:
        """Move the selected figure on its sheet by millimetres, or (None) back to its automatic place."""
        entry = self.entry
        if entry is None:
            return
        was = entry.shift or (0.0, 0.0)
        shift = None if by is None else (round(was[0] + by[0], 3), round(was[1] + by[1], 3))
        changed = self.job.with_entry(entry.id, lambda e: replace(e, shift=shift))
        self.edit(changed, "Move on the sheet", f"{entry.id}.shift")

    def _recheck_typed(self) -> None:
        """After going elsewhere and back, what was refused before is still refused."""
        entry = self.entry
        self.refusal = None
        if entry is None or not entry.typed:
            return
        kind = figure_named(entry.figure)
        try:
            read, _ = read_typed(self.job, entry, entry.typed, style_of(self.job.settings))
            make(kind, {**entry.givens, **read})
        except Refused as refusal:
            self.refusal = refusal

    def _forget(self) -> None:
        """Nothing that was made for another job is of use."""
        self._runs.clear()
        self._keys.clear()

    def redraw(self) -> None:
        """What is drawn follows something beside the job that has changed, such as the drafter's kit."""
        self._compose()
        self.drawn.emit()

    def undo(self) -> None:
        title, before = self.history.undo_title, self.job
        if self.history.undo():
            self._after_history(before, f"Undone: {title}.")

    def redo(self) -> None:
        title, before = self.history.redo_title, self.job
        if self.history.redo():
            self._after_history(before, f"Done again: {title}.")

    def _after_history(self, before: Job, says: str) -> None:
        self._after_change(before)
        self.selected.emit()
        self.said.emit(says)

    # composing

    def _compose(self) -> None:
        at = self.job.find(self.entry_id)
        if at is None:
            self.sheet = None
            return
        try:
            runs = {entry.id: self.standing(entry) or self._make(entry) for entry in self.job.sheets[at[0]].entries}
            self.sheet = build_sheet(self.job, at[0], runs)
        except Refused as refusal:
            if self.refusal is None:
                self.refusal = refusal
            if self._sheet_key != self.entry_id:
                self.sheet = None
        else:
            self._sheet_key = self.entry_id

    @property
    def sheet_number(self) -> int:
        at = self.job.find(self.entry_id)
        return at[0] if at else -1
