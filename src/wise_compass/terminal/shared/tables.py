"""How a curve table is asked for, by the commands that make one."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_compass.drafting.refusals import Refused
from wise_compass.terminal.shared.wishes import wish_options

if TYPE_CHECKING:
    import argparse

    from wise_compass.study.tablewish import TableWish


def table_options(one: argparse.ArgumentParser) -> None:
    """By what, in which steps, how exactly, and of which curve."""
    from wise_compass.study.tablewish import TableWish

    wish_options(one, TableWish, "by", "step", "decimals")
    one.add_argument("--curve", type=int, default=1, help="which of the figure's curves, from 1")


def table_wish(args: argparse.Namespace) -> TableWish:
    from wise_compass.study.tablewish import TableWish

    if not 0 <= args.step < 1e6:
        raise Refused("step", f"step is {args.step:g}; it must be a positive number of mm or degrees. Change step.")
    return TableWish(args.by, args.step, args.decimals, args.curve - 1, on_sheet=True)
