"""A photograph read beside the window's own work, and how that goes."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from wise_compass.desk.parts.work import Work
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style, many

if TYPE_CHECKING:
    from wise_compass.camera.laid import Laid
    from wise_compass.camera.reading import Reading
    from wise_compass.desk.photo.photopaper import PhotoPaper
    from wise_compass.study.judge import Judge
    from wise_compass.study.verdicts import Checked

PICTURES = "Photographs (*.jpg *.jpeg *.png)"
DEMO = {"tower": "the tower’s plan", "gable": "the gable", "arch": "the arch over the race"}
"""The photographs of the demo, simulated: a step far off, a slip, a steady hand."""


def demo_photograph(name: str) -> Path:
    """The file of one of the demo's photographs."""
    from wise_compass import camera

    return Path(camera.__file__).parent / "demo" / f"{name}.jpg"


class PhotoReader(QObject):
    """Reads one photograph at a time. ``told`` says how far it is, ``done`` brings it as a paper of the board,
    ``refused`` what is in the way."""

    told = Signal(int, int)
    done = Signal(object)
    refused = Signal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._work: Work | None = None
        self._style = Style()

    @property
    def busy(self) -> bool:
        """Whether one is being read."""
        return self._work is not None

    def read(
        self,
        path: Path,
        told: Callable[[], Laid | None],
        frame: str,
        style: Style,
        judge: Judge | None = None,
        otherwise: Callable[[], Laid] | None = None,
    ) -> None:
        """Read a file. ``told`` brings what it should show where that is told, ``frame`` the sides of one drawn by
        hand; ``otherwise`` what it shows where its code is not to be read."""
        self.stop()
        self._style = style

        def work(hear: Callable[[int, int], None]) -> tuple[Reading, Judge, Checked | Refused]:
            from wise_compass.camera.judging import judged
            from wise_compass.camera.reading import read, sides_of
            from wise_compass.study.judge import Judge, unheard

            laid, sides = told(), sides_of(frame)
            try:
                reading = read(path, laid, sides, hear)
            except Refused as refusal:
                if laid is not None or otherwise is None or refusal.given != "photo" or "no code" not in refusal.says:
                    raise
                reading = read(path, otherwise(), sides, hear)
            who = judge or Judge(reading.laid.run, reading.laid.scale)
            who.hear = lambda done, whole: hear(9, 10)
            try:
                return reading, who, judged(reading, who)
            except Refused as refusal:
                return reading, who, refusal
            finally:
                who.hear = unheard

        self._work = Work(work, self)
        self._work.told.connect(self.told.emit)
        self._work.done.connect(self._take)
        self._work.failed.connect(self._refuse)
        self._work.start()

    def stop(self) -> None:
        """Leave off reading."""
        if self._work is not None:
            self._work.stop()
            self._work = None

    def settle(self) -> None:
        """Until it is read."""
        if self._work is not None:
            self._work.wait(120)

    def _take(self, found: tuple[Reading, Judge, Checked | Refused]) -> None:
        from wise_compass.desk.photo.photopaper import PhotoPaper

        self._work = None
        reading, judge, checked = found
        paper = PhotoPaper(reading, judge, self._style)
        if isinstance(checked, Refused):
            paper.refusal = checked
        else:
            paper.checked = checked
        self.done.emit(paper)

    def _refuse(self, error: Exception) -> None:
        self._work = None
        self.refused.emit(error if isinstance(error, Refused) else Refused("", f"A fault of its own: {error}."))


def how_read(paper: PhotoPaper, style: Style) -> str:
    """How a photograph was squared up, and what was not found on it."""
    from wise_compass.camera.reading import fit_words

    finding = paper.reading.finding
    words = [f"{many(len(finding.points), 'point')} found. {fit_words(paper.reading.squared)}"]
    for says, names in (
        ("Not found", finding.missing),
        ("Too near to each other", finding.crowded),
        ("No steady hand keeps them near", finding.adrift),
    ):
        if names:
            words.append(f"{says}: {', '.join(map(style.lettered, names))}.")
    return " ".join(words)
