"""Opening the desk."""

from __future__ import annotations

import gc
import os
import sys
import threading
import time
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer

from wise_compass.care.screen import no_screen
from wise_compass.desk.parts.theme import application, style_sheet
from wise_compass.drafting.refusals import Refused
from wise_compass.job.model import Job

if TYPE_CHECKING:
    from wise_compass.desk.session.jobwindow import JobWindow


def _process_age_ms() -> float:
    """Milliseconds since this process began."""
    with open("/proc/self/stat", encoding="ascii") as stat:
        began = int(stat.read().rpartition(")")[2].split()[19]) / os.sysconf("SC_CLK_TCK")
    return (time.clock_gettime(time.CLOCK_BOOTTIME) - began) * 1000


AT_REST_MS = 600
"""How long after the start what it made is taken to stay."""


YOUNG = 5_000
"""Objects that are made before the collector looks for those that only hold each other."""


def at_rest() -> None:
    """What is there now stays: the collector, which slept while the desk was made, need not look through it at every
    edit.

    It comes seldom from then on, for a drawing is let go of by itself; what it is too late for costs some memory, what
    it is too early for holds the window up.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(YOUNG, 10, 30)
    gc.enable()


def warmed() -> threading.Thread:
    """What other places reckon with is brought in beside the window, so that the first look at them does not wait; none
    of it knows Qt."""

    def bring() -> None:
        import numpy.random  # noqa: F401

        from wise_compass.practice import classes, kept, worksheet  # noqa: F401

    thread = threading.Thread(target=bring, daemon=True)
    thread.start()
    return thread


def open_desk(path: Path | None, demo: bool, until_painted: bool) -> int:
    """Open the window on a job; raises :class:`Refused` for a file that cannot be opened."""
    from wise_compass.desk.session.session import Session
    from wise_compass.job.recovery import Keeper

    if why := no_screen(os.environ):
        if not until_painted:  # what is only timed needs no screen
            says = f"There is no screen to open a window on: {why}. Commands such as solve, draw and print need none."
            raise Refused("", says)
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
    if path is not None and not until_painted and _given_away(path):
        return 0
    app = application(sheet=False)
    app.setApplicationName("Wise Compass")
    app.setDesktopFileName("wise-compass")
    from wise_compass.desk.window import DeskWindow

    if demo:
        from wise_compass.job.demo import demo_job

        session = Session(demo_job(), None, Keeper())
    else:
        session = Session(Job(), None, Keeper())
        if path is not None:
            session.open(path)
    window = DeskWindow(session)
    if not until_painted:
        from wise_compass.desk.remembered import place_before, stand_as_before

        stand_as_before(window)
        if path is None and not demo and place_before():
            window.go(place_before())
    app.setStyleSheet(
        style_sheet()
    )  # once for all of it: told before, every part would ask it anew while it is put together
    _on_faults(window)
    app.styleHints().colorSchemeChanged.connect(lambda _: _follow_system())
    if until_painted:

        def painted() -> None:
            print(f'{{"ms_to_paint": {_process_age_ms():.1f}}}', flush=True)
            os._exit(0)  # it was opened to be timed: there is nothing to take down with care

        window.board.painted.connect(painted)
    else:
        QTimer.singleShot(0, lambda: _offer_recovered(window))
        QTimer.singleShot(AT_REST_MS, lambda: _be_there(window))
        QTimer.singleShot(2 * AT_REST_MS, warmed)
    QTimer.singleShot(AT_REST_MS, at_rest)
    window.show()
    return app.exec()


def _given_away(path: Path) -> bool:
    """Whether a file went to the window that is open, where the person wants it so."""
    from wise_compass.job.person import person

    if person().second != "same":
        return False
    from wise_compass.desk.second import handed_over

    if not handed_over(path):
        return False
    print(f"{path.name} is opened in the window that is there.")
    return True


def _be_there(window: JobWindow) -> None:
    """Take the files of later starts, in whichever window stands for this one by then."""
    from wise_compass.desk.second import Doorman

    def take(path: Path) -> None:
        shown = next(
            (one for one in application().topLevelWidgets() if isinstance(one, DeskWindow) and one.isVisible()), None
        )
        if shown is not None:
            shown.raise_()
            shown.activateWindow()
            if shown.may_leave():
                shown.open_path(path)

    from wise_compass.desk.window import DeskWindow

    doorman = Doorman(take, application())
    doorman.open()
    application().aboutToQuit.connect(doorman.close)


def _follow_system() -> None:
    """The system has gone dark, or light: every window follows, where its person wants it."""
    from wise_compass.desk.drafter.looks import made_anew
    from wise_compass.desk.window import DeskWindow

    for window in application().topLevelWidgets():
        if isinstance(window, DeskWindow) and window.isVisible():
            made_anew(window)


def _on_faults(window: JobWindow) -> None:
    """A fault of the program's own is told in one line and noted in a file; the work goes on and is kept."""

    def note(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        from wise_compass.care.faults import note_fault

        noted = note_fault(error, "at the desk")
        where = f"; a report that can be sent by hand is in {noted}" if noted else ""
        window.session.said.emit(f"A fault of the program's own. Your work is kept{where}.")

    sys.excepthook = note


def _offer_recovered(window: JobWindow) -> None:
    """Offer the work that a killed process left behind."""
    from wise_compass.desk.parts.dialogs import ask
    from wise_compass.job.recovery import left_behind

    for work in left_behind():
        answer = ask(
            window,
            "Unsaved work was found",
            f"“{work.job.title}” was being worked on when Wise Compass stopped. Its last state was kept.",
            ["Open it", "Drop it", "Ask again later"],
        )
        if answer == "Open it":
            window.session.start_recovered(work)
            return
        if answer == "Drop it":
            work.forget()
        else:
            work.release()
