"""The day's plan of a job."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

from wise_compass.drafting.refusals import Refused
from wise_compass.outputs.files import write_output
from wise_compass.terminal.shared.saying import json_option, print_json, progress

SAYS = "The day's plan of a job: order, kit, minutes, breaks."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("job", type=Path, help="a job file")
    one.add_argument(
        "--start", default="", metavar="TIME", help="when work begins, such as 2026-11-25T09:00; now by default"
    )
    one.add_argument(
        "--work", type=float, default=90.0, metavar="MIN", help="minutes of work between breaks; 0 for none"
    )
    one.add_argument("--rest", type=float, default=10.0, metavar="MIN", help="minutes of a break")
    one.add_argument("--day", type=float, default=480.0, metavar="MIN", help="minutes that a day has; 0 for no end")
    says = "days of the week that are worked, from Monday on; 7 by default"
    one.add_argument("--week", type=int, default=7, choices=range(1, 8), metavar="DAYS", help=says)
    one.add_argument("--out", type=Path, metavar="FILE", help="csv, ics, pdf or json")
    one.add_argument("--person", default="", help="whose entries count")
    json_option(one)


def handle(args: argparse.Namespace) -> None:
    """The day's plan of a job."""
    from datetime import datetime

    from wise_compass.job.build import style_of
    from wise_compass.job.store import load
    from wise_compass.logbook.store import Logbook
    from wise_compass.outputs.write import ending_of
    from wise_compass.plan.day import Hours, plan_of
    from wise_compass.plan.pace import own_pace
    from wise_compass.plan.told import plan_calendar, plan_csv, plan_drawings, plan_record, plan_text

    ending = ending_of(args.out, ("csv", "ics", "pdf", "json")) if args.out is not None else ""
    job = load(args.job)
    try:
        start = datetime.fromisoformat(args.start) if args.start else datetime.now().replace(second=0, microsecond=0)
    except ValueError:
        raise Refused(
            "start", f"start is “{args.start[:30]}”; write a day and time such as 2026-11-25T09:00."
        ) from None
    hours = Hours(start, args.work, args.rest, args.day, args.week)
    hours.check()
    made = plan_of(job, own_pace(Logbook(), args.person), hours, progress)
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
        print_json(plan_record(made))
    elif args.out is None:
        print(plan_text(made, style))
    else:
        print(f"The plan is in {args.out.name}.")
