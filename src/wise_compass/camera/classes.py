"""A folder of photographs marked: each finds its own problem by its code, and is named by its file."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from wise_compass.camera.judging import judged
from wise_compass.camera.reading import Reading, read
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN
from wise_compass.practice.classes import Graded, Unmarked
from wise_compass.practice.classtable import Handed
from wise_compass.practice.marking import marked_of, noted
from wise_compass.practice.problems import problem_of

ENDINGS = (".jpg", ".jpeg", ".png")


def mark_photographs(
    folder: Path, hear: Callable[[int, int], None] | None = None
) -> tuple[list[Graded], list[Unmarked]]:
    """Each photograph of a folder marked, and a row for each that could not be; raises :class:`Refused` where there is
    none at all."""
    files = sorted(file for file in folder.iterdir() if file.suffix.lower() in ENDINGS and file.is_file())
    if not files:
        raise Refused("photo", f"There is no photograph (jpg or png) in {folder}.")
    graded: list[Graded] = []
    refused: list[Unmarked] = []
    for k, file in enumerate(files):
        if hear is not None:
            hear(k, len(files))
        try:
            graded.append(graded_of(read(file), file.stem, k + 2))
        except Refused as refusal:
            refused.append(Unmarked(file.name, "", "not read", PLAIN.say(refusal.says)))
    if hear is not None:
        hear(len(files), len(files))
    if not graded:
        raise Refused("photo", f"None of {len(files)} photographs could be read. {refused[0].pupil}: {refused[0].why}")
    return graded, refused


def graded_of(reading: Reading, pupil: str, row: int = 0, minutes: float | None = None) -> Graded:
    """What a photograph of a worksheet comes to; raises :class:`Refused`."""
    marked = marked_of(judged(reading))
    handed = Handed(row, pupil, problem_of(reading.laid.code), {}, minutes, "photograph")
    return Graded(
        handed, marked, noted(reading.laid.run, reading.laid.scale, marked, "mark", pupil, minutes, "photograph")
    )
