"""Writes anew what is declared elsewhere: the index of the catalogue, the schema of the job file, and its tables in the
docs.

``PYTHONPATH=src:. .venv/bin/python -m tools.declared``; tests hold each to what it is written from.
"""

from __future__ import annotations

import json
import re
from importlib import import_module
from pathlib import Path

from wise_compass import figures
from wise_compass.drafting.figure import FAMILIES, Figure
from wise_compass.drafting.wishes import Asked, declared
from wise_compass.job.model import Entry, SheetPlan
from wise_compass.job.schema import job_schema
from wise_compass.job.settings import Settings
from wise_compass.shop.wish import ShopWish
from wise_compass.study.tablewish import TableWish

FOLDER = Path(figures.__path__[0])
SCHEMA = FOLDER.parent / "job" / "schema.json"
JOB_FORMAT = Path(__file__).parent.parent / "docs" / "job-format.md"
HOLDERS = {"settings": Settings, "sheet": SheetPlan, "entry": Entry, "table": TableWish, "shop": ShopWish}
"""What the tables of the page about the job file are written from."""
HEAD = '''"""The index of the catalogue: a line a figure, in the order of the families.

``python -m tools.declared`` writes it. Of its modules the first has the figure, the others give it further methods.
"""

from typing import NamedTuple


class Entered(NamedTuple):
    """A figure of the catalogue before its modules are in."""

    id: str
    family: str
    title: str
    modules: tuple[str, ...]


# fmt: off
INDEX = (
'''


def index_text() -> str:
    """The index as its file has it, told by the classes of every module of the figures."""
    for path in sorted(FOLDER.glob("*/[!_]*.py")):
        import_module(f"{figures.__name__}.{path.parent.name}.{path.stem}")
    order = list(FAMILIES)
    kinds = sorted(Figure.catalogue.values(), key=lambda kind: (order.index(kind.family), kind.__module__, _line(kind)))
    return HEAD + "".join(f"    {_entry(kind)}\n" for kind in kinds) + ")\n# fmt: on\n"


def _line(kind: type[Figure]) -> int:
    """Where in its module a figure stands."""
    from inspect import getsourcelines

    return getsourcelines(kind)[1]


def _entry(kind: type[Figure]) -> str:
    homes = dict.fromkeys([kind.__module__, *sorted({way.draw.__module__ for way in kind.methods.values()})])
    told = ", ".join(f'"{home.removeprefix(figures.__name__ + ".")}"' for home in homes)
    return f'Entered("{kind.id}", "{kind.family}", "{kind.title}", ({told}{"," if len(homes) == 1 else ""})),'


def schema_text() -> str:
    """The published schema of a job file."""
    return json.dumps(job_schema(), ensure_ascii=False, indent=1) + "\n"


def job_format_text(text: str) -> str:
    """The page about the job file with its tables of wishes as they are declared; each stands between two marks."""
    for name, holder in HOLDERS.items():
        rows = [f"| `{asked.name}` | {_holds(asked)} | {asked.wish.says} |" for asked in declared(holder).values()]
        table = "\n".join(["| key | holds | asks for |", "|---|---|---|", *rows])
        text = re.sub(
            rf"(<!-- {name} -->\n).*?(\n<!-- end -->)",
            lambda old, new=table: f"{old[1]}{new}{old[2]}",
            text,
            flags=re.S,
        )
    return text


def _holds(asked: Asked) -> str:
    """What a key of the job file holds, in words."""
    if asked.wish.options:
        words = ", ".join(f"`{word}`" for word in asked.wish.options if word)
        words += f", or such as `{asked.wish.such}`" if asked.wish.form else ""
        return f"a list of {words}" if asked.kind is tuple else words
    if asked.is_text:
        return f"words of up to {asked.wish.most:g} letters"
    if asked.kind is bool:
        return "`true` or `false`"
    most = "" if asked.wish.most is None else f" to {asked.wish.most:g}"
    none = "0 for none, " if asked.lowest < asked.wish.least else ""
    return f"{none}{asked.wish.least:g}{most or ' and up'} {asked.wish.unit}".strip()


def main() -> None:
    """Write all of it."""
    (FOLDER / "index.py").write_text(index_text(), "utf-8")
    SCHEMA.write_text(schema_text(), "utf-8")
    JOB_FORMAT.write_text(job_format_text(JOB_FORMAT.read_text("utf-8")), "utf-8")


if __name__ == "__main__":
    main()
