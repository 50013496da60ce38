"""Takes the pictures in docs/screenshots from the demo job. ``PYTHONPATH=src:. python -m tools.screenshots``."""

from __future__ import annotations

import io
import os
import tempfile
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()
os.environ["XDG_DATA_HOME"] = tempfile.mkdtemp()

import numpy as np
from PIL import Image
from PySide6.QtWidgets import QApplication, QWidget

from wise_compass.booklet.pages import booklet_drawings, stage_drawings
from wise_compass.desk.drafter.looks import made_anew
from wise_compass.desk.paper.raster import png_bytes
from wise_compass.desk.parts.theme import application
from wise_compass.desk.photo.reader import demo_photograph
from wise_compass.desk.problem.setproblem import SetProblem
from wise_compass.desk.sentence.drawnup import DrawnUp
from wise_compass.desk.session.session import Session
from wise_compass.desk.window import DeskWindow
from wise_compass.drafting.figure import OWN_WAY
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.booklets import chapters_of
from wise_compass.job.build import run_entry, style_of
from wise_compass.job.demo import demo_job
from wise_compass.job.dimensions import with_dimension
from wise_compass.job.model import Entry, Job
from wise_compass.job.person import Person
from wise_compass.logbook.store import Logbook
from wise_compass.practice.marking import mark, noted
from wise_compass.study.judge import Judge
from wise_compass.study.measures import exactly, named, read_measured
from wise_compass.study.watch import what_to_measure

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"


HALF = (
    "A cone of 60 mm base diameter is cut by a plane at 40° to the HP, 25 mm below its apex. "
    "Use a splendid ruler. Develop it."
)
"""A problem that lacks its height."""


def _logged(book: Logbook) -> None:
    """Half a year of practice, some of it with slips."""
    random = np.random.default_rng(3)
    noteds, now = [], 1_795_600_000.0
    for k, (figure, slip) in enumerate(
        (
            ("ellipse", "circles-exchanged"),
            ("triangle-three-sides", "compass-not-reset"),
            ("prism", "seam-twice"),
            ("cone", "chords"),
        )
        * 6
    ):
        made = run(figure_named(figure)())
        judge = Judge(made)
        names = [one.measure for one in what_to_measure(judge).proposed][:3]
        wrong = k % 5 < 2 and slip in judge.slips
        sizes = judge.with_slip(slip, names) if wrong else exactly(made, names, 1.0)
        told = [f"{one.name}={size + 0.2 * random.standard_normal():.2f}" for one, size in zip(names, sizes)]
        marked = mark(judge, read_measured(made, " ".join(told)))
        noteds.append(noted(made, 1.0, marked, "practice", "Ada", float(random.uniform(15, 45)), at=now - 6e5 * k))
    book.note(noteds)


def _of_places(window: DeskWindow, take: Callable[..., None]) -> None:
    """Practice, its worksheet, the logbook, the plan, and a photograph as the board's paper."""
    _logged(Logbook())
    window.go(1)
    place = window.practise
    place.random = np.random.default_rng(11)
    for family in ("curves", "tangency", "polygons"):
        place.source.setCurrentIndex(max(place.source.findData(family), 0))
        place.set_problem()
        place.settle()
        QApplication.processEvents()
        for _ in range(3):
            place.session.reveal()
    place.panels.setCurrentWidget(place.drawing)
    session = place.session
    assert session.hand is not None and session.run is not None
    session.hand.spent = 754.0
    for k, (name, field) in enumerate(place.drawing.fields.items()):
        size = float(exactly(session.run, [named(session.run, name)], session.hand.problem.scale)[0])
        field.setText(f"{size + (0.1 if k else 0.7):.1f}")
    session.ticked.emit()
    take("practice")
    window.go(2)
    window.logbook.settle()
    window.logbook.entries.selectRow(1)
    take("logbook")
    window.go(3)
    window.plan.fields["start"].setText("2026-11-26 08:00")
    window.plan.settle()
    for _ in range(20):
        QApplication.processEvents()
    window.plan.strip.choose(4)
    take("plan")
    window.read_photograph(demo_photograph("tower"))
    part = window.panels.check_panel.photo_part()
    part.settle()
    for _ in range(10):
        QApplication.processEvents()
    take("photo")
    head = window.stage.head
    assert head is not None
    head.ways["over"].click()
    head.tenfold.click()
    take("over")
    head.away.click()


def _of_ones_own(window: DeskWindow, take: Callable[..., None]) -> None:
    """A way of one's own that comes near, with its plot, and a step of it being made."""
    session, panels = window.session, window.panels
    boss = Entry("polygon-in-circle", "Seven-sided boss", givens={"sides": 7, "diameter": 96.0}, id="seven")
    session.edit(session.job.added(boss), "Seven-sided boss")
    session.select("seven")
    session.set_method(OWN_WAY)
    panels.own_panel.files.take_out("diameter-division")
    panels.own_panel.settle()
    panels.own_panel.begin("circle")
    take("own")
    panels.own_panel.lay_down()


def _handouts() -> None:
    """An arch in stages as a page, and beside it a page of a booklet."""
    job = demo_job()
    arch, gable = (next(entry for entry in job.entries() if entry.id == id) for id in ("arch", "newel"))
    style = style_of(job.settings)
    stages = stage_drawings(run_entry(arch), arch.title, style)[0]
    page = booklet_drawings(chapters_of([gable], job.settings), job.title, style)[1]
    pictures = [Image.open(io.BytesIO(png_bytes(drawing, False, 90))) for drawing in (stages, page)]
    both = Image.new("RGB", (sum(one.width for one in pictures) + 12, pictures[0].height), "#999999")
    both.paste(pictures[0], (0, 0))
    both.paste(pictures[1], (pictures[0].width + 12, 0))
    both.quantize(64, dither=Image.Dither.NONE).save(FOLDER / "stages.png", optimize=True)


def main() -> None:
    """Take every picture."""
    app = application()
    session = Session(demo_job())
    window = DeskWindow(session)
    window.show()

    def take(name: str, widget: QWidget = window) -> None:
        window.board.say("")
        for _ in range(60):  # until the pictures of the spine are there too
            app.processEvents()
        # a palette serves: few colours, and each refresh stays in the history
        file = FOLDER / f"{name}.png"
        widget.grab().save(str(file))
        with Image.open(file) as picture:
            # a photograph's greys would leave no place for the colours of the rings
            way = Image.Quantize.FASTOCTREE if name == "photo" else Image.Quantize.MEDIANCUT
            small = picture.convert("RGB").quantize(160, way, dither=Image.Dither.NONE)
        small.save(file, optimize=True)

    session.select("arch")
    session.walk_to(11)
    take("walk")
    session.walk_to(session.last_step + 1)
    session.select("cam")
    window.panels.setCurrentIndex(1)
    session.select("boss9")
    window.panels.setCurrentIndex(3)
    window.panels.settle()
    take("compare")
    session.select("gable")
    window.panels.setCurrentWidget(window.panels.check)
    window.panels.settle()
    for name, size in (("A-B", "96.1"), ("B-C", "70.2"), ("A-C", "59.6")):
        window.panels._check.fields[name].setText(size)
    window.panels._check.judge_now()
    take("check")
    window.panels.setCurrentIndex(0)
    session.select("lever")
    session.walk_to(session.last_step + 1)
    window.brief.drawn_up.emit()
    rows = window.findChildren(DrawnUp)[0]
    rows.current, rows.what = 4, "side"
    rows.fill()
    take("profile")
    rows.hide()
    window.panels.setCurrentIndex(0)
    session.walk_to(session.last_step + 1)
    session.select("arch")
    session.select("stool")
    window.panels.setCurrentIndex(1)
    session.walk_to(session.last_step + 1)
    take("pictorial")
    window.panels.setCurrentIndex(0)
    session.select("mealpipe")
    assert session.run is not None
    session.walk_to(next(step.n for step in session.run.steps if step.says.startswith("R0:")))
    window.stage.turn_over()
    take("space")
    window.stage.turn_over()
    session.select("newel")
    session.walk_to(session.last_step + 1)
    take("dimensioned")
    _handouts()
    session.select("hopper")
    window.panels.setCurrentWidget(window.panels.shop)
    take("shop")
    window.stage.turn_over()
    window.panels.setCurrentIndex(0)
    session.select("bracket")
    problem = SetProblem(window, True, session.job.settings, HALF)
    problem.resize(1180, 760)
    problem.show()
    take("problem", problem)
    problem.close()
    _of_places(window, take)
    session.select("arch")
    window.panels.setCurrentIndex(0)
    window.handbook()
    window.reader.later.settle()
    take("handbook")
    window.reader.open("judging", "hits-and-misses")
    window.reader.later.settle()
    take("judging")
    window.reader.close_it()
    job = with_dimension(session.job, "", "race", "152 mm", "mm")
    session.edit(with_dimension(job, "", "rise", "race/2 - 32", "mm"), "Dimensions")
    for given, words in (("long", "race"), ("wide", "rise*2")):
        session.set_given(given, words)
    _of_ones_own(window, take)
    day = made_anew(window, Person(theme="light"))
    session.start(Job(), None)
    day.resize(1280, 800)
    take("empty", day)


if __name__ == "__main__":
    main()
