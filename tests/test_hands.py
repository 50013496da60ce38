"""Every mark comes of what a hand did: hands and slips reach what is lined in."""

from __future__ import annotations

import re
import unittest
from pathlib import Path

import numpy as np

from tests.test_catalogue import every_method, fitting
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, Method, make
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.instruments import TOLERANCES, UnsteadyHands
from wise_compass.drafting.marks import Mark, Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run, run_slips
from wise_compass.figures.catalogue import figure_named

FIGURES = Path(__file__).parent.parent / "src" / "wise_compass" / "figures"
SEEN = (Role.OUTLINE, Role.HIDDEN)
VARIANTS = {
    "screw-thread": [
        {"form": "vee", "starts": 2, "lead": 24},
        {"starts": 3, "divisions": 8, "lead": 30},
        {"hand": "left"},
    ],
    "coil-spring": [{"section": "square"}, {"hand": "left"}],
    "helix": [{"starts": 3, "divisions": 8}],
    "ellipse": [{"lie": "upright"}],
    "arc-two-circles": [{"radius": 80, "contact_1": "inside", "contact_2": "inside"}],
}


def drawn_by_hands(figure: Figure, method: Method, count: int = 20) -> list[Mark]:
    """The marks that are seen in a run of unsteady hands."""
    draft = Draft(UnsteadyHands(count, 3))
    with np.errstate(invalid="ignore", divide="ignore"):
        method.draw(figure, draft)
    return [mark for step in draft.steps for mark in step.marks if mark.role in SEEN]


def lined_in(made: object) -> list[np.ndarray]:
    """The polylines of everything lined in."""
    return [line for mark in made.marks if mark.role in SEEN for line in mark.polylines()]  # type: ignore[attr-defined]


class HandsReachEveryMark(unittest.TestCase):
    def test_every_mark_lined_in_carries_the_hands(self) -> None:
        for kind, method in every_method():
            for givens in ({}, *VARIANTS.get(kind.id, [])):
                figure = fitting(kind, method) if not givens else make(kind, givens)
                if method.fits(figure) is not None:
                    continue
                marks = drawn_by_hands(figure, method)
                self.assertTrue(marks, kind.id)
                for mark in marks:
                    where = f"{kind.id} by {method.id} {givens}, step {mark.step}"
                    spread = max(
                        (float(np.nanstd(part, axis=0).max()) for part in mark.lanes if part.ndim > 1), default=0.0
                    )
                    self.assertGreater(spread, 1e-6, where)

    def test_every_slip_changes_what_is_lined_in(self) -> None:
        for kind, method in every_method():
            figure = fitting(kind, method)
            right = lined_in(run(figure, method.id))
            for choice, slipped in run_slips(figure, method.id):
                with self.subTest(figure=kind.id, method=method.id, slip=choice.id):
                    if isinstance(slipped, Refused):
                        continue
                    wrong = lined_in(slipped)
                    same = len(right) == len(wrong) and all(
                        a.shape == b.shape and np.allclose(a, b, atol=1e-6) for a, b in zip(right, wrong)
                    )
                    self.assertFalse(same)

    def test_figures_do_not_reach_for_the_hand(self) -> None:
        for file in FIGURES.rglob("*.py"):
            self.assertIsNone(re.search(r"\bd\.hand\b|\.strays", file.read_text("utf-8")), file)

    def test_what_is_found_on_the_paper_scatters_more_in_the_field(self) -> None:
        figure = figure_named("polygon-on-side")(sides=8, side=2600)
        full = {one.name: one for one in run_hands(figure, "circumcentre", 400, seed=2).points}
        small = {one.name: one for one in run_hands(figure, "circumcentre", 400, seed=2, scale=0.02).points}
        for name in ("B", "E"):
            self.assertGreater(small[name].sd, 1.2 * full[name].sd, name)
        hands = UnsteadyHands(4000, 3, scale=0.02)
        draft = Draft(hands)
        circle = draft.compass(draft.start_at("O"), 5000.0)
        self.assertAlmostEqual(float(np.std(circle.radius[1:])), 50 * TOLERANCES["compass setting"].sd, delta=0.3)
