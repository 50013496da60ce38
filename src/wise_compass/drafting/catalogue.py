"""The catalogue: every figure that is entered, told from the class lines; a figure's module comes in when it is asked for."""

from __future__ import annotations

import importlib
import re
from functools import cache
from pathlib import Path
from typing import NamedTuple

from wise_compass.drafting.figure import FAMILIES, Figure, Method
from wise_compass.drafting.refusals import Refused

CLASS_LINE = re.compile(rb'(\w+)\(.*\bid="([^"]+)", family="([^"]+)", title="([^"]+)"\)')
IMPORT = re.compile(rb"(wise_compass\.figures\.[\w.]+) import (?:\(([^)]*)\)|(.*))")


class Entered(NamedTuple):
    """A figure of the catalogue before its module is in: its class line, and the modules that give it methods."""

    id: str
    family: str
    title: str
    modules: tuple[str, ...]


@cache
def entered() -> dict[str, Entered]:
    """Every figure by id, in the order of the families and within them of the modules; imports none of them.

    A method may stand in a module of its own: that one has to import the figure's class from where it is defined.
    """
    house = importlib.import_module("wise_compass.figures")
    root = Path(house.__path__[0])
    classes: list[tuple[str, re.Match[bytes]]] = []
    users: dict[tuple[bytes, bytes], list[str]] = {}
    for path in sorted(root.glob("*/[!_]*.py")):
        module = f"{house.__name__}.{path.parent.name}.{path.stem}"
        head, *bodies = path.read_bytes().split(b"\nclass ")
        classes += [(module, line) for line in map(CLASS_LINE.match, bodies) if line]
        for origin, many, few in (found.groups() for found in map(IMPORT.match, head.split(b"\nfrom ")) if found):
            for name in (many or few).replace(b",", b" ").split():
                users.setdefault((origin, name), []).append(module)
    found = []
    for module, line in classes:
        name, *words = line.groups()
        id, family, title = (word.decode("utf-8") for word in words)
        found.append(Entered(id, family, title, (module, *users.get((module.encode(), name), ()))))
    order = list(FAMILIES)
    return {one.id: one for one in sorted(found, key=lambda one: order.index(one.family))}


@cache
def figure_named(id: str) -> type[Figure]:
    """The figure with this id, with all its methods; raises :class:`Refused` naming the nearest ids."""
    known = entered()
    if id not in known:
        from difflib import get_close_matches

        near = get_close_matches(id, known, 3, 0.4)
        hint = f"Did you mean {' or '.join(near)}?" if near else "See wise-compass list for all of them."
        raise Refused("figure", f"There is no figure “{id}”. {hint}")
    for module in known[id].modules:
        importlib.import_module(module)
    return Figure.catalogue[id]


@cache
def catalogue() -> dict[str, type[Figure]]:
    """Every figure by id, in the order of :func:`entered`; imports each of their modules."""
    return {id: figure_named(id) for id in entered()}


def method_named(figure: type[Figure], id: str | None) -> Method:
    """The method with this id, or the default one, the first of the figure's ``ways``; raises :class:`Refused`."""
    figure_named(figure.id)  # methods may stand in modules of their own
    if id is None:
        return next(iter(figure.methods.values()))
    if id not in figure.methods:
        raise Refused("method", f"{figure.title} has no method “{id}”; it has {', '.join(figure.methods)}.")
    return figure.methods[id]
