"""The job's own dimensions: lengths and angles by name, used in any slot, as are the values of other figures.

What is typed stays typed (``race/2 + 10``, ``Tower plan.circumradius``); what it comes to is worked out anew whenever
anything that it hangs on changes. Names stand for numbers in the unit in which the words were typed.

``job/dimensions.py`` works out names (``Names``): a dimension by its words, a value of another figure by
``Title.value``, each once and never in a circle. An ``Entry`` keeps the words of a slot that uses names as a ``Link``,
and in ``givens`` what they came to; ``settled`` brings all givens up to date and is called for every edit and every
file that is opened. A figure that this makes impossible keeps its givens, and its words go back to ``typed``, as if
they had been typed and refused.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import replace
from functools import cached_property
from typing import NamedTuple

from wise_compass.drafting.figure import OWN_WAY, make, method_for
from wise_compass.drafting.givens import Given, Measure
from wise_compass.drafting.parse import ARCS, MILLIMETRES, TURNS, parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style, trim
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.model import Dimension, Entry, Job, Link

NAME = re.compile(r"[^\W\d_][\w ]{0,39}")
TAKEN = {*MILLIMETRES, *TURNS, *ARCS, "sqrt", "pi", "deg", "degrees", "rad"}
"""Words that a number may bear already."""
ANGULAR = re.compile(r"°|\bdeg(rees)?\b|\brad\b")


class ToldDimension(NamedTuple):
    """What a name stands for: mm, degrees or a plain number, and which of them."""

    value: float
    kind: str


class Names:
    """What the names of a job come to, each worked out once; a name that hangs on itself is refused, and the circle
    told."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self._told: dict[str, ToldDimension] = {}
        self._failed: dict[str, Refused] = {}
        self._entries: dict[str, Entry] = {}

    @cached_property
    def _finder(self) -> re.Pattern[str]:
        names = sorted({*self._dimensions, *self._titles}, key=len, reverse=True)
        parts = [
            re.escape(name) + (r"\.\w+" if name in self._titles and name not in self._dimensions else r"(?:\.\w+)?")
            for name in names
        ]
        return re.compile(rf"(?<![\w.])(?:{'|'.join(parts)})(?!\w)") if parts else re.compile(r"(?!)")

    @cached_property
    def _dimensions(self) -> dict[str, Dimension]:
        return {one.name: one for one in self.job.dimensions}

    @cached_property
    def _titles(self) -> dict[str, Entry]:
        return {entry.title: entry for entry in reversed(self.job.entries())}

    def refers(self, words: str) -> bool:
        """Whether words use a name of the job."""
        return self._finder.search(words) is not None

    def read(self, words: str, kind: str, units: str) -> float:
        """What words come to, in mm, degrees or as a number; raises :class:`Refused`.

        A length beside a number without a unit counts in ``units``, as that number does; beside one with a unit it has
        its own.
        """
        size = Style(units).size
        try:
            return parse_quantity(self._filled(words, size, ""), kind, size)
        except Refused as refusal:
            try:
                return parse_quantity(self._filled(words, 1.0, " mm"), kind, size)
            except Refused:
                says = refusal.template.replace(self._filled(words, size, ""), words)
                # where it is that it cannot be read is told by signs which nobody typed
                raise Refused("", re.sub(r" at “[^”]*”", "", says)) from None

    def _filled(self, words: str, size: float, unit: str) -> str:
        def number(found: re.Match[str]) -> str:
            told = self.told(found[0])
            return f"({told.value / size!r}{unit})" if told.kind == "length" else f"({told.value!r})"

        return self._finder.sub(number, words)

    def told(self, name: str) -> ToldDimension:
        """What a name comes to; raises :class:`Refused` for one that hangs on itself or has no value."""
        if name not in self._told and name not in self._failed:
            for one in self._in_order(name):
                if one not in self._told and one not in self._failed:
                    try:
                        self._told[one] = self._work_out(one)
                    except Refused as refusal:
                        self._failed[one] = refusal
        if name in self._failed:
            raise self._failed[name]
        return self._told[name]

    def _in_order(self, name: str) -> list[str]:
        """What a name hangs on, each before what uses it (a topological order, by depth-first search); names that
        hang on themselves have failed."""
        order: list[str] = []
        done: set[str] = set()
        way = {name: self._uses(name)}
        while way:
            last = next(reversed(way))
            other = next(way[last], None)
            if other is None:
                del way[last]
                done.add(last)
                order.append(last)
            elif other in way:
                circle = " → ".join([*list(way)[list(way).index(other) :], other])
                self._failed[other] = Refused(
                    "", f"{other} hangs on itself, in a circle: {circle}. Write a number for one of them."
                )
            elif other not in done:
                way[other] = self._uses(other)
        return order

    def _uses(self, name: str) -> Iterator[str]:
        """The names that a name is told by."""
        if name in self._dimensions:
            words = [self._dimensions[name].typed]
        else:
            entry = self._titles.get(name.rpartition(".")[0])
            words = [link.typed for link in entry.links.values()] if entry is not None else []
        return (found[0] for one in words for found in self._finder.finditer(one))

    def _work_out(self, name: str) -> ToldDimension:
        if name in self._dimensions:
            one = self._dimensions[name]
            return ToldDimension(self.read(one.typed, one.kind, one.units), one.kind)
        title, _, value_name = name.rpartition(".")
        entry = self._titles.get(title)
        if entry is None:
            raise Refused(
                "",
                f"There is no dimension and no figure “{title or name}” any more. "
                "Write a number, or give it that name.",
            )
        try:
            figure = make(figure_named(entry.figure), self.entry(entry).givens)
        except Refused as refusal:
            raise Refused("", f"{title}: {refusal.template}") from None
        method = method_for(figure, None if entry.method == OWN_WAY else entry.method or None).id
        values = {value.name: value for value in figure.values(method)}
        if value_name not in values:
            known = ", ".join(list(values)[:8])
            raise Refused("", f"“{title}” has no value {value_name}; it has {known}.")
        value = values[value_name]
        if not isinstance(value.value, float):
            raise Refused("", f"{name} is a row of values, or none here; take a single one.")
        return ToldDimension(value.value, {"mm": "length", "°": "angle"}.get(value.unit, "number"))

    def entry(self, entry: Entry) -> Entry:
        """An entry with its linked givens as they come to; raises :class:`Refused` for one that cannot be worked out,
        or goes in a circle."""
        if not entry.links:
            return entry
        if entry.id not in self._entries:
            kind = figure_named(entry.figure)
            found = {
                name: self.linked(kind.givens[name], link) for name, link in entry.links.items() if name in kind.givens
            }
            self._entries[entry.id] = replace(entry, givens={**entry.givens, **found})
        return self._entries[entry.id]

    def linked(self, given: Given[object], link: Link) -> object:
        """What a linked given comes to, as the job stores it; raises :class:`Refused` by its name."""
        try:
            return given.stored(given.read(self.read(link.typed, given.kind, link.units)))
        except Refused as refusal:
            raise Refused(given.name, refusal.template) from None


def link_of(names: Names, given: Given[object], words: str, style: Style) -> Link | None:
    """What was typed as a link, where it uses a name of the job; None where it is a value of its own."""
    return Link(words, style.units) if isinstance(given, Measure) and names.refers(words) else None


def read_typed(
    job: Job, entry: Entry, typed: Mapping[str, str], style: Style
) -> tuple[dict[str, object], dict[str, Link]]:
    """What was typed into givens of an entry, as the job stores it, and which of its givens are links then; raises
    :class:`Refused`."""
    kind, links, found = figure_named(entry.figure), dict(entry.links), {}
    names = Names(job)
    for one, words in typed.items():
        given = kind.givens[one]
        link = link_of(names, given, words, style)
        if link is None:
            links.pop(one, None)
            found[one] = given.stored(given.read(words, style))
        else:
            links[one] = link
    if links:
        linked = replace(entry, links=links)
        resolved = Names(job.with_entry(entry.id, lambda _: linked)).entry(linked)
        found |= {one: resolved.givens[one] for one in links}
    return found, links


def settled(job: Job) -> Job:
    """The job with every linked given as it comes to now. A figure that this makes impossible keeps its last good
    givens, and the words stay typed; the same job where nothing changes."""
    if not any(entry.links for entry in job.entries()):
        return job
    names = Names(job)
    for entry in job.entries():
        if entry.links:
            fresh = _settled_entry(names, entry)
            if fresh != entry:
                job = job.with_entry(entry.id, lambda _, fresh=fresh: fresh)  # type: ignore[misc]
    return job


def _settled_entry(names: Names, entry: Entry) -> Entry:
    words = {name: link.typed for name, link in entry.links.items()}
    try:
        found = names.entry(entry)
        if found.givens != entry.givens or any(entry.typed.get(name) == typed for name, typed in words.items()):
            make(figure_named(entry.figure), found.givens)
        return replace(found, typed={name: typed for name, typed in entry.typed.items() if words.get(name) != typed})
    except Refused as refusal:
        wrong = refusal.given if refusal.given in words else next(iter(words))
        return replace(entry, typed={**entry.typed, wrong: words[wrong]})


def with_dimension(job: Job, old: str, name: str, typed: str, units: str) -> Job:
    """The job with a dimension set: a new one where ``old`` is none, else that one, whose new name is followed
    everywhere.

    Raises :class:`Refused` for a name that cannot be one, words that cannot be read, or a circle.
    """
    name, typed = " ".join(name.split()), typed.strip()
    if not NAME.fullmatch(name):
        raise Refused(
            "name",
            f"“{name}” is no name for a dimension: begin with a letter, then letters, digits and spaces, 40 at most.",
        )
    if name.lower() in TAKEN:
        raise Refused("name", f"“{name}” is a unit or a function already; take another name.")
    if name != old and any(one.name == name for one in job.dimensions):
        raise Refused("name", f"There is a dimension “{name}” already; change that one, or take another name.")
    one = Dimension(name, typed, _kind_of(Names(job), typed), units)
    if any(have.name == old for have in job.dimensions):
        dimensions = tuple(one if have.name == old else have for have in job.dimensions)
        job = renamed(job._replace(dimensions=dimensions), old, name)
    else:
        job = job._replace(dimensions=(*job.dimensions, one))
    Names(job).told(name)
    return settled(job)


def _kind_of(names: Names, typed: str) -> str:
    """Whether words tell an angle: by their signs, or by the angle that they are alone."""
    if ANGULAR.search(typed):
        return "angle"
    found = names._finder.fullmatch(typed)
    if found is not None and found[0] in names._dimensions:
        return names._dimensions[found[0]].kind
    return "length"


def without_dimension(job: Job, name: str) -> Job:
    """The job without a dimension; raises :class:`Refused` while something uses it."""
    used = list(users(job, name))
    if used:
        raise Refused("name", f"{name} is used by {', '.join(used[:4])}. Write a number there first.")
    return job._replace(dimensions=tuple(one for one in job.dimensions if one.name != name))


def users(job: Job, name: str) -> Iterator[str]:
    """Who uses a dimension, by their names."""
    finder = re.compile(rf"(?<![\w.]){re.escape(name)}(?!\w)")
    for one in job.dimensions:
        if one.name != name and finder.search(one.typed):
            yield one.name
    for entry in job.entries():
        for given, link in entry.links.items():
            if finder.search(link.typed):
                yield f"{entry.title}, {given}"


def figures_used(job: Job, entry: Entry) -> set[str]:
    """The ids of the entries whose values an entry uses, through dimensions of the job too."""
    names, used, seen = Names(job), set(), set()
    todo = [link.typed for link in entry.links.values()]
    while todo:
        for found in names._finder.finditer(todo.pop()):
            name = found[0]
            if name in seen:
                continue
            seen.add(name)
            if name in names._dimensions:
                todo.append(names._dimensions[name].typed)
            elif (other := names._titles.get(name.rpartition(".")[0])) is not None:
                used.add(other.id)
    return used


def renamed(job: Job, old: str, new: str) -> Job:
    """The job with a name, of a dimension or of a figure whose values are used, changed wherever it stands in what was
    typed."""
    if old == new:
        return job
    finder = re.compile(rf"(?<![\w.]){re.escape(old)}(?!\w)")

    def changed(words: str) -> str:
        return finder.sub(lambda _: new, words)

    dimensions = tuple(one._replace(typed=changed(one.typed)) for one in job.dimensions)
    sheets = []
    for sheet in job.sheets:
        entries = []
        for entry in sheet.entries:
            links = {name: link._replace(typed=changed(link.typed)) for name, link in entry.links.items()}
            typed = {name: changed(words) if name in links else words for name, words in entry.typed.items()}
            entries.append(replace(entry, links=links, typed=typed) if links else entry)
        sheets.append(sheet._replace(entries=tuple(entries)))
    return job._replace(dimensions=dimensions, sheets=tuple(sheets))


def comes_to(names: Names, name: str, style: Style) -> str:
    """What a name comes to, in words."""
    told = names.told(name)
    if told.kind == "length":
        return style.length(told.value)
    return f"{trim(told.value, 6)}{'°' if told.kind == 'angle' else ''}"
