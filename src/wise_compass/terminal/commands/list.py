"""The catalogue: families, figures, givens, methods and value names."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from typing import Any

from wise_compass.drafting.givens import typed
from wise_compass.terminal.shared.saying import json_option, print_json

SAYS = "List families, figures, givens, methods and values."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    json_option(one)


def handle(args: argparse.Namespace) -> None:

    if args.json:
        print_json(listing())
    else:
        print(listing_text())


def listing() -> dict[str, Any]:
    """Families, figures, givens, methods and value names."""
    from wise_compass.drafting.figure import FAMILIES
    from wise_compass.figures.catalogue import catalogue

    families: dict[str, list[dict[str, Any]]] = {}
    for figure in catalogue().values():
        families.setdefault(figure.family, []).append(
            {
                "figure": figure.id,
                "title": figure.title,
                "says": figure.summary,
                "brief": figure.sentence({}),
                "givens": [given.describe() for given in figure.givens.values()],
                "methods": [
                    {"method": m.id, "title": m.title, "exact": not m.approximate, "says": m.about, "source": m.source}
                    for m in figure.methods.values()
                ],
                "values": list(figure.value_names),
            }
        )
    return {
        "families": [
            {"family": family, "title": FAMILIES[family], "figures": figures} for family, figures in families.items()
        ]
    }


def listing_text() -> str:
    return "\n".join(_listing_lines())


def _listing_lines() -> Iterator[str]:
    for family in listing()["families"]:
        yield family["title"]
        for figure in family["figures"]:
            yield f"  {figure['figure']}: {figure['says']}"
            for given in figure["givens"]:
                shown = f"{typed(given['default'])} {given['unit']}".strip()
                yield f"      {given['name']} = {shown}  ({given['says']})"
            yield "      by " + ", ".join(
                m["method"] + ("" if m["exact"] else " (approximate)") for m in figure["methods"]
            )
