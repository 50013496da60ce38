"""The logbook's database: SQLite in the XDG data folder, its schema versioned, migrated after a backup, whole after a
kill at any moment."""

from __future__ import annotations

import json
import os
import re
import sqlite3
import time
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any, NamedTuple

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import are, many
from wise_compass.outputs.files import own_folder
from wise_compass.own.language import MOST_TEXT

VERSION = 3
TABLES = ("entries", "measures")
MOST_WAIT = 5.0
"""Seconds that one window waits for another to have done writing."""
STEPS: Mapping[int, Sequence[str]] = {
    1: (
        """CREATE TABLE entries ( id TEXT PRIMARY KEY, at REAL NOT NULL, kind TEXT NOT NULL, person TEXT NOT NULL,
            family TEXT NOT NULL, figure TEXT NOT NULL, method TEXT NOT NULL, givens TEXT NOT NULL, scale REAL NOT NULL,
            kit TEXT NOT NULL, verdict TEXT NOT NULL, slip TEXT, step INTEGER, says TEXT NOT NULL, mark TEXT NOT NULL,
            minutes REAL, steps INTEGER NOT NULL)""",
        """CREATE TABLE measures ( entry TEXT NOT NULL REFERENCES entries(id) ON DELETE CASCADE, name TEXT NOT NULL,
            unit TEXT NOT NULL, exact REAL NOT NULL, measured REAL NOT NULL, sd REAL NOT NULL, share REAL NOT NULL,
            instrument TEXT NOT NULL, mark TEXT NOT NULL)""",
        "CREATE INDEX entries_at ON entries(at)",
        "CREATE INDEX measures_entry ON measures(entry)",
    ),
    2: ("ALTER TABLE entries ADD COLUMN picture TEXT",),
    3: ("ALTER TABLE entries ADD COLUMN own TEXT",),
}
"""What takes the schema from the version before to each."""
SINCE = {"picture": 2, "own": 3}
"""The version that some columns came with."""


EARLIEST, LATEST = 0.0, 4102444800.0
"""Moments between which an entry may have been made: 1970 and 2100, in seconds."""
LARGEST = 1e9
"""That any number of an entry may be, in mm, degrees or minutes."""
LONGEST = 4000
"""Letters of a text of an entry."""
ID = re.compile(r"[\w.:-]{1,64}")


class NotedMeasure(NamedTuple):
    """One measurement of an entry."""

    name: str
    unit: str
    exact: float
    measured: float
    sd: float
    share: float
    instrument: str = "rule"
    mark: str = ""


class Noted(NamedTuple):
    """One check or practice. ``at`` is seconds since 1970, ``minutes`` how long it took, if that is known; ``steps``
    how many there were."""

    id: str
    at: float
    kind: str
    person: str
    family: str
    figure: str
    method: str
    givens: Mapping[str, Any]
    scale: float
    kit: Mapping[str, Any]
    verdict: str
    slip: str | None
    step: int | None
    says: str
    mark: str
    minutes: float | None
    steps: int
    picture: str | None = None
    measures: tuple[NotedMeasure, ...] = ()
    own: str | None = None
    """The lines of a person's own way, where it was drawn by that."""


COLUMNS = tuple(name for name in Noted._fields if name != "measures")
MEASURE_COLUMNS = ("entry", *NotedMeasure._fields)
_WORDS = ("kind", "person", "family", "figure", "method", "verdict", "says", "mark")


def fault_of(one: Noted) -> str:
    """What of an entry cannot be: the name of the field, and what is wrong with it; empty for one that can."""
    if not isinstance(one.id, str) or not ID.fullmatch(one.id) or one.id == "all":
        return "id is no name such as 3f9a02c1: letters, digits, points and dashes, 64 at most"
    for name in _WORDS:
        word = getattr(one, name)
        if not isinstance(word, str) or len(word) > LONGEST:
            return f"{name} is no text of {LONGEST} letters at most"
    if not (_is_size(one.at, EARLIEST, LATEST)):
        return "at is no moment between 1970 and 2100"
    if not _is_size(one.scale, 1e-6, 1e6):
        return "scale is no scale: more than 0"
    if one.minutes is not None and not _is_size(one.minutes, 0.0, LARGEST):
        return "minutes is no time: 0 or more"
    for name, count in (("step", one.step), ("steps", one.steps)):
        if not (name == "step" and count is None) and not (isinstance(count, int) and 0 <= count <= 100_000):
            return f"{name} is no count: a whole number, 0 or more"
    if isinstance(one.own, str) and len(one.own) > MOST_TEXT:
        return f"own is no way of one's own: it has over {MOST_TEXT} letters"
    for name in ("slip", "picture", "own"):
        if not isinstance(getattr(one, name), (str, type(None))):
            return f"{name} is no text"
    for measure in one.measures:
        if not all(_is_size(size, -LARGEST, LARGEST) for size in measure[2:6]):
            return f"measure {str(measure.name)[:40]} has what is no number"
    return ""


def _is_size(value: object, least: float, most: float) -> bool:
    return isinstance(value, (int, float)) and not isinstance(value, bool) and least <= value <= most


def new_noted_id() -> str:
    """A name for an entry, unlike any other."""
    return os.urandom(8).hex()


def data_folder() -> Path:
    """Where the logbook lies (XDG data directory)."""
    return own_folder("XDG_DATA_HOME", ".local", "share")


class Logbook:
    """The database, opened for as long as one call takes. ``said`` holds what had to be done on opening, such as
    keeping a damaged file aside."""

    def __init__(self, folder: Path | None = None) -> None:
        self.folder = folder or data_folder()
        self.file = self.folder / "logbook.sqlite"
        self.said = ""

    # opening

    @contextmanager
    def opened(self, writing: bool = False) -> Iterator[sqlite3.Connection]:
        """A connection in a transaction of its own; raises :class:`Refused` saying what is wrong with the file, folder
        or disk."""
        try:
            connection = self._connect(writing)
            try:
                with connection:
                    yield connection
            finally:
                connection.close()
        except sqlite3.Error as error:
            raise self._refusal(error) from None
        except PermissionError:
            raise self._refusal(sqlite3.OperationalError("readonly")) from None
        except OSError as error:
            raise Refused(
                "", f"The logbook in {self.folder} cannot be opened: {(error.strerror or str(error)).lower()}."
            ) from None

    def _connect(self, writing: bool) -> sqlite3.Connection:
        if not writing and not self.file.exists():
            return _made(sqlite3.connect(":memory:"), 0)
        if writing:
            self._made_private()
        try:
            return self._checked(writing)
        except sqlite3.DatabaseError as error:
            if isinstance(error, sqlite3.OperationalError) or not _is_damage(error):
                raise
            aside = self._set_aside(str(error))
            self._made_private()
            self._bring_over(aside)
            return self._checked(writing)

    def _made_private(self) -> None:
        """The folder and the file, which bear names of pupils: nobody else's to read."""
        self.folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        with suppress(OSError):
            os.chmod(self.folder, 0o700)
        os.close(os.open(self.file, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600))
        with suppress(OSError):
            os.chmod(self.file, 0o600)

    def _bring_over(self, aside: Path) -> None:
        """Note what can still be read of a damaged file."""
        kept: list[Noted] = []
        with suppress(sqlite3.Error):
            damaged = sqlite3.connect(f"{aside.absolute().as_uri()}?mode=ro&immutable=1", uri=True)
            try:
                damaged.text_factory = _words
                for one in _readable(damaged):
                    if not fault_of(one):
                        kept.append(one)
            finally:
                damaged.close()
        if kept:
            self._checked(True).close()
            self.note(kept)
        self.said += f" {many(len(kept), 'entry', 'entries')} could be read and brought over."

    def _checked(self, writing: bool) -> sqlite3.Connection:
        connection = self._reached("rwc" if writing else "rw")
        try:
            connection.text_factory = _words
            connection.execute("PRAGMA foreign_keys = ON")
            have = int(connection.execute("PRAGMA user_version").fetchone()[0])
            fault = connection.execute("PRAGMA quick_check(1)").fetchone()[0]
            if fault != "ok":
                raise sqlite3.DatabaseError(f"malformed: {fault}")
            if have < 0 or (have and not _whole(connection, have)):
                raise sqlite3.DatabaseError("malformed: its tables are not those of a logbook")
            if have > VERSION:
                raise Refused(
                    "",
                    f"{self.file} was written by a newer Wise Compass (logbook version "
                    f"{have}; this one reads up to {VERSION}). "
                    "It is left as it is; update Wise Compass.",
                )
            if have == VERSION:
                return connection
            if writing:
                return self._migrated(connection, have)
            copy = sqlite3.connect(":memory:")
            connection.backup(copy)
            connection.close()
            return _made(copy, have)
        except BaseException:
            connection.close()
            raise

    def _reached(self, mode: str) -> sqlite3.Connection:
        """The file, only to be read where it cannot be written; written if it can be, since a writer that died may have
        left half a change."""
        connection = sqlite3.connect(f"{self.file.absolute().as_uri()}?mode={mode}", timeout=MOST_WAIT, uri=True)
        try:
            connection.execute("PRAGMA schema_version").fetchone()
        except sqlite3.OperationalError as error:
            connection.close()
            if mode != "rw" or "locked" in str(error):
                raise
            return self._reached("ro")
        except sqlite3.Error:
            connection.close()
            raise
        return connection

    def _migrated(self, connection: sqlite3.Connection, have: int) -> sqlite3.Connection:
        """The schema brought up to date, after the file as it was is kept beside it."""
        if have:
            beside = self.folder / f"logbook-version-{have}.sqlite"
            if not beside.exists():
                part = beside.with_suffix(f".{os.urandom(4).hex()}.part")
                copy = sqlite3.connect(part)
                with copy:
                    connection.backup(copy)
                copy.close()
                os.replace(part, beside)
        connection.execute("BEGIN IMMEDIATE")
        # another window may have been faster
        return _made(connection, int(connection.execute("PRAGMA user_version").fetchone()[0]))

    def _set_aside(self, why: str) -> Path:
        aside = self.folder / f"logbook-damaged-{time.strftime('%Y%m%d-%H%M%S')}-{os.urandom(2).hex()}.sqlite"
        os.replace(self.file, aside)
        with suppress(OSError):
            os.unlink(f"{self.file}-journal")
        self.said = (
            f"The logbook was damaged ({why.partition(chr(10))[0][:80]}); it is kept "
            f"aside as {aside.name}, and a new one is begun."
        )
        return aside

    def _refusal(self, error: sqlite3.Error) -> Refused:
        told = str(error)
        if "full" in told:
            return Refused(
                "", f"The disk of {self.folder} is full: nothing was noted in the logbook. Make room and note it again."
            )
        if "readonly" in told or "unable to open" in told:
            return Refused(
                "", f"The logbook in {self.folder} cannot be written: nothing was noted. Make the folder writable."
            )
        if "locked" in told:
            return Refused("", "Another window is writing the logbook: nothing was noted. Try again.")
        return Refused("", f"The logbook in {self.folder} cannot be used ({told}): nothing was noted.")

    # writing

    def note(self, entries: Sequence[Noted]) -> None:
        """Keep entries, all of them or none; one with an id that is there already takes its place. Raises
        :class:`Refused`."""
        with self.opened(writing=True) as connection:
            marks = ", ".join("?" * len(COLUMNS))
            for one in entries:
                if fault := fault_of(one):
                    raise Refused("", f"Entry {str(one.id)[:64]} cannot be noted: {fault}. Nothing was noted.")
                connection.execute("DELETE FROM entries WHERE id = ?", (one.id,))
                row = {**one._asdict(), "givens": json.dumps(dict(one.givens)), "kit": json.dumps(dict(one.kit))}
                connection.execute(
                    f"INSERT INTO entries ({', '.join(COLUMNS)}) VALUES ({marks})", [row[name] for name in COLUMNS]
                )
                connection.executemany(
                    "INSERT INTO measures VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
                    [(one.id, *measure) for measure in one.measures],
                )

    def forget(self, ids: Sequence[str] | None = None) -> int:
        """Delete entries, or with None all of them and their pictures; returns how many. Raises :class:`Refused`."""
        with self.opened(writing=True) as connection:
            if ids is None:
                count = connection.execute("DELETE FROM entries").rowcount
            else:
                count = connection.executemany("DELETE FROM entries WHERE id = ?", [(id,) for id in ids]).rowcount
            kept = {
                row[0] for row in connection.execute("SELECT DISTINCT picture FROM entries WHERE picture IS NOT NULL")
            }
            for picture in (self.folder / "pictures").glob("*"):  # while nobody else can attach one
                if picture.name not in kept:
                    with suppress(OSError):
                        picture.unlink()
        return int(count)

    def attach(self, id: str, content: bytes, ending: str) -> str:
        """Keep a picture of a finished drawing beside the database, by its hash, with an entry; raises
        :class:`Refused`."""
        import hashlib

        from wise_compass.outputs.files import write_whole

        name = f"{hashlib.sha256(content).hexdigest()}.{ending.lower()}"
        folder = self.folder / "pictures"
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise Refused("", f"{folder} cannot be made: {(error.strerror or str(error)).lower()}.") from None
        with self.opened(writing=True) as connection:
            if connection.execute("UPDATE entries SET picture = ? WHERE id = ?", (name, id)).rowcount != 1:
                raise Refused("", "There is no such entry in the logbook to attach a picture to.")
            if not (folder / name).exists():
                write_whole(folder / name, content)
        return name

    # reading

    def entries(self, where: str = "", values: Sequence[object] = ()) -> list[Noted]:
        """Entries, the latest first, with their measures; ``where`` is SQL over the entries' columns. Raises
        :class:`Refused`."""
        condition = f" WHERE {where}" if where else ""
        with self.opened() as connection:
            found: list[Noted] = []
            damaged: list[Noted] = []
            for one in _readable(connection, condition, values):
                (damaged if fault_of(one) else found).append(one)
        if damaged:
            ids = ", ".join(str(one.id)[:64] for one in damaged[:5])
            self.said = (
                f"{are(len(damaged), 'entry', 'entries')} damaged and left out: {ids}. "
                "wise-compass logbook --forget takes one away."
            )
        return found


def _words(raw: bytes) -> str:
    return raw.decode("utf-8", "replace")


def _whole(connection: sqlite3.Connection, have: int) -> bool:
    """Whether the tables of a version are there with all their columns."""
    columns = {table: {row[1] for row in connection.execute(f"PRAGMA table_info({table})")} for table in TABLES}
    wanted = {
        "entries": {*COLUMNS} - {name for name, version in SINCE.items() if have < version},
        "measures": {*MEASURE_COLUMNS},
    }
    return all(wanted[table] <= columns[table] for table in TABLES)


def _readable(connection: sqlite3.Connection, condition: str = "", values: Sequence[object] = ()) -> Iterator[Noted]:
    """The entries of a database with their measures, the latest first, as far as they can be read; fields that no entry
    could have are as they stand."""
    have = {row[1] for row in connection.execute("PRAGMA table_info(entries)")}
    told = [name if name in have else "NULL" for name in COLUMNS]
    measures: dict[str, list[NotedMeasure]] = {}
    with suppress(sqlite3.Error):
        for entry, *rest in connection.execute(
            f"SELECT {', '.join(MEASURE_COLUMNS)} FROM measures WHERE entry IN (SELECT id FROM entries{condition}) "
            "ORDER BY rowid",
            values,
        ):
            measures.setdefault(entry, []).append(NotedMeasure(*rest))
    for row in connection.execute(f"SELECT {', '.join(told)} FROM entries{condition} ORDER BY at DESC, id", values):
        fields = dict(zip(COLUMNS, row))
        for name in ("givens", "kit"):
            try:
                table = json.loads(fields[name])
            except (ValueError, TypeError, RecursionError):
                table = None
            if not isinstance(table, dict):
                fields["at"] = None  # no entry could be without
            fields[name] = table
        yield Noted(**fields, measures=tuple(measures.get(row[0], ())))


def _made(connection: sqlite3.Connection, have: int) -> sqlite3.Connection:
    """The schema brought from version ``have`` to this one's, in one transaction."""
    for version in range(have + 1, VERSION + 1):
        for statement in STEPS[version]:
            connection.execute(statement)
    connection.execute(f"PRAGMA user_version = {VERSION}")
    connection.commit()
    return connection


def _is_damage(error: sqlite3.DatabaseError) -> bool:
    return any(word in str(error) for word in ("malformed", "not a database", "corrupt", "encrypted"))
