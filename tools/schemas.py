"""Writes docs/schemas: what each command prints with ``--json``, as JSON Schema, told by runs of it. ``python -m
tools.schemas``; a test holds other runs to them."""

from __future__ import annotations

import contextlib
import csv
import io
import json
import shlex
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from genson import SchemaBuilder

from wise_compass import __version__
from wise_compass.figures.catalogue import ENTERED
from wise_compass.job.demo import demo_job
from wise_compass.job.store import save
from wise_compass.terminal.main import main
from wise_compass.terminal.parsing import command

FOLDER = Path(__file__).parent.parent / "docs" / "schemas"
RUNS = {
    "calibrate": ('--measured "opening-1=23.2 angle-17=29.4"',),
    "check": (
        "fillet",
        "prism",
        'triangle-three-sides ab=96 bc=70 ca=63 --measured "AB=96.1 BC=70.2 CA=60.8"',
        'triangle-three-sides ab=96 bc=70 ca=63 --measured "AB=96 BC=70 CA=63"',
        "--photo sheet.jpg",
    ),
    "doctor": ("", "--about"),
    "handbook": ("", "judging", "seam lap"),
    "hands": ("ellipse", "line-from-views"),
    "list": ("",),
    "logbook": ("",),
    "mark": ("class.csv",),
    "own": ("mine.txt", "mine.txt --compare", "mine.txt --allow compass,straightedge --most 9", "--kept"),
    "pattern": ("rect-to-rect turn=20 --seam-lap 8 --thickness 1.5", "cone", "gear-pair shown=wheels"),
    "plan": ("mill.json --start 2026-11-26T08:00 --week 5",),
    "practice": ("ellipse --pupils 2 --seed 4", "fillet --seed 3"),
    "read": ("sheet.jpg",),
    "slips": tuple(ENTERED),
    "solve": tuple(ENTERED),
    "state": (
        '"Divide a rail of 1.25 m into 9 equal parts"',
        '"A cone, 60 mm across and 75 mm high, is cut at 40°. Develop it."',
        '"A cake for four people"',
        '"A pentagonal prism with six sides, side 30 mm"',
    ),
    "stray": ("ellipse --hold 0.1", "helix", "ellipse --method four-centres"),
    "table": ("ellipse", "oblique-cone", "involute-circle"),
}
"""Runs that between them print every kind of thing."""
PREPARED = (
    "photograph mill.json --sheet 3 --hands 1 --out sheet.jpg",
    "practice ellipse --pupils 2 --seed 4 --out class.pdf --key key.csv --sheet class.csv",
    "own --take ellipse:two-circles --out mine.txt",
    'check triangle-three-sides ab=96 bc=70 ca=63 --measured "AB=96.1 BC=70.2 CA=60.8" --keep',
)
MAPS = (
    *("points", "values", "givens", "found", "settings", "taken", "measured", "measures", "parts", "notes", "about"),
    *("figures", "steps", "scatter", "limits", "chosen", "wishes", "key", "pages", "numbers"),
)
"""Names of objects whose own names are a figure's, a step's or a page's, and not of the format."""
MAP = "names of its own"


def printed(command_line: str) -> Any:
    """What a run prints, read."""
    out = io.StringIO()
    with contextlib.redirect_stdout(out):
        status = main([*shlex.split(command_line), "--json"])
    if status:
        sys.exit(f"{command_line}: status {status}")
    return json.loads(out.getvalue())


def fill_class(key: Path, sheet: Path) -> None:
    """Enter what a class would have measured, had it drawn exactly, into its sheet."""
    with key.open(encoding="utf-8-sig") as told, sheet.open(encoding="utf-8-sig") as blank:
        answers, rows = list(csv.DictReader(told)), list(csv.DictReader(blank))
    with sheet.open("w", encoding="utf-8") as out:
        writer = csv.DictWriter(out, list(rows[0]))
        writer.writeheader()
        writer.writerows({name: row[name] or told.get(name, "") for name in row} for row, told in zip(rows, answers))


@contextlib.contextmanager
def prepared() -> Iterator[None]:
    """A folder with a job, a photograph, a class and a way of one's own, to run commands in."""
    with tempfile.TemporaryDirectory() as folder, contextlib.chdir(folder):
        save(demo_job(), Path("mill.json"))
        for line in PREPARED:
            with contextlib.redirect_stdout(io.StringIO()):
                if main(shlex.split(line)):
                    sys.exit(f"{line} fails")
        fill_class(Path("key.csv"), Path("class.csv"))
        yield


def schema_of(name: str, shown: list[Any]) -> dict[str, Any]:
    """The schema that all that was shown keeps to."""
    builder = SchemaBuilder("https://json-schema.org/draft-07/schema#")
    for one in shown:
        builder.add_object(_marked(one))
    schema = _unmarked(builder.to_schema())
    told = {"title": f"wise-compass {name} --json", "description": command(name).SAYS, "version": __version__}
    return {
        "$schema": "http://json-schema.org/draft-07/schema#",
        **told,
        **{k: v for k, v in schema.items() if k[0] != "$"},
    }


def _marked(value: Any, name: str = "") -> Any:
    if isinstance(value, dict):
        inside = {key: _marked(one, key) for key, one in value.items()}
        return {MAP: list(inside.values())} if name in MAPS or _is_table(value) else inside
    return [_marked(one) for one in value] if isinstance(value, list) else value


def _is_table(value: dict[str, Any]) -> bool:
    """Whether an object's names are no names of a format: letters of points, words with signs."""
    return bool(value) and any(not key.isidentifier() or key[0].isupper() for key in value)


def _unmarked(schema: Any) -> Any:
    if isinstance(schema, list):
        return [_unmarked(one) for one in schema]
    if not isinstance(schema, dict):
        return schema
    held = schema.get("properties", {})
    if MAP in held:
        items = _unmarked(held[MAP].get("items", True))
        others = {key: _unmarked(one) for key, one in held.items() if key != MAP}
        return {"type": "object", **({"properties": others} if others else {}), "additionalProperties": items}
    return {key: _unmarked(one) for key, one in schema.items()}


def write_all() -> None:
    """Write every schema."""
    import os

    for variable in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"):
        os.environ[variable] = tempfile.mkdtemp()
    FOLDER.mkdir(exist_ok=True)
    with prepared():
        for name, lines in RUNS.items():
            schema = schema_of(name, [printed(f"{name} {line}") for line in lines])
            (FOLDER / f"{name}.json").write_text(json.dumps(schema, indent=1, ensure_ascii=False) + "\n", "utf-8")


if __name__ == "__main__":
    write_all()
