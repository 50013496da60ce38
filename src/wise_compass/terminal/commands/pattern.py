"""A pattern for the shop, at true size."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.sheet.paper import TILES
from wise_compass.shop.wish import ShopWish
from wise_compass.terminal.shared.figures import figure_of, figure_options, settings_of, style_of
from wise_compass.terminal.shared.saying import json_option, print_json
from wise_compass.terminal.shared.wishes import wish_options

if TYPE_CHECKING:
    from wise_compass.shop.shop import Shop

SAYS = "A pattern for the shop: laps, plate, folds, blanks and counts; to be cut at true size."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    figure_options(one, scaled=False)
    json_option(one)
    wish_options(one, ShopWish, sized=True)
    one.add_argument(
        "--out", type=Path, metavar="FILE", help="svg at true size in layers, pdf, csv of points in order, or json"
    )
    one.add_argument("--tiles", choices=TILES, default="", help="part a PDF into tiles of this paper")


def handle(args: argparse.Namespace) -> None:
    from wise_compass.job.build import about_sheet, run_entry, shop_of
    from wise_compass.job.model import Entry, Job, SheetPlan
    from wise_compass.outputs.cutting import ENDINGS, shop_record, write_pattern
    from wise_compass.outputs.write import ending_of
    from wise_compass.shop.shop import NO_PATTERN

    if args.out is not None:
        ending_of(args.out, ENDINGS)
    figure, style = figure_of(args), style_of(args)
    wish = {"thickness": 0.0, **shop_wish(args)}
    entry = Entry(figure.id, figure.title, args.method or "", figure.stored(), shop=wish, id="drawn")
    settings = settings_of(args)
    shop = shop_of(entry, run_entry(entry, settings, None, figure))
    if shop is None:
        raise Refused("figure", NO_PATTERN.format(title=figure.title))
    if args.out is not None:
        about = about_sheet(Job("Wise Compass"), SheetPlan(figure.title, (entry,)))
        write_pattern(args.out, shop, figure.title, style, about, args.tiles)
        print(f"{figure.title}: its pattern is in {args.out.name}.")
    elif args.json:
        print_json(shop_record(shop))
    else:
        print(shop_text(shop, style))


def shop_wish(args: argparse.Namespace) -> dict[str, Any]:
    """What is told of a pattern's laps and plate, as an entry stores it."""
    from wise_compass.drafting.givens import Length

    told: dict[str, Any] = {}
    for name in ShopWish._fields:
        value = getattr(args, name)
        if value is None:
            continue
        told[name] = value
        if not isinstance(ShopWish._field_defaults[name], str):
            size = Length(0, name, least=0)
            size.name = name
            told[name] = size.read(value, style_of(args))
    return told


def shop_text(shop: Shop, style: Style = PLAIN) -> str:
    """What a shop is told of a pattern, for a person."""
    from wise_compass.shop.words import told_of

    figure = shop.run.figure
    lines = [f"{figure.title}, by {shop.run.method.title}", *(style.say(words) for words in shop.says())]
    for one in told_of(shop, style):
        lines += ["", one.heading] if one.heading else []
        lines.append(f"  {one.title:12} {one.shown:>24}   {one.working}")
    lines += ["", *(f"Caution: {style.say(words)}" for words in (*figure.cautions(), *shop.run.hazards))]
    return "\n".join(lines)
