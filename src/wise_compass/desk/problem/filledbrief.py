"""The brief of a problem before it is set: what was read stands in its slots, and each can be put right."""

from __future__ import annotations

import re
from contextlib import suppress
from typing import Any

from PySide6.QtCore import QEvent, QObject, Signal
from PySide6.QtWidgets import QLabel, QLineEdit, QVBoxLayout, QWidget

from wise_compass.desk.parts.labels import wrapped
from wise_compass.desk.parts.theme import show_refused
from wise_compass.desk.sentence.slots import FlowLayout, ListSlot, TextSlot, Word
from wise_compass.drafting.figure import Figure, make, method_for, method_named
from wise_compass.drafting.givens import Choice, Given
from wise_compass.drafting.places import Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style, many
from wise_compass.words.filled import Filled
from wise_compass.words.setting import values_of
from wise_compass.words.working import worked


class FilledBrief(QWidget):
    """The sentence of a figure with what a problem tells in it. ``changed`` when a slot was put right, ``pointed`` with
    the given whose slot the pointer or the keys are at."""

    changed = Signal()
    pointed = Signal(str)

    def __init__(self, style: Style) -> None:
        super().__init__()
        self.style_of_job = style
        self.found: Filled | None = None
        self.kind: type[Figure] | None = None
        self.corrected: dict[str, str] = {}
        self.slots: dict[str, TextSlot | ListSlot] = {}
        self.title = QLabel()
        self.title.setObjectName("heading")
        self.sentence = QWidget()
        self.says = wrapped("What is missing or doubtful", "hint")
        inside = self._inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.addWidget(self.title)
        inside.addWidget(self.sentence)
        inside.addWidget(self.says)

    def show_filled(self, kind: type[Figure] | None, found: Filled | None) -> None:
        """Bring it up to a figure and what was read for it; what was put right stays for as long as the figure does."""
        if kind is not self.kind:
            self.corrected = {}
        held = next((name for name, slot in self.slots.items() if slot.hasFocus()), "")
        self.kind, self.found = kind, found
        self.slots = {}
        fresh, flow = QWidget(), FlowLayout()
        fresh.setLayout(flow)
        if kind is not None:
            self._fill(flow, kind)
        self._inside.replaceWidget(self.sentence, fresh)
        self.sentence.hide()
        self.sentence.deleteLater()
        self.sentence = fresh
        self.title.setText("" if kind is None else f"{kind.title}, as it will be set")
        if held in self.slots:
            self.slots[held].setFocus()

    @property
    def untold(self) -> bool:
        """Whether nothing was told of the figure but its name: it is set at its usual sizes."""
        return self.found is None or not (self.found.givens or self.found.conflicts)

    def values(self) -> dict[str, Any]:
        """What is told for each given, what was put right before all else."""
        told = {} if self.found is None or self.untold else values_of(self.found)
        values = {**told, **{name: words for name, words in self.corrected.items() if name != "method"}}
        return {**self._worked(values), **values}

    def _worked(self, values: dict[str, Any]) -> dict[str, float]:
        """Givens that were told by something that waited for others, now that those are there."""
        if self.found is None or self.kind is None or self.untold:
            return {}
        known: dict[str, Any] = {}
        for name, value in values.items():
            with suppress(Refused):
                known[name] = self.kind.givens[name].read(value, self.style_of_job)
        found = {name: worked(how, {**known, "q": q}) for name, (how, q) in self.found.pending.items()}
        return {name: value for name, value in found.items() if value is not None}

    def empty(self) -> list[str]:
        """Givens that are needed and not told, or told twice."""
        if self.found is None or self.untold:
            return []
        wanted, there = [*self.found.missing, *self.found.conflicts], self.values()
        return [name for name in wanted if not str(there.get(name, "")).strip()]

    def method(self) -> str:
        """The method told or picked; empty for the first that serves."""
        return self.corrected.get("method", self.found.method if self.found is not None else "")

    def made(self) -> Figure:
        """The figure as it stands; raises :class:`Refused` for what is missing or cannot be."""
        assert self.kind is not None
        for name in self.empty():
            given = self.kind.givens[name]
            raise Refused(name, f"{given.says[0].upper()}{given.says[1:]} is not told yet: type it into its slot.")
        figure = make(self.kind, self.values(), self.style_of_job)
        if self.method():
            why = method_named(self.kind, self.method()).fits(figure)
            if why is not None:
                raise Refused("method", why)
        return figure

    def _fill(self, flow: FlowLayout, kind: type[Figure]) -> None:
        stored = {name: given.stored(given.default) for name, given in kind.givens.items()}
        for name, value in self.values().items():
            try:
                stored[name] = kind.givens[name].stored(kind.givens[name].read(value, self.style_of_job))
            except Refused:
                continue
        method = self.method() or self._serving(kind, stored)
        for part in re.split(r"(\{\w+\})", kind.sentence(stored, method)):
            if part.startswith("{"):
                slot = self._slot(kind, part[1:-1], stored, method)
                slot.installEventFilter(self)
                self.slots[part[1:-1]] = slot
                flow.addWidget(slot)
            else:
                for word in part.split():
                    flow.addWidget(Word(word))

    @staticmethod
    def _serving(kind: type[Figure], stored: dict[str, Any]) -> str:
        try:
            return method_for(make(kind, stored)).id
        except Refused:
            return method_named(kind, None).id

    def _slot(self, kind: type[Figure], name: str, stored: dict[str, Any], method: str) -> TextSlot | ListSlot:
        if name == "method":
            options = [(one.id, one.title + (" ≈" if one.approximate else "")) for one in kind.methods.values()]
            return self._listed(ListSlot("method", "Method", options, method))
        given = kind.givens[name]
        if isinstance(given, Choice):
            options = [(one, given.text(one)) for one in given.options]
            slot = self._listed(ListSlot(name, given.says, options, str(stored[name])))
            show_refused(slot, self._is_doubtful(name))
            return slot
        return self._typed(given, stored[name])

    def _listed(self, slot: ListSlot) -> ListSlot:
        slot.activated.connect(lambda _: self._correct(slot.name, str(slot.currentData()), True))
        return slot

    def _typed(self, given: Given[Any], stored: Any) -> TextSlot:
        name, blank = given.name, given.name in self.empty()
        words = "" if blank else given.text(given.read(stored), self.style_of_job)
        slot = TextSlot(given, self.corrected.get(name, words))
        slot.reading = self.style_of_job
        if isinstance(given, Rows):
            slot.setText(many(len(stored), "row"))
            slot.setReadOnly(True)
            slot.setFixedWidth(slot.fontMetrics().horizontalAdvance(slot.text()) + 26)
        if blank:
            slot.setPlaceholderText("?")
        slot.set_refused(blank or self._is_doubtful(name))
        slot.typed.connect(lambda name, words: self._correct(name, words, False))
        return slot

    def _is_doubtful(self, name: str) -> bool:
        return self.found is not None and name in self.found.doubts and name not in self.corrected

    def _correct(self, name: str, words: str, again: bool) -> None:
        """A slot was put right; the sentence is made anew where other slots may come of it."""
        self.corrected[name] = words
        slot = self.slots[name]
        if isinstance(slot, QLineEdit):
            slot.set_refused(False)
            self._fill_worked()
        if again:
            self.show_filled(self.kind, self.found)
        self.changed.emit()

    def _fill_worked(self) -> None:
        """Bring slots up to what follows from others."""
        assert self.found is not None and self.kind is not None
        for name in self.found.pending:
            slot, value = self.slots.get(name), self.values().get(name)
            if isinstance(slot, TextSlot) and name not in self.corrected:
                slot.show_text("" if value is None else self.kind.givens[name].text(value, self.style_of_job))
                slot.set_refused(value is None)

    def light(self, name: str) -> None:
        """Light the slot of a given, as words that tell it are pointed at."""
        for own, slot in self.slots.items():
            slot.setProperty("lit", own == name)
            slot.style().polish(slot)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() in (QEvent.Type.Enter, QEvent.Type.FocusIn):
            self.pointed.emit(next((name for name, slot in self.slots.items() if slot is watched), ""))
        elif event.type() == QEvent.Type.Leave:
            self.pointed.emit("")
        return super().eventFilter(watched, event)
