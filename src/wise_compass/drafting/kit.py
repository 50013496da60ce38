"""The kit: which instruments a drafter has and how far they reach; and the drafter, who is the kit and how far its hand
strays.

``drafting/kit.py`` has a kit and a ``Drafter`` (kit and own tolerances), which is a convention of every run:
``lacks.py`` tells what a kit cannot do of its steps, ``study/waysround.py`` what would do. ``study/calibration.py``
makes tolerances of measured exercises (``sheet/exercises.py`` prints them); ``job/person.py: own_drafter`` is whose
hand draws on this desk. ``sheet/stepsheet.py`` puts the steps on paper with what watches each.
"""

from __future__ import annotations

from typing import NamedTuple

COMPASS_REACH = 160.0
"""The opening, in mm, above which a common bow compass gives way to a beam compass."""
SQUARES = {"45": (45.0,), "60": (30.0, 60.0), "45 and 60": (15.0, 30.0, 45.0, 60.0, 75.0), "none": ()}
"""Which leans, in degrees, each choice of set squares draws."""


class Kit(NamedTuple):
    """What lies on a drafter's table. Lengths are mm on the paper; 0 is none of it.

    ``compass_least`` and ``compass_most`` are the openings of the bow compass, ``beam_most`` that of the beam compass;
    ``rule_by`` and ``protractor_by`` the graduations (mm, degrees) of the rule and the protractor; ``squares`` one of
    :data:`SQUARES`; ``curves`` and ``scale_rules`` whether there are any.
    """

    compass_least: float = 1.0
    compass_most: float = COMPASS_REACH
    beam_most: float = 1200.0
    dividers_most: float = 160.0
    rule_long: float = 300.0
    rule_by: float = 1.0
    protractor_by: float = 0.5
    squares: str = "45 and 60"
    curves: bool = True
    scale_rules: bool = True

    @property
    def largest_opening(self) -> float:
        """What the widest of its compasses reaches."""
        return max(self.compass_most, self.beam_most)


LIMITS = {
    "compass_least": (0.5, 20.0),
    "compass_most": (20.0, 600.0),
    "beam_most": (0.0, 5000.0),
    "dividers_most": (0.0, 600.0),
    "rule_long": (100.0, 2000.0),
    "rule_by": (0.25, 2.0),
    "protractor_by": (0.0, 2.0),
}
"""What each size of a kit can be."""


class Drafter(NamedTuple):
    """Whose hand draws: the kit, and what 95 in 100 of its own settings stay within, by tolerance, where that was
    measured."""

    kit: Kit = Kit()
    limits: tuple[tuple[str, float], ...] = ()

    def limit(self, tolerance: str, assumed: float) -> float:
        """The limit of a tolerance: as measured; else as assumed, of this kit's graduations."""
        for name, own in self.limits:
            if name == tolerance:
                return own
        if tolerance in ("compass setting", "rule mark", "trammel"):
            return assumed * self.kit.rule_by / Kit().rule_by
        if tolerance == "protractor" and self.kit.protractor_by:
            return assumed * self.kit.protractor_by / Kit().protractor_by
        return assumed
