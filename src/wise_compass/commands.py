"""The commands of practice, class, logbook and plan."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import are, many
from wise_compass.outputs.files import read_text

if TYPE_CHECKING:
    import argparse


def _print_json(data: Any) -> None:
    print(json.dumps(data, ensure_ascii=False, indent=1))


def practice(args: argparse.Namespace) -> None:
    """Set problems, one or a class set, and write their worksheets, solutions, key and class sheet."""
    import numpy as np

    from wise_compass.job.person import own_drafter
    from wise_compass.outputs.files import write_output
    from wise_compass.outputs.write import Output, ending_of, write
    from wise_compass.practice.problems import set_problem
    from wise_compass.practice.worksheet import Task, class_key, class_sheet, set_drawings

    for path, endings in ((args.out, ("pdf",)), (args.key, ("csv",)), (args.sheet, ("csv",))):
        if path is not None:
            ending_of(path, endings)
    pupils = _pupils(args)
    random = np.random.default_rng(args.seed)
    figures = _figures(args)
    tasks: list[Task] = []
    for k, pupil in enumerate(pupils):
        figure = figures[k % len(figures)] if args.figure else figures[int(random.integers(len(figures)))]
        problem = set_problem(figure, random, args.paper, own_drafter(), args.method, [task.problem for task in tasks])
        tasks.append(Task(pupil, problem))
    if args.out is not None:
        drawings = set_drawings(tasks, not args.no_solutions)
        write(args.out, Output(drawings, None, 1.0, "Practice", False, _no_pixels), ("pdf",))
    if args.key is not None:
        write_output(args.key, class_key(tasks))
    if args.sheet is not None:
        write_output(args.sheet, class_sheet(tasks))
    if args.json:
        told = [
            {**task.problem._asdict(), "pupil": task.pupil, "code": task.problem.code, "words": task.problem.words()}
            for task in tasks
        ]
        _print_json({"problems": told})
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
    if args.pupils.isdigit():
        if not 1 <= int(args.pupils) <= MOST_PUPILS:
            raise Refused("pupils", f"pupils is {args.pupils}; it goes from 1 to {MOST_PUPILS}.")
        return [f"Pupil {k + 1}" for k in range(int(args.pupils))]
    names = [line.strip() for line in read_text(Path(args.pupils), "names").splitlines() if line.strip()]
    twice = next((name for name in names if names.count(name) > 1), None)
    if not names or len(names) > MOST_PUPILS or twice:
        raise Refused(
            "pupils",
            f"{twice} is named twice." if twice else f"The file names {len(names)} pupils; it takes 1 to {MOST_PUPILS}.",
        )
    return names


def _figures(args: argparse.Namespace) -> list[str]:
    from wise_compass.drafting.catalogue import entered, figure_named
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
    return figures_of(args.family) if args.family else list(entered())


def mark(args: argparse.Namespace) -> None:
    """Mark a class's sheet of measurements."""
    from wise_compass.logbook.store import Logbook
    from wise_compass.outputs.files import write_output
    from wise_compass.outputs.write import ending_of
    from wise_compass.practice.classes import class_text, mark_class, marks_csv, most_made, read_class

    if args.out is not None:
        ending_of(args.out, ("csv",))
    if args.sheet.is_dir():
        from wise_compass.camera.classes import mark_photographs

        graded, refused = mark_photographs(args.sheet, _progress)
        for line in refused:
            print(line, file=sys.stderr)
    else:
        graded = mark_class(read_class(read_text(args.sheet, "measurements")))
    if args.out is not None:
        write_output(args.out, marks_csv(graded))
    if args.keep:
        Logbook().note([one.noted for one in graded])
    if args.json:
        rows = [
            {"pupil": one.handed.pupil, **one.noted._asdict(), "measures": [m._asdict() for m in one.noted.measures]}
            for one in graded
        ]
        _print_json({"marks": rows, "most": [{"says": says, "count": count} for says, count in most_made(graded)]})
    else:
        print(class_text(graded))


def _progress(done: int, whole: int) -> None:
    """How far it is, where somebody looks on."""
    if sys.stderr.isatty():
        print(f"\r{done} of {whole} ", end="\n" if done == whole else "", file=sys.stderr, flush=True)


def logbook(args: argparse.Namespace) -> None:
    """What the logbook tells; out as CSV or JSON, in from CSV, entries or all of it forgotten."""
    from wise_compass.logbook.files import csv_text, json_text, read_csv
    from wise_compass.logbook.reckon import Filter, tables, told
    from wise_compass.logbook.store import Logbook
    from wise_compass.outputs.files import write_output
    from wise_compass.outputs.write import ending_of

    book = Logbook()
    if args.take is not None:
        entries = read_csv(read_text(args.take, "a logbook"))
        book.note(entries)
        print(f"{are(len(entries), 'entry', 'entries')} taken in.")
        return
    if args.forget is not None:
        count = book.forget(None if args.forget == "all" else [args.forget])
        if not count and args.forget != "all":
            raise Refused("forget", f"There is no entry {args.forget}; wise-compass logbook --json lists them.")
        print(f"{are(count, 'entry', 'entries')} forgotten.")
        return
    chosen = Filter(_moment(args.since, "since"), _moment(args.until, "until"), args.family, args.person)
    if args.out is not None:
        entries = book.entries(*chosen.where)
        write_output(args.out, csv_text(entries) if ending_of(args.out, ("csv", "json")) == "csv" else json_text(entries))
        print(f"{are(len(entries), 'entry', 'entries')} in {args.out.name}.")
    elif args.json:
        print(json_text(book.entries(*chosen.where)), end="")
    else:
        every = told(book, chosen)
        print(many(every.entries, "entry", "entries"))
        for name, (head, rows) in tables(every).items():
            print(f"\n{name.capitalize()}\n  " + " | ".join(head))
            for row in rows[:20]:
                print("  " + " | ".join(map(str, row)))
    if book.said:
        print(book.said)


def _moment(words: str, name: str) -> float:
    """A day as seconds since 1970; 0 for none. Raises :class:`Refused`."""
    from datetime import datetime

    if not words:
        return 0.0
    try:
        return datetime.fromisoformat(words).timestamp()
    except (ValueError, OverflowError, OSError):
        raise Refused(name, f"{name} is “{words[:30]}”; write a day such as 2026-11-25.") from None


def plan(args: argparse.Namespace) -> None:
    """The day's plan of a job."""
    from datetime import datetime

    from wise_compass.job.build import style_of
    from wise_compass.job.store import load
    from wise_compass.logbook.store import Logbook
    from wise_compass.outputs.files import write_output
    from wise_compass.outputs.write import ending_of
    from wise_compass.plan.day import Hours, plan_of
    from wise_compass.plan.pace import own_pace
    from wise_compass.plan.told import plan_calendar, plan_csv, plan_drawings, plan_record, plan_text

    ending = ending_of(args.out, ("csv", "ics", "pdf", "json")) if args.out is not None else ""
    job = load(args.job)
    try:
        start = datetime.fromisoformat(args.start) if args.start else datetime.now().replace(second=0, microsecond=0)
    except ValueError:
        raise Refused("start", f"start is “{args.start[:30]}”; write a day and time such as 2026-11-25T09:00.") from None
    for name, value, most in (("work", args.work, 1440.0), ("rest", args.rest, 480.0), ("day", args.day, 1440.0)):
        if not 0 <= value <= most:
            raise Refused(
                name, f"{name} is {value:g} minutes; it goes from 0 to {most:g}. {'Raise' if value < 0 else 'Lower'} {name}."
            )
    made = plan_of(job, own_pace(Logbook(), args.person), Hours(start, args.work, args.rest, args.day, args.week))
    style = style_of(job.settings)
    if ending == "csv":
        write_output(args.out, plan_csv(made))
    elif ending == "ics":
        write_output(args.out, plan_calendar(made))
    elif ending == "json":
        write_output(args.out, json.dumps(plan_record(made), ensure_ascii=False, indent=1) + "\n")
    elif ending == "pdf":
        from wise_compass.outputs.pdf import pdf_bytes

        write_output(args.out, pdf_bytes(plan_drawings(made, style), f"{job.title}: plan"))
    if args.json:
        _print_json(plan_record(made))
    elif args.out is None:
        print(plan_text(made, style))
    else:
        print(f"The plan is in {args.out.name}.")


HANDLERS = {"practice": practice, "mark": mark, "logbook": logbook, "plan": plan}


def options(one: argparse.ArgumentParser, name: str) -> None:
    """What each of these commands takes."""
    if name == "practice":
        one.add_argument("figure", nargs="?", default="", help="a figure's id; without it one of the family, or any")
        one.add_argument("--family", default="", help="a family's id")
        one.add_argument("--lately", action="store_true", help="a figure that went wrong lately, by the logbook")
        one.add_argument("--method", help="a method's id; any by default")
        one.add_argument("--paper", default="A4", choices=("A4", "A3", "A2"), help="what it has to fit")
        one.add_argument("--pupils", metavar="FILE|N", help="a class set: a file of names, a line each, or how many")
        one.add_argument("--seed", type=_seed, help="for the same problems again")
        one.add_argument("--out", type=Path, metavar="FILE.pdf", help="the worksheets, each with its solution behind it")
        one.add_argument("--no-solutions", action="store_true", help="the worksheets alone")
        one.add_argument("--key", type=Path, metavar="FILE.csv", help="the key: what each measure comes to")
        one.add_argument("--sheet", type=Path, metavar="FILE.csv", help="the sheet that a class's measurements are entered in")
    elif name == "mark":
        one.add_argument(
            "sheet",
            type=Path,
            metavar="CLASS",
            help="a CSV of pupil, problem and a column a measure; or a folder of photographs of worksheets",
        )
        one.add_argument("--out", type=Path, metavar="FILE.csv", help="write the marks")
        one.add_argument("--keep", action="store_true", help="note them in the logbook")
    elif name == "logbook":
        one.add_argument("--out", type=Path, metavar="FILE", help="write the entries as csv or json")
        one.add_argument("--take", type=Path, metavar="FILE.csv", help="take entries in")
        one.add_argument("--forget", metavar="ID|all", help="delete an entry, or all")
        one.add_argument("--since", default="", metavar="DAY", help="entries from this day on, such as 2026-11-25")
        one.add_argument("--until", default="", metavar="DAY", help="entries before this day")
        one.add_argument("--family", default="", help="entries of a family")
    else:
        one.add_argument("job", type=Path, help="a job file")
        one.add_argument(
            "--start", default="", metavar="TIME", help="when work begins, such as 2026-11-25T09:00; now by default"
        )
        one.add_argument("--work", type=float, default=90.0, metavar="MIN", help="minutes of work between breaks; 0 for none")
        one.add_argument("--rest", type=float, default=10.0, metavar="MIN", help="minutes of a break")
        one.add_argument("--day", type=float, default=480.0, metavar="MIN", help="minutes that a day has; 0 for no end")
        says = "days of the week that are worked, from Monday on; 7 by default"
        one.add_argument("--week", type=int, default=7, choices=range(1, 8), metavar="DAYS", help=says)
        one.add_argument("--out", type=Path, metavar="FILE", help="csv, ics, pdf or json")
    if name != "mark":
        one.add_argument("--person", default="", help="whose entries count")
    one.add_argument("--json", action="store_true", help="print JSON")


def _seed(words: str) -> int:
    import argparse

    if not words.isdigit():
        raise argparse.ArgumentTypeError(f"{words} is no whole number from 0 up")
    return int(words)
