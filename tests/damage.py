"""Files of every kind that the program reads, damaged as disks, strangers and half-finished copies damage them."""

from __future__ import annotations

import json
import random
import re
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

from tests import ways
from tests.fuzz import HOSTILE, NUMBERS, WORDS, places
from tests.test_cli import call
from wise_compass.drafting.refusals import Refused
from wise_compass.job.imports import polyline_from_svg, rows_from_text
from wise_compass.job.person import change_person, person, settings_file
from wise_compass.job.store import parse_job
from wise_compass.outputs.files import read_text
from wise_compass.outputs.svg import read_about

TOKENS = (*NUMBERS, *WORDS, "", "=1+1", "\x00", "\ud7ff", "9" * 400, "-0", "<g>" * 300, '"', "\n\n", ";" * 50)
SOON = 2.0
"""Seconds within which any of them is read or refused."""
SELDOM = 100
"""A photograph is one of so many files: it takes as long as all the others."""


class Sound(NamedTuple):
    """A file as it should be, its name, the commands that read it, ``{}`` standing for its path, and what else does,
    which raises :class:`Refused` where it cannot."""

    name: str
    content: bytes
    commands: tuple[tuple[str, ...], ...] = ()
    also: Callable[[Path], object] | None = None


def _sheet(path: Path) -> object:
    return parse_job(json.dumps(read_about(read_text(path, "a drawing"))), path.name)


def _corners(path: Path) -> object:
    return polyline_from_svg(read_text(path, "a drawing"))


def _settings(path: Path) -> object:
    """As the person's settings: what can be read of them counts, and they are kept again."""
    settings_file().parent.mkdir(parents=True, exist_ok=True)
    settings_file().write_bytes(path.read_bytes())
    person()
    return change_person(lambda one: one._replace(text=1.1))


def sound_files(folder: Path) -> list[Sound]:
    """One of every kind, as the program itself writes it."""
    job, log, sheet, picture, svg = (
        folder / name for name in ("sound.json", "log.csv", "sheet.csv", "sound.jpg", "sound.svg")
    )
    ellipse = "Draw an ellipse, long axis 120 mm, short axis 80 mm."
    for words in (
        ("state", ellipse, "--into", str(job)),
        ("check", "rhombus", "--measured", "A-C=104.1", "--keep"),
        ("logbook", "--out", str(log)),
        ("practice", "rhombus", "--pupils", "3", "--seed", "4", "--sheet", str(sheet)),
        ("photograph", str(job), "--out", str(picture)),
        ("draw", "ellipse", "--out", str(svg)),
    ):
        status, _, err = call(*words)
        assert status == 0, (words, err)
    change_person(lambda one: one._replace(recent=(str(job),), screens={"Eizel": 3.8}))
    head, *rows = sheet.read_text("utf-8-sig").splitlines()
    sheet.write_text("\n".join([head, *(re.sub(r",(?=,|$)", ",50", row) for row in rows)]) + "\n", "utf-8")
    read = [one.read_bytes() for one in (job, log, sheet, picture, svg)]
    return [
        Sound("job.json", read[0], (("plan", "{}"), ("print", "{}", "--out", "{}.pdf"), ("thumbnail", "{}", "{}.png"))),
        Sound("log.csv", read[1], (("logbook", "--take", "{}"),)),
        Sound("class.csv", read[2], (("mark", "{}"), ("mark", "{}", "--out", "{}.marks.csv"))),
        Sound("pupils.txt", "Ada\nBo\nÇelik\n".encode(), (("practice", "arch", "--pupils", "{}", "--key", "{}.csv"),)),
        Sound("way.txt", ways.PENTAGON.encode(), (("own", "{}"), ("own", "{}", "--json"))),
        Sound("words.txt", f"{ellipse}\nA regular pentagon of side 40 mm.\n".encode(), (("state", "--file", "{}"),)),
        Sound("sheet.svg", read[4], (), _sheet),
        Sound("corners.svg", read[4], (), _corners),
        Sound("rows.csv", b"x;y\n0;0\n40;10,5\n30;60\n", (), lambda path: rows_from_text(read_text(path, "a table"))),
        Sound("person.json", settings_file().read_bytes(), (), _settings),
        Sound("photo.jpg", read[3], (("read", "{}"),)),
    ]


def damaged(content: bytes, draw: random.Random) -> bytes:
    """A file with one thing wrong: cut off, a stretch lost, doubled or overwritten, bits turned over, a word or a
    number replaced, a value of JSON by another kind, lines exchanged."""
    size = max(len(content), 1)
    a = draw.randrange(size)
    b = min(a + draw.choice((1, 4, 60, 3000)), size)
    kind = draw.randrange(9)
    if kind == 0:
        return content[:a]
    if kind == 1:
        return content[:a] + content[b:]
    if kind == 2:
        return content[:b] + content[a:b] * draw.choice((1, 40)) + content[b:]
    if kind == 3:
        return content[:a] + draw.randbytes(b - a) + content[b:]
    if kind == 4:
        turned = bytearray(content)
        for _ in range(draw.choice((1, 8, 200))):
            if turned:
                turned[draw.randrange(len(turned))] ^= 1 << draw.randrange(8)
        return bytes(turned)
    if kind == 5 and content.lstrip().startswith(b"{"):
        data = json.loads(content)
        holder, key = draw.choice(list(places(data)))
        holder[key] = draw.choice(HOSTILE)
        return json.dumps(data).encode("utf-8", "surrogatepass")
    text = content.decode("utf-8", "surrogateescape")
    if kind == 6:
        lines = text.splitlines(keepends=True)
        draw.shuffle(lines)
        return "".join(lines).encode("utf-8", "surrogateescape")
    words = list(re.finditer(r"-?\d+(?:\.\d+)?|\w+", text))
    if not words:
        return draw.randbytes(20)
    found = draw.choice(words)
    new = draw.choice(TOKENS) if kind == 7 else draw.choice(words).group()
    before, after = (part.encode("utf-8", "surrogateescape") for part in (text[: found.start()], text[found.end() :]))
    return before + new.encode("utf-8", "surrogatepass") + after


class Told(NamedTuple):
    """What came of damaged files: how each kind ended, what faulted, and what took too long."""

    endings: Counter[str]
    faults: list[str]
    slow: list[str]


def lot(count: int, seed: int, folder: Path) -> Told:
    """So many damaged files, each read by every command that reads its kind; those that faulted are left in the
    folder."""
    draw, told = random.Random(seed), Told(Counter(), [], [])
    sounds = sound_files(folder)
    for number in range(count):
        sound = sounds[-1] if number % SELDOM == 0 else draw.choice(sounds[:-1])
        path = folder / f"{number}-{sound.name}"
        path.write_bytes(damaged(sound.content, draw))
        began = time.perf_counter()
        endings = [_ending(told, path, [word.replace("{}", str(path)) for word in words]) for words in sound.commands]
        if sound.also is not None:
            try:
                sound.also(path)
                endings.append("read")
            except Refused:
                endings.append("refused")
        told.endings.update(f"{sound.name} {ending}" for ending in endings)
        if time.perf_counter() - began > SOON * len(endings):
            told.slow.append(f"{path.name}: {time.perf_counter() - began:.1f} s")
        if "fault" not in endings:
            for left in folder.glob(f"{number}-*"):
                left.unlink()
    return told


def _ending(told: Told, path: Path, words: list[str]) -> str:
    status, _, err = call(*words)
    if status in (0, 2) and "Traceback" not in err and (status == 0) == (not err.startswith("wise-compass:")):
        return "read" if status == 0 else "refused"
    told.faults.append(f"{path.name}: {words[0]}: {status} {err[-300:]}")
    return "fault"
