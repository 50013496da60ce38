"""What is kept of a person and their desk beside any job: how true their printers and screens are, how large text is,
jobs opened last, their kit and their hand."""

from __future__ import annotations

import fcntl
import json
import os
from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

from wise_compass.drafting.instruments import TOLERANCES, with_following
from wise_compass.drafting.kit import LIMITS, SQUARES, Drafter, Kit
from wise_compass.drafting.refusals import Refused
from wise_compass.outputs.files import own_folder, write_whole

if TYPE_CHECKING:
    from wise_compass.study.calibration import Own

MOST_OFF = 0.03
"""Of a length: by how much a print or a screen may be off and still be corrected; beyond that something else is
wrong."""
TEXT_SIZES = (0.85, 1.0, 1.15, 1.3, 1.5)
THEMES = ("system", "light", "dark")
PLACE_IDS = ("set-out", "practise", "logbook", "plan")
BARS = ("alt", "always")
SECONDS = ("same", "another")
"""Where a file that is opened from outside goes: into the window that is open, or into one of its own."""
MOST_RECENT = 6
MOST_BYTES = 1_000_000


class Stretch(NamedTuple):
    """By how much a print is made longer, across and upward, to be true."""

    across: float = 1.0
    up: float = 1.0

    @property
    def says(self) -> str:
        """What is written on a sheet that it was applied to; empty where it changes nothing."""
        if self == Stretch():
            return ""
        return f"printed × {self.across:.4f} across, × {self.up:.4f} up, for this printer"


class Person(NamedTuple):
    """``prints`` are the stretches by printer and paper, ``screens`` pixels to a millimetre by the name of a screen,
    ``hand`` the tolerances that were measured, by name; ``place`` the place of the window that was shown last, ``bar``
    when its menu bar is there, ``window`` where it stood (x, y, width, height, 1 where it filled the screen),
    ``lessons`` how many tasks of each are done, ``second`` where a file opened from outside goes."""

    prints: Mapping[str, Stretch] = {}
    screens: Mapping[str, float] = {}
    text: float = 1.0
    theme: str = "system"
    recent: tuple[str, ...] = ()
    kit: Kit = Kit()
    hand: Mapping[str, Own] = {}
    place: str = "set-out"
    bar: str = "alt"
    window: tuple[int, ...] = ()
    lessons: Mapping[str, int] = {}
    second: str = "same"

    @property
    def drafter(self) -> Drafter:
        """Whose hand draws: this kit, and the tolerances as they were measured, those that follow them with them."""
        limits = with_following({name: own.limit for name, own in self.hand.items()})
        return Drafter(self.kit, tuple(sorted(limits.items())))

    def with_hand(self, owns: Sequence[Own]) -> Person:
        """What was measured last takes the place of what was known of the same tolerance."""
        return self._replace(hand={**self.hand, **{own.tolerance: own for own in owns}})

    def stretch(self, printer: str, paper: str) -> Stretch:
        return self.prints.get(f"{printer}, {paper}", Stretch())

    def with_print(self, printer: str, paper: str, stretch: Stretch) -> Person:
        kept = {**self.prints, f"{printer}, {paper}": stretch}
        return self._replace(prints={name: one for name, one in kept.items() if one != Stretch()})

    def with_screen(self, screen: str, pixels: float) -> Person:
        return self._replace(screens={**self.screens, screen: pixels})

    def with_recent(self, path: Path) -> Person:
        """The job opened or saved last stands first."""
        name = str(path.absolute())
        return self._replace(recent=(name, *(one for one in self.recent if one != name))[:MOST_RECENT])

    def larger(self, by: int) -> Person:
        """Text a size larger or, with less than 0, smaller; the same at either end."""
        place = min(range(len(TEXT_SIZES)), key=lambda k: abs(TEXT_SIZES[k] - self.text)) + by
        return self._replace(text=TEXT_SIZES[min(max(place, 0), len(TEXT_SIZES) - 1)])


def settings_file() -> Path:
    """Where it is kept (XDG configuration directory)."""
    return _file_below(os.environ.get("XDG_CONFIG_HOME", ""), os.environ.get("HOME", ""))


@lru_cache(maxsize=4)
def _file_below(told: str, home: str) -> Path:
    return own_folder("XDG_CONFIG_HOME", ".config") / "person.json"


def _told() -> dict[str, Any] | None:
    """What the file holds; None where it is damaged, and nothing where there is none."""
    file = settings_file()
    try:
        if not file.exists():
            return {}
        data = json.loads(file.read_text("utf-8")) if file.is_file() and file.stat().st_size <= MOST_BYTES else None
    except (OSError, ValueError, RecursionError):
        return None
    return data if isinstance(data, dict) else None


def is_damaged() -> bool:
    """Whether the file of what is kept cannot be read: then everything is as at first, until it is written anew."""
    return _told() is None


def person() -> Person:
    """What is kept now. What is damaged is left away by itself and never hides the rest."""
    data = _told() or {}
    prints = {name: Stretch(*pair) for name, pair in _table(data, "prints") if _is_stretch(pair)}
    screens = {name: float(one) for name, one in _table(data, "screens") if _is_number(one) and 0.5 <= one <= 100.0}
    text, theme, recent = data.get("text"), data.get("theme"), data.get("recent")
    return Person(
        prints,
        screens,
        text if text in TEXT_SIZES else 1.0,
        theme if theme in THEMES else "system",
        tuple(one for one in recent if _is_path(one))[:MOST_RECENT] if isinstance(recent, list) else (),
        _kit_in(data),
        {name: own for name, told in _table(data, "hand") if (own := _own_in(name, told)) is not None},
        _one_of(data, "place", PLACE_IDS),
        _one_of(data, "bar", BARS),
        _window_in(data.get("window")),
        {name: done for name, done in _table(data, "lessons") if isinstance(done, int) and 0 <= done <= 99},
        _one_of(data, "second", SECONDS),
    )


def _one_of(data: Mapping[str, Any], name: str, options: Sequence[str]) -> str:
    """What is kept by a name, the first of the options where it is none of them."""
    told = data.get(name)
    return told if isinstance(told, str) and told in options else options[0]


def _window_in(told: object) -> tuple[int, ...]:
    """Where the window stood, nothing where that cannot be."""
    if not isinstance(told, list) or len(told) != 5 or not all(type(one) is int and abs(one) < 1e5 for one in told):
        return ()
    return tuple(told)


USUAL = Drafter()
"""Whose hand draws where nothing is kept of a person."""


def own_drafter() -> Drafter:
    """Whose hand draws on this desk: what is kept now, read again only where the file has changed."""
    try:
        told = settings_file().stat()
    except OSError:
        return USUAL
    return _drafter_of(str(settings_file()), told.st_ino, told.st_size, told.st_mtime_ns)


@lru_cache(maxsize=4)
def _drafter_of(file: str, *stamp: int) -> Drafter:
    return person().drafter


def _kit_in(data: Mapping[str, Any]) -> Kit:
    """The kit as it is kept, each part that is damaged as it usually is."""
    told, usual = dict(_table(data, "kit")), Kit()
    sizes = {
        name: float(told[name])
        for name, (low, high) in LIMITS.items()
        if _is_number(told.get(name)) and low <= told[name] <= high
    }
    squares = told.get("squares")
    kept: dict[str, Any] = {
        **sizes,
        **{name: told[name] for name in ("curves", "scale_rules") if isinstance(told.get(name), bool)},
        **({"squares": squares} if isinstance(squares, str) and squares in SQUARES else {}),
    }
    return usual._replace(**kept)


def _own_in(name: str, told: object) -> Own | None:
    """A measured tolerance as it is kept: limit, count, low, high and lean."""
    if name not in TOLERANCES or not isinstance(told, list) or len(told) != 5 or not all(map(_is_number, told)):
        return None
    limit, count, low, high, off = told
    if not 0 < low <= limit <= high <= 100 * TOLERANCES[name].limit:
        return None
    from wise_compass.study.calibration import Own

    return Own(name, float(limit), int(count), float(low), float(high), float(off))


def whoever() -> str:
    """Who sits here, as the system has it."""
    return os.environ.get("USER") or os.environ.get("LOGNAME") or ""


def change_person(change: Callable[[Person], Person]) -> Person:
    """Keep what a change makes of what is kept now, and return it; two processes that change at once both count.

    What a newer version keeps beside stays; a damaged file is kept aside. Raises :class:`Refused` where it cannot be
    written.
    """
    file = settings_file()
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
        with open(file.with_suffix(".lock"), "w", encoding="ascii") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            told = _told()
            if told is None and file.is_file():
                os.replace(file, file.with_suffix(".damaged"))
            kept = change(person())
            write_whole(file, json.dumps({**(told or {}), **_data_of(kept)}, ensure_ascii=False, indent=1) + "\n")
    except OSError as error:
        raise Refused(
            "", f"{file.parent} cannot be written: {(error.strerror or str(error)).lower()}. Nothing was kept."
        ) from None
    return kept


def keep_person(kept: Person) -> None:
    """Keep it from now on, whatever was kept before; raises :class:`Refused` where it cannot be written."""
    change_person(lambda _: kept)


def _data_of(kept: Person) -> dict[str, Any]:
    return {
        **kept._asdict(),
        "prints": {name: list(one) for name, one in kept.prints.items()},
        "kit": kept.kit._asdict(),
        "hand": {name: list(own[1:]) for name, own in kept.hand.items()},
    }


def note_opened(path: Path) -> None:
    """Keep that a job was opened or saved; a folder that cannot be written is no reason to say anything."""
    if _is_path(str(path.absolute())):
        with suppress(Refused):
            change_person(lambda kept: kept.with_recent(path))


def stretch_for(measured_across: float, measured_up: float, true: float = 100.0) -> Stretch:
    """What makes prints true on which ``true`` mm measure so much; raises :class:`Refused` where that is too far off to
    be the printer.

    >>> stretch_for(99.0, 100.0).across > 1.01, stretch_for(100.0, 100.0) == Stretch()
    (True, True)
    """
    for name, measured in (("across", measured_across), ("up", measured_up)):
        if not true * (1 - MOST_OFF) <= measured <= true * (1 + MOST_OFF):
            low, high = true * (1 - MOST_OFF), true * (1 + MOST_OFF)
            raise Refused(
                name,
                f"{measured:g} mm {name} is too far from {true:g}: a printer is true to {low:g} … "
                f"{high:g} mm. Take shrinking to the page off in the "
                "print dialog, print the square again and measure it anew.",
            )
    return Stretch(true / measured_across, true / measured_up)


def _table(data: Mapping[str, Any], name: str) -> list[tuple[str, Any]]:
    table = data.get(name)
    return list(table.items()) if isinstance(table, dict) else []


def _is_number(one: object) -> bool:
    if isinstance(one, bool) or not isinstance(one, (int, float)):
        return False
    return abs(one) < 1e12  # false of what is no number, and of one of too many digits


def _is_path(one: object) -> bool:
    """Whether it can be the path of a file: one that the system could hold, and that can be written again."""
    if not isinstance(one, str) or "\0" in one:
        return False
    try:
        parts = one.encode("utf-8").split(b"/")
    except UnicodeEncodeError:
        return False
    return len(one) < 4096 and all(len(part) <= 255 for part in parts)


def _is_stretch(pair: object) -> bool:
    return (
        isinstance(pair, list)
        and len(pair) == 2
        and all(_is_number(one) and abs(one - 1) <= 1.1 * MOST_OFF for one in pair)
    )
