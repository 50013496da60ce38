"""The document as values: a job of sheets, a sheet of entries. Nothing here changes; an edit makes a new job."""

from __future__ import annotations

import os
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Annotated, Any, NamedTuple

from wise_compass.drafting.wishes import Wish, declared
from wise_compass.drafting.wording import scale_name
from wise_compass.job.settings import DIMENSIONS, HIDDEN_EDGES, PAPERS, SIDES, Settings
from wise_compass.outputs.files import JOB_FORMAT
from wise_compass.sheet.paper import LIES, RATIO, SCALES

VERSION = 2
"""Of the file; 2 has dimensions of the job, links to them, problems as they were set in words, and ways of one's own.
It is written only where there are some."""
PLAIN_VERSION = 1
ON = r"[^.]{1,40}\.[^.]{1,20}(\.\w{1,10})?"
"""How a point of another figure is written that one stands on: its id and the point's key."""
FORMAT = JOB_FORMAT
OWN_TITLE = "a way of my own"


def new_id() -> str:
    """A short name for an entry, unlike any other."""
    return os.urandom(4).hex()


class Link(NamedTuple):
    """Words that use a name of the job, as they were typed into a slot, and the units that lengths without one were
    meant in."""

    typed: str
    units: str = "mm"


class Dimension(NamedTuple):
    """A length or an angle of the job by its name: the words it was given by, its kind, and the units that they were
    meant in."""

    name: str
    typed: str
    kind: str = "length"
    units: str = "mm"


@dataclass(frozen=True, repr=False)
class Entry:
    """A figure of a sheet. ``givens`` are the last good ones; ``typed`` what was typed since and refused; ``links`` the
    givens that use names of the job. ``stated`` is the problem as it was set in words, ``own`` a way of one's own to
    draw it, as its lines are written (:mod:`wise_compass.own.language`), which is taken where ``method`` says so.

    What is wished for of it on its sheet is declared beside each field; ``table`` are the wishes for its curve table
    (:class:`~wise_compass.study.tablewish.TableWish`) and ``shop`` those for its pattern's laps and plate
    (:class:`~wise_compass.shop.wish.ShopWish`), empty until there are any.
    """

    figure: str
    title: str
    method: str = ""
    givens: Mapping[str, Any] = field(default_factory=dict)
    typed: Mapping[str, str] = field(default_factory=dict)
    shift: tuple[float, float] | None = None
    notes: str = ""
    stated: str = ""
    own: str = ""
    gaps: Annotated[bool, Wish("a gap plot of its curves")] = False
    space: Annotated[bool, Wish("its space view in a free corner")] = False
    sides: Annotated[tuple[str, ...], Wish("where each auxiliary view is drawn", SIDES)] = ()
    hatched: Annotated[bool, Wish("its faces lightly hatched where they are seen", typed="hatch")] = False
    hidden: Annotated[str, HIDDEN_EDGES] = ""
    dimensions: Annotated[str, DIMENSIONS] = ""
    grid: Annotated[
        float, Wish("a faint isometric grid of so many mm under a picture", least=1, most=1000, unit="mm")
    ] = 0.0
    problem: Annotated[bool, Wish("its problem, as it was set in words, above it")] = False
    on: Annotated[
        str,
        Wish(
            "the figure of its sheet, by its id, and the point of it that this one stands on",
            {"": "in its own place"},
            form=ON,
            such="tower.O",
        ),
    ] = ""
    turned: Annotated[float, Wish("how many degrees it is turned on its sheet", least=-360, most=360, unit="°")] = 0.0
    table: Mapping[str, Any] = field(default_factory=dict)
    shop: Mapping[str, Any] = field(default_factory=dict)
    links: Mapping[str, Link] = field(default_factory=dict)
    id: str = field(default_factory=new_id)


class SheetPlan(NamedTuple):
    """A sheet: its title, paper and scale as wished (each may be ``auto``), and its entries."""

    title: str
    entries: tuple[Entry, ...] = ()
    paper: Annotated[str, Wish("its paper", PAPERS)] = "A4"
    lie: Annotated[str, Wish("which way up it lies", {"auto": "either", **{lie: lie for lie in LIES}})] = "auto"
    scale: Annotated[
        str,
        Wish(
            "a standard scale such as 1:50, or that of a drawn scale, 1:40",
            {"auto": "best", **{s: s for s in map(scale_name, SCALES)}},
            form=RATIO,
            such="1:40",
        ),
    ] = "auto"


class Job(NamedTuple):
    """The whole document."""

    title: str = "New job"
    sheets: tuple[SheetPlan, ...] = ()
    settings: Settings = Settings()
    dimensions: tuple[Dimension, ...] = ()

    def entries(self) -> list[Entry]:
        """Every entry in order."""
        return [entry for sheet in self.sheets for entry in sheet.entries]

    @property
    def outline(self) -> object:
        """What a list of the job shows of it."""
        sheets = [
            (s.title, [(e.id, e.title, e.figure, e.givens, bool(e.typed)) for e in s.entries]) for s in self.sheets
        ]
        return self.title, self.settings, sheets

    def find(self, id: str) -> tuple[int, int] | None:
        """Sheet and place of an entry."""
        for s, sheet in enumerate(self.sheets):
            for e, entry in enumerate(sheet.entries):
                if entry.id == id:
                    return s, e
        return None

    def entry(self, id: str) -> Entry | None:
        at = self.find(id)
        return self.sheets[at[0]].entries[at[1]] if at else None

    # edits; each gives a new job

    def with_sheet(self, index: int, **changes: Any) -> Job:
        """A sheet's fields changed."""
        sheets = list(self.sheets)
        sheets[index] = sheets[index]._replace(**changes)
        return self._replace(sheets=tuple(sheets))

    def with_entry(self, id: str, change: Callable[[Entry], Entry]) -> Job:
        """One entry replaced by what ``change`` makes of it; the same job where there is no such entry."""
        at = self.find(id)
        if at is None:
            return self
        entries = list(self.sheets[at[0]].entries)
        entries[at[1]] = change(entries[at[1]])
        return self.with_sheet(at[0], entries=tuple(entries))

    def added(self, entry: Entry, after: str | None = None, own_sheet: bool = True) -> Job:
        """``entry`` on a sheet of its own behind the sheet of ``after``, or beside it on the same sheet."""
        at = self.find(after) if after else None
        if at is None or own_sheet:
            sheets = list(self.sheets)
            sheet = SheetPlan(entry.title, (entry,), paper=self.settings.paper)
            sheets.insert(len(sheets) if at is None else at[0] + 1, sheet)
            return self._replace(sheets=tuple(sheets))
        entries = list(self.sheets[at[0]].entries)
        entries.insert(at[1] + 1, entry)
        return self.with_sheet(at[0], entries=tuple(entries))

    def removed(self, id: str) -> Job:
        """Without an entry, and without its sheet if that is left empty."""
        at = self.find(id)
        if at is None:
            return self
        kept = tuple(entry for entry in self.sheets[at[0]].entries if entry.id != id)
        if kept:
            return self.with_sheet(at[0], entries=kept)
        return self._replace(sheets=tuple(s for i, s in enumerate(self.sheets) if i != at[0]))

    def moved(self, id: str, by: int) -> Job:
        """An entry one place up or down: past its neighbour on the sheet, or its whole sheet past the next one."""
        at = self.find(id)
        if at is None:
            return self
        s, e = at
        entries = list(self.sheets[s].entries)
        if 0 <= e + by < len(entries):
            entries.insert(e + by, entries.pop(e))
            return self.with_sheet(s, entries=tuple(entries))
        if not 0 <= s + by < len(self.sheets):
            return self
        sheets = list(self.sheets)
        sheets.insert(s + by, sheets.pop(s))
        return self._replace(sheets=tuple(sheets))

    def put_on(self, id: str, sheet: int, place: int) -> Job:
        """An entry moved onto a sheet, before the entry at ``place`` there; a sheet that is left empty goes."""
        at = self.find(id)
        if at is None or not 0 <= sheet < len(self.sheets):
            return self
        s, e = at
        if s == sheet and place > e:
            place -= 1
        entry = self.sheets[s].entries[e]
        sheets = [list(one.entries) for one in self.sheets]
        sheets[s].pop(e)
        sheets[sheet].insert(min(max(place, 0), len(sheets[sheet])), entry)
        kept = [plan._replace(entries=tuple(mine)) for plan, mine in zip(self.sheets, sheets) if mine]
        return self._replace(sheets=tuple(kept))

    def sheet_put(self, sheet: int, before: int) -> Job:
        """A sheet moved to stand before another, at the end where ``before`` is how many there are."""
        if not 0 <= sheet < len(self.sheets):
            return self
        sheets = list(self.sheets)
        moved = sheets.pop(sheet)
        sheets.insert(min(max(before - (before > sheet), 0), len(sheets)), moved)
        return self._replace(sheets=tuple(sheets))

    def rehoused(self, id: str) -> Job:
        """An entry moved from its own sheet onto the sheet before, or from a shared sheet onto one of its own."""
        at = self.find(id)
        if at is None:
            return self
        s, e = at
        entry = self.sheets[s].entries[e]
        if len(self.sheets[s].entries) > 1:
            anchor = next(one.id for one in self.sheets[s].entries if one.id != id)
            return self.removed(id).added(entry, anchor)
        if s == 0:
            return self
        neighbour = self.sheets[s - 1].entries[-1].id
        return self.removed(id).added(entry, neighbour, own_sheet=False)


def to_data(job: Job) -> dict[str, Any]:
    """The job as its file holds it."""
    sheets = [
        {**sheet._asdict(), "entries": [_entry_data(vars(entry)) for entry in sheet.entries]} for sheet in job.sheets
    ]
    data = {
        "format": FORMAT,
        "version": PLAIN_VERSION,
        "title": job.title,
        "sheets": sheets,
        "settings": job.settings._asdict(),
    }
    if job.dimensions or any(entry.links or entry.stated or entry.own for entry in job.entries()):
        data |= {"version": VERSION, "dimensions": [one._asdict() for one in job.dimensions]}
    return data


def _entry_data(entry: Mapping[str, Any]) -> dict[str, Any]:
    kept = {name: value for name, value in entry.items() if name in ("figure", "title", "id") or value}
    for name in ("shift", "sides"):
        if name in kept:
            kept[name] = list(kept[name])
    return kept


def from_data(data: Mapping[str, Any]) -> Job:
    """The job of a file's data, which the schema has passed."""
    sheets = []
    for sheet in data.get("sheets", ()):
        entries = []
        for raw in sheet.get("entries", ()):
            shift = raw.get("shift")
            wishes = {name: asked.kind(raw[name]) for name, asked in declared(Entry).items() if name in raw}
            entries.append(
                Entry(
                    raw["figure"],
                    raw["title"],
                    raw.get("method", ""),
                    dict(raw.get("givens", {})),
                    dict(raw.get("typed", {})),
                    (shift[0], shift[1]) if shift else None,
                    raw.get("notes", ""),
                    raw.get("stated", ""),
                    raw.get("own", ""),
                    **wishes,
                    table=dict(raw.get("table", {})),
                    shop=dict(raw.get("shop", {})),
                    links={name: Link(*pair) for name, pair in raw.get("links", {}).items()},
                    id=raw.get("id") or new_id(),
                )
            )
        sheets.append(
            SheetPlan(
                sheet["title"], tuple(entries), **{name: sheet[name] for name in declared(SheetPlan) if name in sheet}
            )
        )
    settings = Settings(**data.get("settings", {}))
    dimensions = tuple(Dimension(**one) for one in data.get("dimensions", ()))
    return _distinct(Job(data["title"], tuple(sheets), settings, dimensions))


def _distinct(job: Job) -> Job:
    """Entries that share an id, as in a file put together by hand, get new ones."""
    seen: set[str] = set()
    sheets = []
    for sheet in job.sheets:
        entries = []
        for entry in sheet.entries:
            fresh = replace(entry, id=new_id()) if entry.id in seen else entry
            seen.add(fresh.id)
            entries.append(fresh)
        sheets.append(sheet._replace(entries=tuple(entries)))
    return job._replace(sheets=tuple(sheets))
