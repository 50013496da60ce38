"""How long the window is held up at a time: by choosing a figure, an edit, a walk and every panel, for all methods; by
``python -m bench.stalls``, or of the other places alone with ``--places``.

What is worked out beside the window does not count; a turn of the event loop does, whole.
"""

from __future__ import annotations

import itertools
import os
import sys
import time
from collections.abc import Callable, Iterator
from typing import Any

from bench.__main__ import desk, nudging, settle

LIMIT_MS = 100.0


def turns(app: Any, do: Callable[[], object], rounds: int = 30) -> float:
    """The longest turn that something causes, in ms: doing it, or what follows of it."""
    from PySide6.QtCore import QEventLoop

    worst = 0.0
    for step in [do, *[lambda: app.processEvents(QEventLoop.ProcessEventsFlag.AllEvents)] * rounds]:
        began = time.perf_counter()
        step()
        worst = max(worst, time.perf_counter() - began)
        time.sleep(0.01)
    return 1000 * worst


def held() -> Iterator[tuple[str, float]]:
    """What was done and the longest turn of it; of an edit the least of three."""
    from wise_compass.drafting.givens import Measure
    from wise_compass.drafting.places import Blocks, SpacePoint
    from wise_compass.figures.catalogue import catalogue
    from wise_compass.job.model import Entry

    app, session, window = desk()
    tabs = window.panels
    for kind in catalogue().values():
        measures = [name for name, given in kind.givens.items() if isinstance(given, (Measure, SpacePoint, Blocks))]
        most = getattr(kind.givens.get("divisions"), "most", 0)
        for method in kind.methods.values():
            for title, extra in (("", {}), *([(" at most divisions", {"divisions": most})] if most else [])):
                if method.fits(kind(**extra)) is not None or not measures:
                    continue
                name = f"{kind.id} {method.id}{title}"
                entry = Entry(kind.id, kind.title, method.id, kind(**extra).stored())
                session.edit(session.job.added(entry), "New")
                yield f"{name}: choosing it", turns(app, lambda e=entry: session.select(e.id))
                nudge = nudging(session, measures[0])
                yield f"{name}: an edit", min(turns(app, nudge) for _ in range(3))
                for k in range(1, tabs.count()):
                    if tabs.isTabVisible(k):
                        yield f"{name}: {tabs.tabText(k)}", turns(app, lambda k=k: tabs.setCurrentIndex(k))
                tabs.setCurrentIndex(0)
                yield f"{name}: a walk", turns(app, lambda: session.walk_to(2))
                session.edit(session.job.removed(entry.id), "Delete")
                settle(app)


def held_elsewhere() -> Iterator[tuple[str, float]]:
    """The same of the other places: going there a second time, and what is done there; the first time makes them."""
    import tempfile

    folder = tempfile.mkdtemp()
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"):
        os.environ[name] = folder
    from wise_compass.desk.photo.reader import demo_photograph
    from wise_compass.desk.start import warmed
    from wise_compass.job.demo import demo_job

    app, session, window = desk()
    session.start(demo_job(), None)
    warmed().join()
    for number, title in ((1, "Practise"), (2, "Logbook"), (3, "Plan"), (0, "Set out")):
        yield f"{title}: made and shown", turns(app, lambda n=number: window.go(n))
        settle(app)
    place = window.practise
    for number in (1, 2, 3, 0, 1):
        yield f"place {number}: shown again", turns(app, lambda n=number: window.go(n))
    for family in ("polygons", "curves", "solids", "pictorial", "transitions"):
        place.source.setCurrentIndex(max(place.source.findData(family), 0))
        yield f"Practise, {family}: set", turns(app, place.set_problem)
        place.settle()
        settle(app)
        yield f"Practise, {family}: a hint", turns(app, place.session.reveal)
        yield f"Practise, {family}: your drawing", turns(app, lambda: place.panels.setCurrentIndex(1))
        for field in list(place.drawing.fields.values())[:2]:
            field.setText("50")
        yield f"Practise, {family}: marked", turns(app, place.drawing.mark_now)
        place.settle()
        settle(app)
    yield "Plan: an order of one's own", turns(app, lambda: window.plan.strip.moved.emit(3, 7))
    window.read_photograph(demo_photograph("tower"))
    window.panels.check_panel.photo_part().settle()
    yield "a photograph is laid", turns(app, lambda: None)
    paper, head = session.photographed, window.stage.head
    yield "drawn over exact", turns(app, head.ways["over"].click)
    head.ways["photograph"].click()
    yield "a ring is moved", turns(app, lambda: paper.put("D", paper.reading.points["D"] + 3.0))
    paper.settle()


def main() -> int:
    """Print what held the window up for longer than it may be, and the longest; returns 1 where something did."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    over, worst, count = 0, 0.0, 0
    places = "--places" in sys.argv
    for name, ms in held_elsewhere() if places else itertools.chain(held(), held_elsewhere()):
        count += 1
        worst = max(worst, ms)
        if ms > LIMIT_MS:
            over += 1
            print(f"{ms:6.0f} ms  {name}", flush=True)
    print(f"{over} of {count} over {LIMIT_MS:.0f} ms; {worst:.0f} ms at most")
    return 1 if over else 0


if __name__ == "__main__":
    sys.exit(main())
