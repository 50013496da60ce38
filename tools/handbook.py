"""What of the handbook is made: ``python -m tools.handbook`` writes its page of keys from the window, and its drawings
by the commands beside them; ``python -m tools.handbook FOLDER`` builds it as a site that needs no network.

Tests hold what is written here to what it is written from.
"""

from __future__ import annotations

import contextlib
import io
import os
import shlex
import sys
import tempfile
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtGui import QAction

from wise_compass.desk.keyslist import PLAIN
from wise_compass.desk.menus import MENUS
from wise_compass.handbook.html import EXTENSIONS
from wise_compass.handbook.pages import FOLDER
from wise_compass.handbook.site import nav, write_pages
from wise_compass.job.model import Job
from wise_compass.terminal.main import main

MADE_BY = FOLDER / "pictures" / "made-by.txt"
THEME = Path(__file__).parent / "handbook_theme"
KEYS_HEAD = """# Every key

Made from the commands of the window itself. In the window, `Ctrl+Shift+F1` lists them, those of the place at hand
first.
"""


def drawings() -> Iterator[tuple[str, str]]:
    """Each drawing of the pages by its name, as its command makes it."""
    for line in MADE_BY.read_text("utf-8").splitlines():
        name, _, command = line.partition(": ")
        with tempfile.TemporaryDirectory() as folder, contextlib.redirect_stdout(io.StringIO()):
            out = Path(folder) / name
            if main([*shlex.split(command), "--out", str(out)]) != 0:
                sys.exit(f"{name} cannot be made by: {command}")
            yield name, out.read_text("utf-8")


def keys_page(groups: Mapping[str, Sequence[QAction]]) -> str:
    """The page of keys, from the commands of a window."""
    lines = [KEYS_HEAD]
    for title, parts in MENUS.items():
        actions = [action for part in parts for action in groups[part.group][part.first : part.last]]
        told = [(action.text(), action.shortcuts()) for action in actions if action.shortcuts()]
        rows = [(" or ".join(f"`{key.toString()}`" for key in keys), f"**{title} > {words}**") for words, keys in told]
        lines += _table(f"Menu {title}", rows)
    for place, plain in PLAIN.items():
        lines += _table(place, plain)
    return "\n".join(lines)


def _table(title: str, rows: Sequence[tuple[str, str]]) -> list[str]:
    return [
        f"## {title}",
        "",
        "| key | what it does |",
        "|---|---|",
        *(f"| {key} | {does} |" for key, does in rows),
        "",
    ]


def write_made() -> None:
    """Write the drawings and the page of keys."""
    from wise_compass.desk.parts.theme import application
    from wise_compass.desk.session.session import Session
    from wise_compass.desk.window import DeskWindow

    for variable in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"):
        os.environ[variable] = tempfile.mkdtemp()
    for name, text in drawings():
        (FOLDER / "pictures" / name).write_text(text, "utf-8")
    kept = application()
    window = DeskWindow(Session(Job()))
    (FOLDER / "keys.md").write_text(keys_page(window.groups), "utf-8")
    kept.processEvents()


def build_site(folder: Path) -> None:
    """The handbook as pages for a browser, by MkDocs; a link or a picture that leads nowhere stops it."""
    from mkdocs.commands.build import build
    from mkdocs.config import load_config

    if folder.is_dir() and any(folder.iterdir()) and not (folder / "sitemap.xml").is_file():
        sys.exit(f"{folder} holds something else, which a new site would sweep away. Take a folder of its own.")
    with tempfile.TemporaryDirectory() as pages:
        write_pages(Path(pages))
        extensions = [one for one in EXTENSIONS if one != "toc"]
        build(
            load_config(
                config_file=io.BytesIO(b"site_name: Wise Compass\n"),
                docs_dir=pages,
                site_dir=str(folder.resolve()),
                theme={"name": None, "custom_dir": str(THEME)},
                nav=nav(),
                markdown_extensions=extensions,
                use_directory_urls=False,
                plugins=[],
                strict=True,
                validation={"nav": {"omitted_files": "ignore"}},
            )
        )


if __name__ == "__main__":
    if len(sys.argv) > 1:
        build_site(Path(sys.argv[1]))
    else:
        write_made()
