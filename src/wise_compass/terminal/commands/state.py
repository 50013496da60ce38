"""A problem in words: which figure it means, with which givens."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from wise_compass.drafting.refusals import Refused
from wise_compass.terminal.shared.saying import json_option

if TYPE_CHECKING:
    from wise_compass.job.model import Job
    from wise_compass.words.reading import Reading

SAYS = "Read problems in words: the figure, its givens, what is doubtful, missing or not used."
MOST = 2_000_000
"""Bytes that a file of problems may have."""


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("text", nargs="?", default="", help="the problem")
    one.add_argument("--file", type=Path, metavar="FILE", help="problems, one a line")
    one.add_argument("--paragraphs", action="store_true", help="the file's problems are parted by blank lines")
    one.add_argument("--job", type=Path, metavar="JOB", help="a job in whose units the problem is meant and told")
    one.add_argument("--draw", type=Path, metavar="FILE", help="draw it: svg, pdf, png, csv or json")
    one.add_argument("--into", type=Path, metavar="JOB", help="set each on a sheet of its own of this job")
    json_option(one)


def handle(args: argparse.Namespace) -> None:
    from wise_compass.drafting.wording import INCH
    from wise_compass.job.build import style_of
    from wise_compass.job.model import Job
    from wise_compass.job.store import load
    from wise_compass.words.account import account, record
    from wise_compass.words.reading import Reading, read
    from wise_compass.words.statement import Statement

    texts = problems(args.text, args.file, args.paragraphs)
    if args.draw is not None and len(texts) != 1:
        raise Refused("draw", f"--draw takes one problem, and there are {len(texts)}; use --into for several.")
    job = load(args.job) if args.job is not None else Job("Wise Compass")
    bare = INCH if job.settings.units == "in" else 1.0
    readings: list[Reading] = []
    for k, text in enumerate(texts):
        try:
            readings.append(read(text, bare))
        except Refused as refusal:
            readings.append(Reading(Statement(""), refuse=refusal.says))
        if args.json:
            print(json.dumps(record(readings[-1]), ensure_ascii=False))
            continue
        if len(texts) > 1:
            print(f"{'' if k == 0 else chr(10)}{k + 1}  {text}")
        print("\n".join(account(readings[-1], style_of(job.settings))))
    if args.draw is not None:
        try:
            draw(job, readings[0], args.draw)
        except Refused as refusal:
            _note(f"Not drawn: {refusal.says}")
    if args.into is not None:
        set_into(readings, args.into)


def problems(text: str, file: Path | None, paragraphs: bool) -> list[str]:
    """The problems that are told, one by one; raises :class:`Refused` where there are none, or a file cannot be
    read."""
    from wise_compass.outputs.files import read_text

    if (file is None) == (not text.strip()):
        raise Refused("text", "Tell the problem in quotes, or name a file of problems with --file.")
    if file is None:
        return [text]
    words = read_text(file, "problems", MOST)
    parts = "\n".join(line.strip() for line in words.splitlines()).split("\n\n") if paragraphs else words.splitlines()
    found = [part.strip() for part in parts if part.strip()]
    if not found:
        raise Refused("file", f"{file.name} has no problem in it; write one a line.")
    return found


def draw(job: Job, reading: Reading, out: Path) -> None:
    """The problem drawn on a sheet of its own."""
    from wise_compass.job.build import build_sheet, run_entry
    from wise_compass.job.stated import stated_sheet
    from wise_compass.outputs.write import Output, ending_of, write
    from wise_compass.terminal.shared.saying import pixels

    ending_of(out)
    plan = stated_sheet(reading, job.settings.paper)
    (entry,) = plan.entries
    made = run_entry(entry, job.settings, plan)
    sheet = build_sheet(job._replace(sheets=(plan,)), 0, {entry.id: made})
    write(out, Output([sheet.drawing], made, sheet.scale, entry.title, False, pixels(300)))
    _note(f"{entry.title} is drawn in {out.name}.")


def set_into(readings: list[Reading], path: Path) -> None:
    """Each problem that can be set on a sheet of its own at the end of a job, which is made where there is none."""
    from wise_compass.job.model import Job
    from wise_compass.job.stated import with_stated
    from wise_compass.job.store import load, save

    job = before = load(path) if path.exists() else Job(path.stem)
    for reading in readings:
        try:
            job = with_stated(job, reading)
        except Refused as refusal:
            _note(f"Not set: {refusal.says}")
    if job is not before:
        save(job, path)
        _note(f"{len(job.sheets) - len(before.sheets)} set into {path.name}.")


def _note(words: str) -> None:
    print(words, file=sys.stderr)
