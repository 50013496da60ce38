"""Where auxiliary views are drawn: apart from the others, as chosen, and told why."""

from __future__ import annotations

import json
import random
from collections.abc import Iterator
from typing import Any

import numpy as np
from PySide6.QtTest import QTest

from tests.test_catalogue import Checked
from tests.test_cli import call
from tests.test_desk import APP, DeskCase
from tests.test_space import ANGLES, by_name, positions
from wise_compass.drafting.figure import make
from wise_compass.drafting.places import SpacePoint
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.views import View
from wise_compass.drafting.wording import PLAIN, way_words
from wise_compass.figures.catalogue import catalogue, figure_named
from wise_compass.job.model import Entry, Job, SheetPlan, from_data, to_data

FOLDED = [
    (id, method)
    for id, kind in catalogue().items()
    if kind.family == "space"
    for method in kind.methods
    if (views := run(kind(), method).views) is not None and views.auxiliary
]


def box(made: Run, view: View) -> tuple[np.ndarray, np.ndarray]:
    """A view's spots in its own frame, lowest and highest."""
    spots = np.array([spot.here for key, spot in made.spots.items() if key.endswith(f".{view.id}")])
    frame = spots @ np.array([view.u, view.v]).T
    return frame.min(axis=0), frame.max(axis=0)


def overlaps(made: Run, one: View, other: View) -> bool:
    """Whether a spot of one view lies inside the other's box."""
    low, high = box(made, one)
    spots = np.array([spot.here for key, spot in made.spots.items() if key.endswith(f".{other.id}")])
    frame = spots @ np.array([one.u, one.v]).T
    return bool(((frame > low + 0.5) & (frame < high - 0.5)).all(axis=1).any())


def cases(count: int) -> Iterator[tuple[str, str, dict[str, Any]]]:
    draw = random.Random(6)
    for _ in range(count):
        id, method = draw.choice(FOLDED)
        for givens in positions(figure_named(id), 1, draw.randrange(999)):
            yield id, method, {name: tuple(abs(x) for x in at) for name, at in givens.items()}


class Sides(Checked):
    def test_views_are_folded_where_they_lie_over_none(self) -> None:
        """Of either side one that is free is taken; where both lie over another view the figure still stands."""
        self.assertGreater(len(FOLDED), 6)
        free = 0
        for id, method, givens in cases(60):
            try:
                made = run(make(figure_named(id), givens), method)
            except Refused:
                continue
            views = made.views
            assert views is not None
            for view in views.auxiliary:
                whys = [step.why for step in made.steps if step.why.startswith(way_words((view.v * 1.0).tolist()))]
                clear = any("fit there" in why for why in whys)
                others = [
                    one
                    for one in (views.front, views.top, *views.auxiliary)
                    if one is not view and one is not view.parent
                ]
                if clear and not any("would lie over" in why for why in whys):
                    self.assertFalse(any(overlaps(made, view, one) for one in others[:1]), f"{id} {method} {givens}")
                    free += 1
        self.assertGreater(free, 10)

    def test_either_side_gives_the_same_values_and_proofs(self) -> None:
        for id, method in FOLDED:
            usual = run(figure_named(id)(), method)
            assert usual.views is not None
            for k in range(len(usual.views.auxiliary)):
                for angle in ("first", "third"):
                    sides = ("auto",) * k + ("other",)
                    made = run(figure_named(id)(), method, Conventions(angle, sides=sides))
                    self.check_run(made)
                    self.assertEqual(by_name(made), by_name(usual))
                    for name, measured in made.measured.items():
                        np.testing.assert_allclose(np.asarray(measured, dtype=float), by_name(made)[name], atol=1e-6)

    def test_a_datum_of_its_own_saves_room_where_all_lies_far_off(self) -> None:
        """A hundred millimetres from both planes the same figure takes hardly more paper beside its views, and measures
        alike."""
        for id, method in FOLDED:
            kind = figure_named(id)
            near = kind()
            letters = [name for name, given in kind.givens.items() if isinstance(given, SpacePoint)]
            far = {name: (x, y + 100, z + 100) for name in letters for x, y, z in [near.given_values[name]]}
            for angle in ANGLES:
                made = run(make(kind, far), method, Conventions(angle))
                self.check_run(made)
                assert made.views is not None
                self.assertTrue(made.views.auxiliary[0].taken is not None, f"{id} {angle}")
                values, here = by_name(made), by_name(run(near, method))
                for name in ("distance", "length", "angle", "dihedral_acute", "ab", "area"):
                    if name in here:
                        self.assertAlmostEqual(values[name], here[name], delta=1e-9 * max(here[name], 1.0))
                low, high = box(made, made.views.auxiliary[0])
                fold = made.views.auxiliary[0].fold
                assert fold is not None
                beyond = low[1] - float(fold.ends()[0] @ made.views.auxiliary[0].v)
                self.assertLess(beyond, 60.0, f"{id}: the view still lies far from its fold line")

    def test_the_chosen_side_is_the_other_one(self) -> None:
        for id, method in FOLDED:
            one, other = (run(figure_named(id)(), method, Conventions(sides=(side,))) for side in ("usual", "other"))
            assert one.views is not None and other.views is not None
            a, b = one.views.auxiliary[0], other.views.auxiliary[0]
            np.testing.assert_allclose(a.v, -b.v, atol=1e-12)
            assert a.usual is not None
            np.testing.assert_allclose(a.usual, a.v, atol=1e-12)
            self.assertTrue(any("as chosen" in step.why for step in other.steps))

    def test_the_step_says_which_side_and_why(self) -> None:
        made = run(figure_named("true-shape")(), "two-auxiliary-views")
        whys = [PLAIN.say(step.why) for step in made.steps if "fit there" in step.why]
        self.assertEqual(len(whys), 2)
        self.assertRegex(
            whys[0], r"^(up|down|to)[a-z ]*: \d+ mm × \d+ mm fit there; [a-z ]+ it would lie over the front view$"
        )

    def test_paper_that_is_too_narrow_turns_a_view_to_the_other_side(self) -> None:
        """On a low, wide paper the view that would go down goes elsewhere, or the step says by how much it leaves."""
        kind = figure_named("line-meets-plane")
        free = run(kind(), "edge-view")
        tight = run(kind(), "edge-view", Conventions(fields=((400.0, 120.0),)))
        said = [PLAIN.say(step.why) for step in tight.steps if "fit there" in step.why]
        self.assertEqual(len(said), 1)
        self.assertEqual(by_name(free), by_name(tight))

    def test_way_words(self) -> None:
        for out, words in (
            ((0, 1), "up"),
            ((0, -1), "down"),
            ((1, 0), "to the right"),
            ((-0.7, -0.7), "down to the left"),
        ):
            self.assertEqual(way_words(out), words)

    def test_the_command_line_and_the_file_take_it(self) -> None:
        said = []
        for sides in ("auto", "other,auto"):
            status, out, err = call("solve", "true-shape", "--json", "--sides", sides)
            self.assertEqual(status, 0, err)
            said.append(json.loads(out))
        self.assertEqual(said[0]["values"], said[1]["values"])
        self.assertNotEqual(said[0]["points"], said[1]["points"])
        status, _, err = call("solve", "true-shape", "--sides", "north")
        self.assertEqual(status, 2)
        self.assertIn("auto, usual or other", err)
        entry = Entry("true-shape", "Glass", sides=("auto", "other"))
        job = Job("Wrenfold Mill", (SheetPlan("S", (entry,)),))
        self.assertEqual(from_data(to_data(job)).entries()[0].sides, ("auto", "other"))
        self.assertNotIn(
            "sides", to_data(Job("J", (SheetPlan("S", (Entry("ellipse", "Arch"),)),)))["sheets"][0]["entries"][0]
        )


class SidesDesk(DeskCase):
    def test_the_brief_offers_the_sides_and_an_edit_takes_one(self) -> None:
        kind = figure_named("true-shape")
        entry = Entry(kind.id, "Skylight", "two-auxiliary-views", kind().stored())
        self.session.edit(self.session.job.added(entry, "arch"), "New")
        self.session.select(entry.id)
        self.idle()
        brief = self.window.brief
        slots = [brief._sides.itemAt(k).widget() for k in range(brief._sides.count())]
        self.assertEqual([slot.accessibleName() for slot in slots], ["Where view 3 is drawn", "Where view 4 is drawn"])
        before = self.session.run.views.auxiliary[0].v
        slots[0].setFocus()
        QTest.keyClicks(slots[0], "view 3 u") if "up" in slots[0].itemText(2) else slots[0].setCurrentIndex(2)
        slots[0].activated.emit(2)
        APP.processEvents()
        self.session.set_side(0, "other")
        np.testing.assert_allclose(self.session.run.views.auxiliary[0].v, -before, atol=1e-9)
        self.assertEqual(self.session.entry.sides, ("other",))
        self.session.set_side(0, "auto")
        self.assertEqual(self.session.entry.sides, ())
        self.session.select("arch")
        self.idle()
        self.assertEqual(brief._sides.count(), 0)
