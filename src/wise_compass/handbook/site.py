"""Every page as a file with its pictures, for whoever makes other pages of them: a generator of sites, a printer."""

from __future__ import annotations

import shutil
from collections.abc import Sequence
from pathlib import Path

from wise_compass.drafting.refusals import Refused
from wise_compass.handbook.opening import page
from wise_compass.handbook.pages import CATALOGUE, FOLDER, contents, names
from wise_compass.outputs.svg import svg_text


def write_pages(folder: Path, wanted: Sequence[str] = ()) -> int:
    """Write the pages that are wanted, or all, as Markdown into a folder, with their pictures; returns how many.

    The pictures that are shown of the program come along; what the folder had is left, but for files of these names.
    Raises :class:`Refused` for the folder that the pages are read from.
    """
    if FOLDER.resolve() in (folder.resolve(), *folder.resolve().parents):
        raise Refused("pages", f"{folder} is where the handbook is read from. Take another folder.")
    chosen = list(wanted) or [*names(), CATALOGUE]
    for name in dict.fromkeys(chosen):
        one = page(name)
        file = folder / f"{name}.md"
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_text(one.text.replace("](../screenshots/", "](screenshots/"), "utf-8")
        for path, make in one.pictures.items():
            (folder / path).write_text(svg_text(make()), "utf-8")
    for kept in (FOLDER / "pictures", FOLDER.parent / "screenshots"):
        if kept.is_dir():
            shutil.copytree(kept, folder / kept.name, dirs_exist_ok=True)
    return len(set(chosen))


def nav() -> list[dict[str, object]]:
    """The order of the pages, as a generator of sites takes it."""
    parts: list[dict[str, object]] = [{"Handbook": "index.md"}]
    for part, inside in contents().items():
        pages = [{page(name).title: f"{name}.md"} for name in inside]
        parts.append({part: pages})
    return parts
