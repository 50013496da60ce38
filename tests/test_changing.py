"""While a value is being changed, dimensions keep the ways that they had; at rest each goes where it is best read."""

from __future__ import annotations

import unittest
from typing import Any
from unittest import mock

import wise_compass.sheet.render as render
from tests.test_desk import APP, NEVER_MS, DeskCase
from tests.waiting import comes
from wise_compass.desk.parts.theme import FOLLOW_MS, SETTLE_MS
from wise_compass.desk.side.panels import Panels
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Measure
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import catalogue, figure_named
from wise_compass.job.build import build_sheet
from wise_compass.outputs.svg import svg_text
from wise_compass.sheet.compose import Sheet, compose
from wise_compass.sheet.drawing import Text
from wise_compass.sheet.layout import Before
from wise_compass.sheet.piece import Piece, Wishes


def larger(kind: type[Figure]) -> Figure | None:
    """A figure with the first of its lengths a tenth larger; None where that cannot be."""
    name = next((name for name, given in kind.givens.items() if isinstance(given, Measure)), None)
    if name is None:
        return None
    try:
        return kind(**{name: round(float(kind().given_values[name]) * 1.1, 1)})
    except Refused:
        return None


def figures_of(sheet: Sheet) -> list[str]:
    """The words of its dimensions."""
    return sorted(item.words for item in sheet.drawing.items if isinstance(item, Text) and item.layer == "dimension")


def drawn(figure: Figure, before: Before | None = None) -> Sheet:
    return compose([Piece(run(figure))], Wishes("auto"), before)


class OnTheSheet(unittest.TestCase):
    def test_dimensions_keep_their_ways_and_tell_the_new_values(self) -> None:
        kept = 0
        for number, kind in enumerate(catalogue().values()):
            changed = larger(kind)
            if number % 4 or changed is None:
                continue
            with self.subTest(figure=kind.id):
                was, fresh = drawn(kind()), drawn(changed)
                with mock.patch.object(render, "place_dimensions", side_effect=render.place_dimensions) as weighed:
                    now = drawn(changed, Before(was.faces, True))
                self.assertEqual(weighed.called, not now.provisional and bool(fresh.faces[0].dimensioned.taken))
                if now.provisional:
                    kept += 1
                    self.assertTrue(now.faces[0].dimensioned.same_ways(was.faces[0].dimensioned))
                    self.assertEqual(figures_of(now), figures_of(fresh))
                settled = drawn(changed, Before(now.faces))
                self.assertFalse(settled.provisional)
                self.assertEqual(svg_text(settled.drawing), svg_text(fresh.drawing))
        self.assertGreater(kept, 15)

    def test_what_has_not_changed_is_not_dimensioned_again(self) -> None:
        pieces = [Piece(run(figure_named(name)()), name) for name in ("ellipse", "hyperbola")]
        first = compose(pieces, Wishes("A3"))
        changed = larger(figure_named("hyperbola"))
        assert changed is not None
        with mock.patch.object(render, "place_dimensions", side_effect=render.place_dimensions) as weighed:
            again = compose(pieces, Wishes("A3"), Before(first.faces))
            self.assertEqual(weighed.call_count, 0)
            compose([pieces[0], Piece(run(changed), "hyperbola")], Wishes("A3"), Before(again.faces))
        self.assertEqual(weighed.call_count, 1)
        self.assertEqual(svg_text(again.drawing), svg_text(first.drawing))

    def test_other_dimensions_are_weighed(self) -> None:
        """A way is kept by what it dimensions: with one more, or of another figure, it is no use."""
        was, other = drawn(figure_named("hyperbola")()), figure_named("ellipse")()
        self.assertFalse(drawn(other, Before(was.faces, True)).provisional)


class AtTheDesk(DeskCase):
    def fresh(self) -> str:
        """The selected sheet as it is composed from nothing."""
        return svg_text(build_sheet(self.session.job, self.session.sheet_number).drawing)

    def change(self) -> Any:
        """The width of the arch is typed; what is shown then."""
        self.session.set_given("wide", "117")
        APP.processEvents()
        return self.session.shown

    def settings(self) -> list[str]:
        """The settings that stand in the list of steps."""
        return [card.figure for card in self.window.panels.steps.cards if card.figure]

    def settings_of_run(self) -> list[str]:
        """The settings of the selected figure's run."""
        made, style = self.session.run, self.session.style
        told = (step.setting(style, self.session.scale) for step in made.steps)
        return [words for words in told if words]

    def test_it_is_drawn_at_once_and_settled_at_rest(self) -> None:
        was = self.session.sheet
        shown = self.change()
        self.assertTrue(shown.provisional)
        self.assertIn("117", figures_of(shown))
        self.assertTrue(shown.faces[0].dimensioned.same_ways(was.faces[0].dimensioned))
        told: list[int] = []
        self.session.drawn.connect(lambda: told.append(1))
        self.session._settle_soon.setInterval(SETTLE_MS)
        self.assertTrue(comes(lambda: not self.session.shown.provisional))
        self.assertEqual(svg_text(self.session.shown.drawing), self.fresh())
        self.assertEqual(bool(told), not self.session.shown.dimensioned_as(shown))

    def test_whoever_asks_for_the_sheet_has_it_settled(self) -> None:
        """What is saved or printed right after a key is what is saved a minute later."""
        self.assertTrue(self.change().provisional)
        self.assertEqual(svg_text(self.session.sheet.drawing), self.fresh())
        self.assertFalse(self.session.shown.provisional)

    def test_the_cards_follow_the_paper_a_moment_later(self) -> None:
        steps = self.window.panels.steps
        before = steps.cards
        with mock.patch.object(Panels, "follow_ms", NEVER_MS):
            for width in (115, 116, 117):
                self.session.set_given("wide", str(width))
                APP.processEvents()
            self.assertIn("117", figures_of(self.session.shown))
            self.assertIs(steps.cards, before)
            self.window.panels.follow()
            self.assertEqual(self.settings(), self.settings_of_run())
            self.assertNotEqual(steps.cards, before)
        with mock.patch.object(Panels, "follow_ms", FOLLOW_MS):
            self.session.set_given("wide", "119")
            self.assertNotEqual(self.settings(), self.settings_of_run())
            self.assertTrue(comes(lambda: self.settings() == self.settings_of_run()))
            self.session.set_given("wide", "118")
            self.session.select("cam")
            self.assertEqual(self.settings(), self.settings_of_run())  # of another figure they are there at once

    def test_going_elsewhere_and_back_weighs_anew(self) -> None:
        self.assertTrue(self.change().provisional)
        self.session.select("cam")
        self.session.select("arch")
        self.assertFalse(self.session.shown.provisional)
        self.session.set_given("wide", "90")
        self.session.undo()
        self.assertFalse(self.session.shown.provisional)
        self.assertEqual(svg_text(self.session.shown.drawing), self.fresh())


if __name__ == "__main__":
    unittest.main()
