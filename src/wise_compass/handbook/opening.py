"""Any page of the handbook by its name: written, or made of the catalogue."""

from __future__ import annotations

from wise_compass.drafting.refusals import Refused
from wise_compass.figures.catalogue import ENTERED
from wise_compass.handbook.figurepages import catalogue_page, figure_page
from wise_compass.handbook.pages import CATALOGUE, FIGURES, INDEX, Page, names, written_page


def page(name: str) -> Page:
    """A page by its name; raises :class:`Refused` with those that are near where there is none."""
    if name == CATALOGUE:
        return catalogue_page()
    if name not in names():
        from difflib import get_close_matches

        near = get_close_matches(name, [*names(), *ENTERED], 3, 0.4) or [INDEX]
        raise Refused("page", f"The handbook has no page “{name}”. Did you mean {' or '.join(near)}?")
    return figure_page(name.removeprefix(FIGURES)) if name.startswith(FIGURES) else written_page(name)
