"""Takes the pictures in docs/screenshots from the demo job. ``PYTHONPATH=src:. python -m tools.screenshots``."""

from __future__ import annotations

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

from wise_compass.desk.drafter.logbookview import LogbookView
from wise_compass.desk.drafter.looks import made_anew
from wise_compass.desk.drafter.photoview import DEMO_FOLDER, PhotoView
from wise_compass.desk.drafter.planview import PlanView
from wise_compass.desk.drafter.practiceview import PracticeView
from wise_compass.desk.paper.raster import png_bytes
from wise_compass.desk.parts.theme import application
from wise_compass.desk.problem.setproblem import SetProblem
from wise_compass.desk.session.session import Session
from wise_compass.desk.spine.overview import Overview
from wise_compass.desk.window import DeskWindow
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.demo import demo_job
from wise_compass.job.dimensions import with_dimension
from wise_compass.job.model import Job
from wise_compass.job.person import Person
from wise_compass.logbook.store import Logbook
from wise_compass.practice.marking import mark, noted
from wise_compass.practice.worksheet import worksheet
from wise_compass.study.judge import Judge
from wise_compass.study.measures import exactly, named, read_measured
from wise_compass.study.watch import what_to_measure

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"


HALF = (
    "A cone of 60 mm base diameter is cut by a plane at 40° to the HP, 25 mm below its apex. "
    "Use a splendid ruler. Develop it."
)
"""A problem that lacks its height."""


def _of_practice(window: DeskWindow, session: Session, take: Callable[..., None]) -> None:
    """Practice, its worksheet, the logbook, the plan, and a photograph."""
    book = Logbook(Path(tempfile.mkdtemp()))
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
    practice = PracticeView(window, session, window.ask_path, book, 11)
    practice.source.setCurrentIndex(practice.source.findData("polygons"))
    practice.set_problem()
    assert practice.problem is not None and practice.made is not None
    for _ in range(3):
        practice.show_hint()
    for k, (name, field) in enumerate(practice.fields.items()):
        size = float(exactly(practice.made, [named(practice.made, name)], practice.problem.scale)[0])
        field.setText(f"{size + (0.1 if k else 0.7):.1f}")
    practice.mark_now()
    logbook, plan = LogbookView(window, book), PlanView(window, session, window.ask_path, book)
    plan.fields["start"].setText("2026-11-26 08:00")
    plan.draw_up()
    photo = PhotoView(window, session, book)
    photo.read(DEMO_FOLDER / "tower.jpg")
    for name, dialog in (("practice", practice), ("logbook", logbook), ("plan", plan), ("photo", photo)):
        dialog.show()
        for _ in range(3):
            QApplication.processEvents()
            if dialog is not practice:
                dialog.settle()
        take(name, dialog)
        if name != "photo":
            dialog.close()
    photo.over.setChecked(True)
    photo.tenfold.setChecked(True)
    take("over", photo)
    photo.close()
    sheet = worksheet(practice.problem)
    (FOLDER / "worksheet.png").write_bytes(png_bytes(sheet, False, 110))


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
    session.select("tower")
    window.panels.settle()
    take("watch")
    session.select("arch")
    window.panels.settle()
    judge = window.panels._check._judge
    for name, field in window.panels._check.fields.items():
        size = float(judge.with_slip("circles-exchanged", [named(judge.run, name)])[0])
        field.setText(f"{size:.1f}")
    window.panels._check.judge_now()
    take("slip")
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
    window.stage.turn_over()
    space = window.stage.space
    session.select("hopper")
    window.stage.turn_over()
    window.panels.setCurrentWidget(window.panels.shop)
    take("shop")
    window.stage.turn_over()
    space.show_mode("pattern")
    space.move_to(0.3)
    take("pattern")
    window.panels.setCurrentIndex(0)
    window.stage.turn_over()
    session.select("bracket")
    problem = SetProblem(window, True, session.job.settings, HALF)
    problem.resize(1180, 760)
    problem.show()
    take("problem", problem)
    problem.close()
    overview = Overview(window, session)
    overview.show()
    while overview.drawing:
        app.processEvents()
    take("overview", overview)
    overview.close()
    _of_practice(window, session, take)
    session.select("arch")
    job = with_dimension(session.job, "", "race", "152 mm", "mm")
    session.edit(with_dimension(job, "", "rise", "race/2 - 32", "mm"), "Dimensions")
    for given, words in (("long", "race"), ("wide", "rise*2")):
        session.set_given(given, words)
    night = made_anew(window, Person(theme="dark"))
    night.brief.slots["wide"].setFocus()
    take("night", night)
    day = made_anew(night, Person(theme="light"))
    session.start(Job(), None)
    take("empty", day)


if __name__ == "__main__":
    main()
