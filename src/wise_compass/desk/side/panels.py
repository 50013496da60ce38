"""Steps, values and proofs of the selected figure."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QTabWidget, QVBoxLayout, QWidget

from wise_compass.desk.parts.cards import Card, CardList
from wise_compass.desk.parts.theme import COPPER, FOLLOW_MS, SETTLE_MS
from wise_compass.desk.parts.work import Later
from wise_compass.desk.session.session import Session
from wise_compass.desk.side.figurecards import Folds, proof_cards, value_cards
from wise_compass.drafting.capabilities import Solid
from wise_compass.drafting.figure import OWN_WAY
from wise_compass.drafting.lacks import Lack, lacks
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style

if TYPE_CHECKING:
    from wise_compass.desk.side.checkpanel import CheckPanel
    from wise_compass.desk.side.curvepanel import CurvePanel
    from wise_compass.desk.side.lengths import LengthsBar
    from wise_compass.desk.side.ownpanel import OwnPanel
    from wise_compass.desk.side.shoppanel import ShopPanel
    from wise_compass.study.waysround import Short


class Panels(QTabWidget):
    """The right side of the desk."""

    follow_ms = FOLLOW_MS
    """How long cards stay behind a value that is being changed."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("side")
        self.setAccessibleName("Steps, values and proofs")
        self.setDocumentMode(True)
        self.tabBar().setDrawBase(False)
        self.tabBar().setExpanding(False)
        self.setUsesScrollButtons(False)
        self.steps, self.values, self.proofs, self.compare = map(CardList, ("Steps", "Values", "Proofs", "Compare"))
        for cards, words in (
            (self.steps, "What the hand does, instrument by instrument, with the setting of each."),
            (self.values, "What follows from the givens, each with its working."),
            (self.proofs, "What makes the figure what it is, and by how much the drawing misses it."),
            (self.compare, "The ways to draw it side by side: steps, settings, and how unsteady each is."),
        ):
            cards.empty = f"{words} It stands here once a problem is set (Ctrl+N)."
        self.lengths: LengthsBar | None = None
        self._values_page = QWidget()
        self._under_values = QVBoxLayout(self._values_page)
        self._under_values.setContentsMargins(0, 0, 0, 0)
        self._under_values.setSpacing(0)
        self._under_values.addWidget(self.values)
        self._values_page.setFocusProxy(self.values)
        for cards in (self.steps, self.values, self.proofs, self.compare):
            self.addTab(self._values_page if cards is self.values else cards, cards.accessibleName())
        self.curve = QWidget()
        self.curve.setAccessibleName("Curve")
        self.addTab(self.curve, "Curve")
        self._curve: CurvePanel | None = None
        self.check = QWidget()
        self.check.setAccessibleName("Check")
        self.addTab(self.check, "Check")
        self._check: CheckPanel | None = None
        self.shop = QWidget()
        self.shop.setAccessibleName("Shop")
        self.addTab(self.shop, "Shop")
        self._shop: ShopPanel | None = None
        self.own = QWidget()
        self.own.setAccessibleName("My way")
        self.addTab(self.own, "My way")
        self._own: OwnPanel | None = None
        self._mine = ("", False)
        """The figure that was filled last, and whether it was drawn by a way of one's own."""
        self._told = ""
        self._following = QTimer(self)
        self._following.setSingleShot(True)
        self._following.timeout.connect(self._fill)
        self._settled = QTimer(self)
        self._settled.setSingleShot(True)
        self._settled.setInterval(SETTLE_MS)
        self._settled.timeout.connect(self.tell_proofs)
        self._ways: tuple[Run, float, Short] | None = None
        self._look_round = QTimer(self)
        self._look_round.setSingleShot(True)
        self._look_round.setInterval(SETTLE_MS)
        self._look_round.timeout.connect(self.tell_ways)
        self._comparing, self._compared = Later(self), ""
        self.compare.chosen.connect(self._choose_method)
        self.folds = Folds()
        self.steps.chosen.connect(self._choose_step)
        session.selected.connect(self.folds.open.clear)
        self.values.over.connect(session.light)
        self.steps.over.connect(session.light)
        self.currentChanged.connect(lambda _: self._fill())
        session.drawn.connect(self._follow)
        session.stepped.connect(self._mark)
        session.lit.connect(self._lit)
        self._fill()

    @property
    def shown(self) -> QWidget:
        """What the tab in sight shows."""
        page = self.currentWidget()
        return self.values if page is self._values_page else page

    def _value_cards(self, run: Run, style: Style) -> list[Card]:
        """Its values, and below them the true lengths of a solid, with what prints and saves them."""
        solid = isinstance(run.figure, Solid)
        if solid and self.lengths is None:
            from wise_compass.desk.side.lengths import LengthsBar

            self.lengths = LengthsBar(self.session)
            self._under_values.addWidget(self.lengths)
        if self.lengths is not None:
            self.lengths.fill()
        if not solid:
            return value_cards(run, style)
        from wise_compass.desk.side.lengths import length_cards

        return [*value_cards(run, style), *length_cards(run, style)]

    def _follow(self) -> None:
        """The cards of a figure follow it: at once, or a moment after it is on the paper while a value of it is being
        changed."""
        cards = self.shown in (self.steps, self.values, self.proofs)
        if not (self.follow_ms and cards and self.session.changing and self._told == self.session.entry_id):
            self._fill()
        elif not self._following.isActive():
            self._following.start(self.follow_ms)

    def follow(self) -> None:
        """Bring the panel in sight up to the figure now, where it is still behind."""
        if self._following.isActive():
            self._fill()

    def _fill(self) -> None:
        """Only the panel in sight is made anew."""
        self._following.stop()
        made, style = self.session.run, self.session.style
        makers = {self.steps: self._step_cards, self.values: self._value_cards, self.proofs: proof_cards}
        shown = self.shown
        if shown is self.check:
            self._check_panel().fill()
        elif self._check is not None:
            self._check.leave()
        if shown is self.curve:
            self._curve_panel().fill_soon()
        else:
            self.session.hint(())
        if shown is self.shop:
            self._shop_panel().fill()
        if shown is self.own:
            self.own_panel.fill()
        elif self._own is not None:
            self._own.leave()
        if shown is self.compare:
            self._fill_compare(made, style)
        if shown in makers:
            shown.show_cards(makers[shown](made, style) if made else [])
        self._offer(self.curve, made is not None and made.curved)
        self._offer(self.shop, made is not None and bool(made.parts))
        mine = made is not None and made.method.id == OWN_WAY
        self._offer(self.own, mine)
        taken_up, self._mine = mine and self._mine == (self.session.entry_id, False), (self.session.entry_id, mine)
        if taken_up:
            self.setCurrentWidget(self.own)
        if self._told == self.session.entry_id and shown is not self.proofs:
            self._settled.start()
        else:
            self.tell_proofs()
        self._mark()

    def tell_proofs(self) -> None:
        """On the tab, whether all truths hold: at once for another figure, a little later for one that is being
        changed."""
        self._settled.stop()
        made, self._told = self.session.run, self.session.entry_id
        holds = made is None or all(p.holds for p in made.proofs)
        design = made is not None and any(p.by_design for p in made.proofs)
        title = "Proofs" if holds else ("Proofs ≈" if design else "Proofs !")
        if self.tabText(2) != title:  # the tabs are laid out anew at every setting
            self.setTabText(2, title)

    def _offer(self, page: QWidget, there: bool) -> None:
        """Show a tab where its page has something to show."""
        tab = self.indexOf(page)
        if self.isTabVisible(tab) != there:
            self.setTabVisible(tab, there)

    def _shop_panel(self) -> ShopPanel:
        """What a shop asks of a pattern, made when it is first looked at."""
        if self._shop is None:
            from wise_compass.desk.side.shoppanel import ShopPanel

            self._shop = ShopPanel(self.session)
            inside = QVBoxLayout(self.shop)
            inside.setContentsMargins(0, 0, 0, 0)
            inside.addWidget(self._shop)
            self.shop.setFocusProxy(self._shop.fields["seam_lap"])
        return self._shop

    @property
    def own_panel(self) -> OwnPanel:
        """A way of one's own, made when it is first looked at."""
        if self._own is None:
            from wise_compass.desk.side.ownpanel import OwnPanel

            self._own = OwnPanel(self.session)
            inside = QVBoxLayout(self.own)
            inside.setContentsMargins(0, 0, 0, 0)
            inside.addWidget(self._own)
            self.own.setFocusProxy(self._own.editor)
        return self._own

    def _check_panel(self) -> CheckPanel:
        """The check of a drawing, made when it is first looked at."""
        if self._check is None:
            from wise_compass.desk.side.checkpanel import CheckPanel

            self._check = CheckPanel(self.session)
            inside = QVBoxLayout(self.check)
            inside.setContentsMargins(0, 0, 0, 0)
            inside.addWidget(self._check)
            self.check.setFocusProxy(self._check.more)
        return self._check

    @property
    def check_panel(self) -> CheckPanel:
        """The check of a drawing."""
        return self._check_panel()

    def photograph(self, path: Path) -> None:
        """Read a photograph of a sheet, under Check."""
        self.setCurrentWidget(self.check)
        self._check_panel().photograph(path)

    def _curve_panel(self) -> CurvePanel:
        """The controls of the found curve and its table, made when they are first looked at."""
        if self._curve is None:
            from wise_compass.desk.side.curvepanel import CurvePanel

            self._curve = CurvePanel(self.session)
            inside = QVBoxLayout(self.curve)
            inside.setContentsMargins(0, 0, 0, 0)
            inside.addWidget(self._curve)
            self.curve.setFocusProxy(self._curve.hold)
        return self._curve

    def settle(self) -> None:
        """Until whatever is made beside the window is shown."""
        self._comparing.settle()
        for panel in (self._check, self._curve, self._shop, self._own):
            if panel is not None:
                panel.settle()

    def _fill_compare(self, made: Run | None, style: Style) -> None:
        """The methods side by side; until they are run, those of the figure as it was before."""
        if made is None:
            self._comparing.drop()
            self.compare.show_cards([])
            return
        from wise_compass.desk.side.comparecards import compare_cards

        if self._compared != self.session.entry_id:
            self.compare.show_cards([Card(body="Comparing the methods …")])
        self._compared, scale = self.session.entry_id, self.session.scale
        self._comparing.ask(lambda: compare_cards(made, style, scale), self.compare.show_cards)

    def _step_cards(self, run: Run, style: Style) -> list[Card]:
        scale, kit = self.session.scale, run.conventions.drafter.kit
        missing = lacks(run.steps, kit, scale)
        cards = self.folds.cards(run, style, 0 if self.session.finished else self.session.step, scale, missing)
        if missing:
            words = style.say(self._short(run, scale, missing).says)
            cards.append(Card(body=words, heading="What your kit cannot do", accent=COPPER))
        warnings = [style.say(words) for words in (*run.figure.cautions(), *run.hazards)]
        return [
            *cards,
            *(
                Card(body=words, heading="" if k else "Before you cut", accent=COPPER)
                for k, words in enumerate(warnings)
            ),
        ]

    def _short(self, run: Run, scale: float, missing: Sequence[Lack]) -> Short:
        """What the kit lacks; with ways round once they were looked for, which runs every other method and waits for a
        rest."""
        if self._ways is not None and self._ways[:2] == (run, scale):
            return self._ways[2]
        from wise_compass.study.waysround import Short

        self._look_round.start()
        return Short(tuple(missing), ())

    def tell_ways(self) -> None:
        """Look for ways round what the kit lacks for the figure as it stands now, and tell them with its steps."""
        from wise_compass.sheet.paper import SCALES
        from wise_compass.study.waysround import short_of

        self._look_round.stop()
        made, scale = self.session.run, self.session.scale
        if made is None or self.shown is not self.steps:
            return
        short = short_of(made, scale, made.conventions.drafter.kit, SCALES)
        if short is not None:
            self._ways = (made, scale, short)
            self.steps.show_cards(self._step_cards(made, self.session.style))
            self._mark()

    def _choose_step(self, row: int) -> None:
        """A click on a step walks there; on a move it opens or folds it."""
        if row >= len(self.folds.rows):
            return
        if self.folds.toggle(row):
            self._fill()
        else:
            self.session.walk_to(self.folds.rows[row][0])

    def _choose_method(self, row: int) -> None:
        """A click on a method of the comparison takes it."""
        made = self.session.run
        if made is not None and row >= 1:
            self.session.set_method([*made.figure.methods, OWN_WAY][row - 1])

    def _mark(self) -> None:
        step = 0 if self.session.finished else self.session.step
        if step and self.folds.row_of(step) < 0 and self.shown is self.steps:
            made = self.session.run
            if made is not None:
                self.steps.show_cards(self._step_cards(made, self.session.style))
        self.steps.mark(self.folds.row_of(step) if step else -1)

    def _lit(self) -> None:
        """A spot under the pointer marks its value, where values are in sight."""
        if self.shown is self.values and not self.values.underMouse():
            names = set(self.session.marks_lit)
            rows = [row for row, card in enumerate(self.values.cards) if names & set(card.marks)]
            self.values.mark(rows[0] if rows else -1)
