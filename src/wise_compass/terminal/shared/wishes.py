"""Options of the command line that are declared as wishes: their names, words and defaults are read from there."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_compass.drafting.wishes import Asked, declared

if TYPE_CHECKING:
    import argparse


def wish_options(one: argparse.ArgumentParser, holder: type, *names: str, sized: bool = False) -> None:
    """An option for each of the named wishes, or for all of them; ``sized`` numbers are lengths with a unit, none where
    they are left away."""
    for name, asked in declared(holder).items():
        if not names or name in names:
            wish_option(one, asked, sized)


def wish_option(one: argparse.ArgumentParser, asked: Asked, sized: bool = False) -> None:
    """The option for one wish."""
    told: dict[str, Any] = {"dest": asked.name, "default": asked.default, "help": asked.wish.says}
    if asked.kind is bool:
        told["action"] = "store_true"
    elif asked.wish.options:
        told["choices"] = tuple(word for word in asked.wish.options if word)
    elif sized:
        told["metavar"] = "SIZE"
    else:
        told |= {"type": asked.kind, "metavar": "WORDS" if asked.is_text else asked.wish.unit.upper() or "N"}
    if sized:
        told["default"] = None
    one.add_argument(asked.option, **told)
