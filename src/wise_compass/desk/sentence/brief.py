"""The brief: the problem as a sentence, every given a slot in it."""

from __future__ import annotations

import re
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from wise_compass.desk.parts.labels import emptied
from wise_compass.desk.parts.theme import show_refused
from wise_compass.desk.sentence.places import StandsOn
from wise_compass.desk.sentence.slots import FlowLayout, ListSlot, RowsSlot, TextSlot, Word, bounds_words
from wise_compass.desk.session.session import Session
from wise_compass.drafting.figure import OWN_WAY
from wise_compass.drafting.givens import Choice
from wise_compass.drafting.places import Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style, scale_name, way_words
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.build import sentence_of, way_of
from wise_compass.job.drawnscales import drawn_scales
from wise_compass.job.model import OWN_TITLE, Entry
from wise_compass.sheet.paper import LIES, SCALES, SIZES

DIMENSIONED = [("given", "dimensions given"), ("all", "all dimensions"), ("none", "no dimensions")]


class Brief(QWidget):
    """The sentence of the selected figure, what is wrong or what the limits are, and the room on the paper."""

    drawn_up = Signal()
    """A profile's rows are asked for as sentences."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("brief")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName("The brief")
        self.slots: dict[str, TextSlot | ListSlot | RowsSlot] = {}
        self.sentence = QWidget()
        self.hint = QLabel()
        self.hint.setObjectName("hint")
        self.hint.setWordWrap(True)
        self.room = QLabel()
        self.room.setObjectName("room")
        self._inside = QVBoxLayout(self)
        self._inside.setContentsMargins(20, 12, 16, 8)
        self._inside.setSpacing(6)
        self._inside.addWidget(self.sentence)
        line = QHBoxLayout()
        line.addWidget(self.hint, 1)
        self.paper_lists = {
            "scale": ListSlot(
                "scale", "Scale", [("auto", "best"), *((scale_name(s),) * 2 for s in SCALES)], "auto", True
            ),
            "paper": ListSlot("paper", "Paper", [("auto", "any paper"), *((s, s) for s in SIZES)], "A4", True),
            "lie": ListSlot(
                "lie", "Lie of the paper", [("auto", "either"), *((s, s + " ") for s in LIES)], "auto", True
            ),
        }
        for name, choice in self.paper_lists.items():
            choice.activated.connect(lambda _, n=name, c=choice: session.set_sheet(**{n: c.currentData()}))
        line.addWidget(self.room)
        self._sides = QHBoxLayout()
        self._sides_for: tuple[str, ...] = ()
        self._side_lists: list[ListSlot] = []
        line.addLayout(self._sides)
        self.dimensioned = ListSlot("dimensions", "Dimensions on the sheet", DIMENSIONED, "given", True)
        self.dimensioned.activated.connect(
            lambda _: session.set_wish("Dimensions", dimensions=self.dimensioned.currentData())
        )
        line.addWidget(self.dimensioned)
        self.stands_on = StandsOn(session)
        line.addWidget(self.stands_on)
        for choice in self.paper_lists.values():
            line.addWidget(choice)
        self._inside.addLayout(line)
        self._offer_paper()
        self._focused = ""
        self._style: Style | None = None
        self._built_for: tuple[str, ...] = ()
        session.selected.connect(self.rebuild)
        session.drawn.connect(self.refresh)
        self.rebuild()

    def rebuild(self) -> None:
        """Make the slots of the selected figure."""
        entry = self.session.entry
        wanted = self._wanted()
        if wanted != self._built_for:
            self._built_for = wanted
            self.slots.clear()
            self._focused = ""
            fresh = QWidget()
            flow = FlowLayout()
            fresh.setLayout(flow)
            if entry is not None:
                self._fill(flow, entry)
            self._inside.replaceWidget(self.sentence, fresh)
            self.sentence.hide()
            self.sentence.deleteLater()
            self.sentence = fresh
            self._offer_paper()
        self.refresh()

    def _offer_paper(self) -> None:
        """Scale and paper can be chosen where there is a sheet."""
        for choice in (self.dimensioned, *self.paper_lists.values()):
            choice.setVisible(self.session.entry is not None)

    def _wanted(self) -> tuple[str, ...]:
        """What the slots have to be made for: the figure, the entry, and the sentence that its givens call for."""
        entry = self.session.entry
        return (
            ()
            if entry is None
            else (entry.figure, entry.id, figure_named(entry.figure).sentence(entry.givens, way_of(entry)))
        )

    def _resay(self) -> None:
        """The same entry in other words, as a choice brings other slots; the focus stays where it was."""
        held = next((name for name, slot in self.slots.items() if slot.hasFocus()), "")
        self.rebuild()
        if held in self.slots:
            self.slots[held].setFocus()

    def _fill(self, flow: FlowLayout, entry: Entry) -> None:
        kind = figure_named(entry.figure)
        for part in re.split(r"(\{\w+\})", kind.sentence(entry.givens, way_of(entry))):
            if part.startswith("{"):
                slot = self._slot(part[1:-1], entry)
                self.slots[part[1:-1]] = slot
                flow.addWidget(slot)
                continue
            for word in part.split():
                flow.addWidget(Word(word))

    def _slot(self, name: str, entry: Entry) -> TextSlot | ListSlot | RowsSlot:
        kind = figure_named(entry.figure)
        if name == "method":
            options = [(m.id, m.title + (" ≈" if m.approximate else "")) for m in kind.methods.values()]
            options.append((OWN_WAY, OWN_TITLE))
            slot = ListSlot("method", "Method", options, way_of(entry))
            for row, m in enumerate(kind.methods.values()):
                slot.setItemData(row, f"{m.about}\n{m.source}.".strip(), Qt.ItemDataRole.ToolTipRole)
            slot.activated.connect(lambda _: self._choose_method(slot))
            return slot
        given = kind.givens[name]
        if isinstance(given, Choice):
            slot = ListSlot(
                name,
                given.says,
                [(o, given.text(o)) for o in given.options],
                str(entry.givens.get(name, given.default)),
            )
            slot.activated.connect(lambda _: self.session.set_given(name, slot.currentData()))
            return slot
        if isinstance(given, Rows):
            rows = RowsSlot(given, self.session)
            rows.drawn_up.connect(self.drawn_up)
            return rows
        text = TextSlot(given, "")
        text.typed.connect(self.session.set_given)
        text.entered.connect(self._entered)
        return text

    def _choose_method(self, slot: ListSlot) -> None:
        wanted = slot.currentData()
        if not self.session.set_method(wanted):
            self.refresh()

    def _entered(self, name: str) -> None:
        self._focused = name
        self._say()

    def refresh(self) -> None:
        """Bring the slots' texts up to the job, and say what is wrong or how much room there is."""
        entry = self.session.entry
        if entry is None:
            self.hint.setText("")
            self.room.setText("")
            return
        if self._wanted() != self._built_for:
            if self._built_for == () or self._built_for[:2] != (entry.figure, self.session.entry_id):
                return
            self._resay()
        kind = figure_named(entry.figure)
        style = self.session.style
        for name, slot in self.slots.items():
            if isinstance(slot, ListSlot):
                way = way_of(entry)
                slot.show_value(way if name == "method" else str(entry.givens.get(name, kind.givens[name].default)))
            elif isinstance(slot, RowsSlot):
                slot.show_rows(entry.givens.get(name, slot.given.default))
                slot.set_refused(name in entry.typed)
            else:
                slot.reading = style
                value = entry.givens.get(name, kind.givens[name].default)
                typed = entry.typed.get(name)
                link = entry.links.get(name)
                shown = kind.givens[name].text(value, style)
                slot.setToolTip(f"{slot.given.says} ({name})" + (f"\n{link.typed} = {shown}" if link else ""))
                if typed is not None:
                    slot.show_text(typed)
                elif link is not None:
                    slot.show_text(link.typed)
                elif not (slot.isModified() and style == self._style and self._means(slot, value, style)):
                    slot.show_text(kind.givens[name].text(value, style))
                slot.set_refused(typed is not None)
        self._style = style
        self.setAccessibleDescription(sentence_of(entry, style))
        self._say()

    def _means(self, slot: TextSlot, value: Any, style: Style) -> bool:
        """Whether what stands in the slot already means the value: then it stays as it was typed."""
        try:
            read = slot.given.read(slot.text(), style)
            return read == value or (isinstance(read, tuple) and list(read) == list(value))
        except Refused:
            return False

    def _of_focused(self, entry: Entry) -> str:
        """The bounds of the slot at hand, and what its words come to where they use names of the job."""
        given, style = figure_named(entry.figure).givens[self._focused], self.session.style
        words, link = bounds_words(given, style), entry.links.get(self._focused)
        if link is not None:
            words = f"{link.typed} = {given.text(entry.givens[self._focused], style)}; {words}"
        return words

    def _say(self) -> None:
        refusal = self.session.refusal
        refused = refusal is not None
        words = ""
        if refusal is not None:
            words = f"! {refusal.words(self.session.style)}"
        elif (entry := self.session.entry) is not None:
            kind = figure_named(entry.figure)
            words = self._of_focused(entry) if self._focused in kind.givens else kind.summary
        caution = (
            ""
            if refused or self.session.run is None
            else self.session.style.say(" ".join(self.session.run.figure.cautions()))
        )
        if caution:
            words, refused = f"Caution: {caution}", True
        self.hint.setText(words)
        show_refused(self.hint, refused)
        self._show_sides()
        selected = self.session.entry
        self.dimensioned.show_value((selected.dimensions if selected is not None else "") or "given")
        self.stands_on.refresh()
        sheet = self.session.shown
        number = self.session.sheet_number
        if number >= 0:
            plan = self.session.job.sheets[number]
            self._offer_scales(plan.scale)
            for name, choice in self.paper_lists.items():
                choice.show_value(getattr(plan, name))
        if sheet is None:
            self.room.setText("")
            return
        now = {
            "scale": f"{scale_name(sheet.scale)}, the best",
            "paper": f"{sheet.paper.size}, smallest",
            "lie": f"{sheet.paper.lie}",
        }
        for name, choice in self.paper_lists.items():
            if choice.itemText(0) != now[name]:
                choice.setItemText(0, now[name])
                choice.updateGeometry()
        words = " ".join(sheet.warnings) or sheet.room_says
        self.room.setText(words[0].upper() + words[1:] + "   ")

    def _offer_scales(self, now: str) -> None:
        """Beside the standard scales those that the job draws itself, and the sheet's own."""
        choice = self.paper_lists["scale"]
        wanted = {scale_name(one): scale_name(one) for one in SCALES}
        for name, title in drawn_scales(self.session.job).items():
            wanted.setdefault(name, f"{name}, {title}")
        if now != "auto":
            wanted.setdefault(now, now)
        have = {choice.itemData(k): choice.itemText(k) for k in range(1, choice.count())}
        if have != wanted:
            choice.blockSignals(True)
            while choice.count() > 1:
                choice.removeItem(1)
            for name, words in wanted.items():
                choice.addItem(words, name)
            choice.blockSignals(False)
            choice.updateGeometry()

    def _show_sides(self) -> None:
        """A list for each auxiliary view of the selected figure: on which side of its parent it is drawn."""
        made, entry = self.session.run, self.session.entry
        views = made.views.auxiliary if made is not None and made.views is not None else []
        ways = [
            (way_words(list(view.usual)), way_words(list(-view.usual))) if view.usual is not None else ("", "")
            for view in views
        ]
        wanted = (entry.id if entry else "", *(word for pair in ways for word in pair))
        if wanted != self._sides_for:
            self._sides_for = wanted
            emptied(self._sides)
            self._side_lists = []
            for number, (usual, other) in enumerate(ways):
                name = f"view {number + 3}"
                options = [("auto", f"{name}, best"), ("usual", f"{name} {usual}"), ("other", f"{name} {other}")]
                slot = ListSlot(name, f"Where {name} is drawn", options, "auto", True)
                slot.activated.connect(lambda _, n=number, c=slot: self.session.set_side(n, c.currentData()))
                self._sides.addWidget(slot)
                self._side_lists.append(slot)
        sides = entry.sides if entry is not None else ()
        for number, slot in enumerate(self._side_lists):
            slot.show_value(sides[number] if number < len(sides) else "auto")
