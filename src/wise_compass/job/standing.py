"""Which entries of a sheet stand on which: what may, and what cannot any more."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from wise_compass.drafting.run import Run
from wise_compass.job.model import Entry, Job, SheetPlan


def target(entry: Entry) -> tuple[str, str]:
    """The id of the entry that one stands on, and the key of the point."""
    id, _, point = entry.on.partition(".")
    return id, point


def may_stand_on(job: Job, id: str, other: str) -> bool:
    """Whether an entry may stand on another without both standing on each other in a circle."""
    seen = {id}
    while other not in seen:
        seen.add(other)
        entry = job.entry(other)
        if entry is None:
            return False
        if not entry.on:
            return True
        other = target(entry)[0]
    return False


def on_their_sheets(job: Job) -> Job:
    """The same job, where each entry whose figure to stand on is on another sheet now, or nowhere, is back in its own
    place."""
    return job._replace(sheets=tuple(_on_its_sheet(sheet) for sheet in job.sheets))


def _on_its_sheet(sheet: SheetPlan) -> SheetPlan:
    ids = {entry.id for entry in sheet.entries}
    if all(not entry.on or target(entry)[0] in ids for entry in sheet.entries):
        return sheet
    entries = tuple(
        replace(entry, on="", turned=0.0) if entry.on and target(entry)[0] not in ids else entry
        for entry in sheet.entries
    )
    return sheet._replace(entries=entries)


def places_of(sheet: SheetPlan, made: Mapping[str, Run]) -> tuple[list[tuple[int, str] | None], list[str]]:
    """For each entry the place among its sheet's that it stands on, and the point; and what cannot be stood on now, in
    a sentence each: those entries stand in their own places."""
    numbers = {entry.id: k for k, entry in enumerate(sheet.entries)}
    found: list[tuple[int, str] | None] = []
    lost: list[str] = []
    for entry in sheet.entries:
        id, point = target(entry)
        if entry.on and id in numbers and point in made[id].spots:
            found.append((numbers[id], point))
            continue
        found.append(None)
        if entry.on:
            there = (
                f"{sheet.entries[numbers[id]].title} has no point {point} now"
                if id in numbers
                else "its figure is gone"
            )
            lost.append(f"{entry.title} is in its own place: {there}.")
    return found, lost
