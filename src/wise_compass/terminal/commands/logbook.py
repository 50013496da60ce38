"""What was checked and practised."""

from __future__ import annotations

import argparse
from pathlib import Path

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import are, many
from wise_compass.outputs.files import read_text, write_output
from wise_compass.terminal.shared.saying import json_option

SAYS = "What was checked and practised: slips, scatter and pace; out as CSV or JSON, in from CSV."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("--out", type=Path, metavar="FILE", help="write the entries as csv or json")
    one.add_argument("--take", type=Path, metavar="FILE.csv", help="take entries in")
    one.add_argument("--forget", metavar="ID|all", help="delete an entry, or all")
    one.add_argument("--since", default="", metavar="DAY", help="entries from this day on, such as 2026-11-25")
    one.add_argument("--until", default="", metavar="DAY", help="entries before this day")
    one.add_argument("--family", default="", help="entries of a family")
    one.add_argument("--person", default="", help="whose entries count")
    json_option(one)


def handle(args: argparse.Namespace) -> None:
    """What the logbook tells; out as CSV or JSON, in from CSV, entries or all of it forgotten."""
    from wise_compass.logbook.files import csv_text, json_text, read_csv
    from wise_compass.logbook.reckon import Filter, tables, told
    from wise_compass.logbook.store import Logbook
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
        write_output(
            args.out, csv_text(entries) if ending_of(args.out, ("csv", "json")) == "csv" else json_text(entries)
        )
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
