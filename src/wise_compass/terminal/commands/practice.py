"""Problems set: worksheets, solutions, key and class sheet."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from wise_compass.drafting.refusals import Refused
from wise_compass.outputs.files import apart, read_text, write_output
from wise_compass.terminal.shared.saying import json_option, print_json, progress

SAYS = "Set a problem, or a class set: worksheets with their solutions, and the key."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("figure", nargs="?", default="", help="a figure's id; without it one of the family, or any")
    one.add_argument("--family", default="", help="a family's id")
    one.add_argument("--lately", action="store_true", help="a figure that went wrong lately, by the logbook")
    one.add_argument("--method", help="a method's id; any by default")
    one.add_argument(
        "--paper", default="A4", choices=("A4", "A3", "A2", "Letter", "Tabloid"), help="what it has to fit"
    )
    one.add_argument("--pupils", metavar="FILE|N", help="a class set: a file of names, a line each, or how many")
    one.add_argument("--seed", type=_seed, help="for the same problems again")
    one.add_argument("--out", type=Path, metavar="FILE.pdf", help="the worksheets, each with its solution behind it")
    one.add_argument("--no-solutions", action="store_true", help="the worksheets alone")
    one.add_argument("--key", type=Path, metavar="FILE.csv", help="the key: what each measure comes to")
    one.add_argument(
        "--sheet", type=Path, metavar="FILE.csv", help="the sheet that a class's measurements are entered in"
    )
    one.add_argument("--person", default="", help="whose entries count")
    json_option(one)


def handle(args: argparse.Namespace) -> None:
    """Set problems, one or a class set, and write their worksheets, solutions, key and class sheet."""
    import numpy as np

    from wise_compass.job.person import own_drafter
    from wise_compass.outputs.write import Output, ending_of, write
    from wise_compass.practice.setting import Asked, set_class
    from wise_compass.practice.worksheet import Task, class_key, class_sheet, set_pages, watches_of

    for path, endings in ((args.out, ("pdf",)), (args.key, ("csv",)), (args.sheet, ("csv",))):
        if path is not None:
            ending_of(path, endings)
    apart(args.out, args.key, args.sheet)
    pupils = _pupils(args)
    random = np.random.default_rng(args.seed)
    figures, drafter = _figures(args), own_drafter()
    asked = [
        Asked(figures[int(number)], args.paper, drafter, args.method)
        for number in random.integers(len(figures), size=len(pupils))
    ]
    tasks = [Task(pupil, problem) for pupil, problem in zip(pupils, set_class(asked, random, progress), strict=True)]
    watches = None
    if args.out is not None:
        made = set_pages(tasks, not args.no_solutions, hear=progress)
        drawings, watches = [one for pages in made for one in pages.drawings], [pages.watch for pages in made]
        write(args.out, Output(drawings, None, 1.0, "Practice", False, _no_pixels), ("pdf",))
    elif args.key is not None or args.sheet is not None:
        watches = watches_of(tasks, progress)
    if args.key is not None:
        write_output(args.key, class_key(tasks, watches))
    if args.sheet is not None:
        write_output(args.sheet, class_sheet(tasks, watches))
    if args.json:
        told = [
            {**task.problem._asdict(), "pupil": task.pupil, "code": task.problem.code, "words": task.problem.words()}
            for task in tasks
        ]
        print_json({"problems": told})
        return
    for task in tasks:
        print(f"{task.pupil + ': ' if task.pupil else ''}{task.problem.words()}\n    {task.problem.code}")


def _no_pixels(drawing: Any, clean: bool) -> bytes:
    raise Refused("out", "A worksheet is written as PDF.")


def _pupils(args: argparse.Namespace) -> list[str]:
    """Who is set a problem: names from a file, or so many numbers; one without a name for oneself."""
    from wise_compass.practice.worksheet import MOST_PUPILS

    if args.pupils is None:
        return [""]
    if args.pupils.isascii() and args.pupils.isdigit():
        if not 1 <= int(args.pupils) <= MOST_PUPILS:
            raise Refused("pupils", f"pupils is {args.pupils}; it goes from 1 to {MOST_PUPILS}.")
        return [f"Pupil {k + 1}" for k in range(int(args.pupils))]
    names = [line.strip() for line in read_text(Path(args.pupils), "names").splitlines() if line.strip()]
    twice = next((name for name in names if names.count(name) > 1), None)
    if not names or len(names) > MOST_PUPILS or twice:
        raise Refused(
            "pupils",
            f"{twice} is named twice."
            if twice
            else f"The file names {len(names)} pupils; it takes 1 to {MOST_PUPILS}.",
        )
    return names


def _figures(args: argparse.Namespace) -> list[str]:
    from wise_compass.figures.catalogue import ENTERED, figure_named
    from wise_compass.practice.problems import figures_of

    if args.figure:
        return [figure_named(args.figure).id]
    if args.lately:
        from wise_compass.logbook.reckon import gone_wrong
        from wise_compass.logbook.store import Logbook

        wrong = gone_wrong(Logbook(), args.person)
        if not wrong:
            raise Refused("lately", "Nothing has gone wrong lately, by the logbook. Name a figure or a family.")
        return wrong
    return figures_of(args.family) if args.family else list(ENTERED)


def _seed(words: str) -> int:
    import argparse

    if not words.isdigit():
        raise argparse.ArgumentTypeError(f"{words} is no whole number from 0 up")
    return int(words)
