"""The session: every change of the job goes through here.

It is read in layers, each a file: `standing.py` (job, runs, sheet), `walking.py` (what is selected, walked and lit),
`scattering.py` (many hands), `filing.py` (files), and here the edits.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from wise_compass.desk.session.filing import Filing
from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.figure import OWN_WAY, make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wishes import declared
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.build import kept_wish, shop_of
from wise_compass.job.dimensions import read_typed, settled
from wise_compass.job.model import Entry, Job
from wise_compass.job.standing import on_their_sheets
from wise_compass.job.store import load, stamp_of
from wise_compass.own.language import START, START_IN_VIEWS


class Session(Filing):
    """The job being edited, and every way in which it changes."""

    def edit(self, job: Job, title: str, key: str = "") -> None:
        """Take an edited job: compose its sheet, tell everyone, keep it aside."""
        before = self.job
        self.history.edit(settled(on_their_sheets(job)), title, key)
        self._after_change(before, bool(key))

    def _after_change(self, before: Job, changing: bool = False) -> None:
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
            self._compose(changing)
            self.between = 0.0
            if not self.finished and self.step > self.last_step:
                self.finished = True
            self.drawn.emit()
        self._part_from_photograph(before)
        if before.outline != self.job.outline:
            self.job_changed.emit()
        self._keep_soon.start()

    def _part_from_photograph(self, before: Job) -> None:
        """A photograph shows the figure as it was: it is laid aside where that is another by now."""
        was, now = before.entry(self.entry_id), self.entry
        if self.lying is None or was is None or now is None:
            return
        if (was.figure, was.givens, was.method) != (now.figure, now.givens, now.method):
            self.lay_aside(True)
            self.said.emit("The photograph shows the figure as it was; it is laid aside.")

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
            read, links = read_typed(self.job, entry, typed, self.style)
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
        if method == OWN_WAY and not entry.own:
            in_views = issubclass(figure_named(entry.figure), InViews)
            changed = replace(changed, own=START_IN_VIEWS if in_views else START)
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

    def set_own(self, text: str, title: str = "") -> None:
        """Draw the selected figure by a way of one's own, as far as its lines can be drawn; one change of the job for
        each ``title``, and one for what is typed at a stretch."""
        entry = self.entry
        if entry is not None and (entry.own, entry.method) != (text, OWN_WAY):
            own = self.job.with_entry(entry.id, lambda e: replace(e, own=text, method=OWN_WAY))
            self.edit(own, title or "Write a step", "" if title else f"{entry.id}.own")

    def set_table(self, **changes: object) -> None:
        """Change how the selected figure's curve table is wanted; raises :class:`Refused` where it cannot be so."""
        entry, made = self.entry, self.run
        if entry is None or made is None:
            return
        table = {**entry.table, **changes}
        from wise_compass.study.tables import table_of

        table_of(made.figure, made.way, kept_wish(table, made), self.style)
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
        """Have the selected figure's auxiliary view of this number, from 0, on the usual side, the other, or where it
        fits."""
        entry = self.entry
        if entry is not None:
            sides = [*entry.sides, *["auto"] * (number + 1 - len(entry.sides))]
            sides[number] = side
            kept = tuple(sides) if set(sides) != {"auto"} else ()
            self.edit(self.job.with_entry(entry.id, lambda e: replace(e, sides=kept)), f"Place view {number + 3}")

    def set_wish(self, title: str, **wish: Any) -> None:
        """Have something on the sheet with the selected figure, its space view, hatching or hidden edges, or leave it
        away; the names are those that an entry declares. Raises :class:`Refused` for a value that it does not take."""
        entry = self.entry
        if entry is not None:
            for name, value in wish.items():
                declared(Entry)[name].check(value)
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

    def take_theirs(self) -> None:
        """Open the job's file as another has left it; raises :class:`Refused`. What was here can be undone to."""
        assert self.path is not None
        theirs, self._stamp = load(self.path), stamp_of(self.path)
        self.edit(theirs, "Take what is on the disk")
        self.history.mark_saved()
        self.job_changed.emit()
