"""Tests that walk the whole catalogue, parted so that every processor has some of it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tests import quick
from wise_compass.drafting.figure import Figure
from wise_compass.figures.catalogue import ENTERED, figure_named

Test = Callable[[Any, list[type[Figure]]], None]
EACH = 3
"""In a quick run one figure in so many is walked."""


class parted:
    """Makes of a test of all figures so many tests, each of which is handed its share of them.

    >>> class Some:
    ...     @parted(2)
    ...     def test_it(self, kinds): print(len(kinds) > 10)
    >>> Some().test_it_1_of_2()
    True
    """

    def __init__(self, parts: int) -> None:
        self.parts = parts
        self.test: Test | None = None

    def __call__(self, test: Test) -> parted:
        self.test = test
        return self

    def __set_name__(self, owner: type, name: str) -> None:
        delattr(owner, name)
        for part in range(self.parts):
            setattr(owner, f"{name}_{part + 1}_of_{self.parts}", self._part(part))

    def _part(self, part: int) -> Callable[[Any], None]:
        test, parts = self.test, self.parts
        assert test is not None

        def run(case: Any) -> None:
            ids = list(ENTERED)[part::parts]
            test(case, [figure_named(id) for id in (ids[::EACH] if quick else ids)])

        run.__doc__ = test.__doc__
        return run
