"""The handbook: found by words, read in the terminal, or written as PDF or as files."""

from __future__ import annotations

import argparse
from pathlib import Path

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import many
from wise_compass.terminal.shared.saying import json_option, print_json

SAYS = "The handbook: find a page by words, read it here, or write it as PDF, or as Markdown with pictures."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("words", nargs="*", metavar="WORD", help="a page by its name, or words to be found")
    one.add_argument("--out", type=Path, metavar="FILE.pdf", help="all of it as PDF, or the page that is named")
    one.add_argument("--pages", type=Path, metavar="FOLDER", help="write every page as Markdown, with its pictures")
    json_option(one)


def handle(args: argparse.Namespace) -> None:
    """Find, read or write."""
    from wise_compass.handbook.finding import find
    from wise_compass.handbook.opening import page
    from wise_compass.handbook.pages import CATALOGUE, FIGURES, contents, names

    asked = " ".join(args.words)
    name = asked if asked in (*names(), CATALOGUE) else FIGURES + asked if FIGURES + asked in names() else ""
    if args.pages:
        _write_pages(args.pages)
    elif args.out:
        if asked and not name:
            page(asked)  # says what is near
        _write_pdf(args.out, [name] if name else [*names()])
    elif name:
        one = page(name)
        print_json({"page": one.name, "title": one.title, "text": one.text}) if args.json else print(one.text)
    elif asked:
        hits = find(asked)
        if args.json:
            print_json({"words": asked, "pages": [hit._asdict() for hit in hits]})
        elif not hits:
            raise Refused("", f"No page has “{asked}”. Try fewer words, or wise-compass handbook for the contents.")
        else:
            print("\n".join(f"{hit.name}: {hit.title}\n    {hit.about}" for hit in hits))
    else:
        parts = {part: {one: page(one).title for one in inside} for part, inside in contents().items()}
        if args.json:
            print_json({"parts": parts})
        else:
            lines = [
                line for part, inside in parts.items() for line in (part, *(f"  {n}: {t}" for n, t in inside.items()))
            ]
            print("\n".join([*lines, "  figures/ELLIPSE and so on: a page a figure; wise-compass list names them"]))


def _write_pdf(out: Path, wanted: list[str]) -> None:
    from wise_compass.handbook.opening import page
    from wise_compass.handbook.pdf import pdf_of
    from wise_compass.outputs.files import write_output
    from wise_compass.outputs.write import ending_of

    ending_of(out, ("pdf",))
    pages = [page(one) for one in wanted]
    title = pages[0].title if len(pages) == 1 else "Wise Compass: the handbook"
    write_output(out, pdf_of(pages, title))
    print(f"{many(len(pages), 'page')} of the handbook in {out.name}.")


def _write_pages(folder: Path) -> None:
    from wise_compass.handbook.site import write_pages

    try:
        count = write_pages(folder)
    except OSError as error:
        raise Refused("pages", f"{folder} cannot be written: {(error.strerror or str(error)).lower()}.") from None
    print(f"{many(count, 'page')} of the handbook in {folder}.")
