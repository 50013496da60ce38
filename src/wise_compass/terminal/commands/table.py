"""Ordinates of a curve, or the true lengths of a solid."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import TYPE_CHECKING

from wise_compass.drafting.wording import are
from wise_compass.outputs.files import write_output
from wise_compass.outputs.rows import table_csv
from wise_compass.terminal.shared.figures import figure_options, run_of, style_of
from wise_compass.terminal.shared.saying import json_option
from wise_compass.terminal.shared.tables import table_options, table_wish

if TYPE_CHECKING:
    from wise_compass.study.tables import Table

SAYS = "Ordinates of a curve at equal steps along an axis or an angle; the true lengths of a solid."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    figure_options(one, scaled=False)
    json_option(one)
    table_options(one)
    one.add_argument("--out", type=Path, metavar="FILE.csv", help="write CSV instead of printing")


def handle(args: argparse.Namespace) -> None:
    from wise_compass.outputs.write import ending_of
    from wise_compass.study.tables import table_of

    if args.out is not None:
        ending_of(args.out, ("csv",))
    wish = table_wish(args)
    made = run_of(args)
    table = table_of(made.figure, made.method.id, wish, style_of(args))
    if args.out is not None:
        write_output(args.out, table_csv(table))
        print(f"{table.title}: {are(len(table.rows), 'row')} in {args.out.name}.")
    elif args.json:
        print(
            json.dumps(
                {"title": table.title, "columns": table.columns, "units": table.units, "rows": table.rows}, indent=1
            )
        )
    else:
        print(table_text(table))


def table_text(table: Table) -> str:
    """A curve table for a person."""
    heads = [f"{name} {unit}".strip() for name, unit in zip(table.columns, table.units)]
    rows = [heads, *table.texts()]
    wide = [max(len(row[k]) for row in rows) for k in range(len(heads))]
    return "\n".join([table.title, *("  ".join(f"{text:>{w}}" for text, w in zip(row, wide)) for row in rows)])
