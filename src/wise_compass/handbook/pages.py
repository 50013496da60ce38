"""The pages of the handbook: those that are written, in the order of their contents, and those that are made of the
catalogue. All are Markdown; links and pictures in them are told from the folder of the page, as in the files."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Callable, Mapping
from functools import cache
from pathlib import Path
from typing import NamedTuple

from wise_compass.figures.catalogue import ENTERED
from wise_compass.sheet.drawing import Drawing

FOLDER = Path(__file__).parent / "pages"
INDEX = "index"
CATALOGUE, FIGURES = "figures", "figures/"
_PART = re.compile(r"^## (.+)$|^- \[([^\]]+)\]\(([\w-]+)\.md\)", re.MULTILINE)
_TITLE = re.compile(r"^# (.+)$", re.MULTILINE)


class Page(NamedTuple):
    """A page by its ``name``, the path of its file without an ending; ``pictures`` are those that are drawn for it, by
    the path that the text calls them by."""

    name: str
    title: str
    text: str
    pictures: Mapping[str, Callable[[], Drawing]] = {}

    def leads_to(self, link: str) -> tuple[str, str]:
        """The name of the page that a link of this one leads to, or the path of a picture, and the place on it."""
        path, _, place = link.partition("#")
        if not path:
            return self.name, place
        whole = posixpath.normpath(posixpath.join(posixpath.dirname(self.name), path))
        return whole.removesuffix(".md"), place


@cache
def contents() -> Mapping[str, tuple[str, ...]]:
    """The parts of the handbook in their order, each with the names of its pages; read from the page that opens it."""
    parts: dict[str, list[str]] = {}
    for part, _, name in _PART.findall(_written(INDEX)):
        if part:
            parts[part] = []
        elif parts:
            parts[list(parts)[-1]].append(name)
    return {part: tuple(names) for part, names in parts.items() if names}


@cache
def names() -> tuple[str, ...]:
    """Every page: what opens it, those written, and a page a figure."""
    written = [name for part in contents().values() for name in part]
    return (INDEX, *written, *(FIGURES + id for id in ENTERED))


def written_page(name: str) -> Page:
    """A page that is written, by its name."""
    text = _written(name)
    return Page(name, title_of(text), text)


def title_of(text: str) -> str:
    """The title that a page begins with."""
    found = _TITLE.search(text)
    return found[1] if found else ""


def picture_file(path: str) -> Path | None:
    """The file of a picture that is kept with the handbook, by its path from the handbook's folder; None outside it."""
    file = FOLDER / path
    kept = FOLDER / "pictures", FOLDER.parent / "screenshots"
    return file if file.parent in (kept[0], FOLDER / ".." / "screenshots") and file.is_file() else None


@cache
def _written(name: str) -> str:
    return (FOLDER / f"{name}.md").read_text("utf-8")
