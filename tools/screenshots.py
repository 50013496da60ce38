"""Takes the pictures in docs/screenshots from the demo job. ``PYTHONPATH=src:. python -m tools.screenshots``."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()

from PIL import Image
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QWidget

from wise_compass.desk.glass import Glass
from wise_compass.desk.looks import made_anew
from wise_compass.desk.overview import Overview
from wise_compass.desk.session import Session
from wise_compass.desk.surface import PainterSurface
from wise_compass.desk.theme import application
from wise_compass.desk.trueness import PrinterCheck
from wise_compass.desk.window import DeskWindow
from wise_compass.job.build import shop_of, style_of
from wise_compass.job.demo import demo_job
from wise_compass.job.dimensions import with_dimension
from wise_compass.job.model import Job
from wise_compass.job.person import Person
from wise_compass.sheet.cutting import cutting_drawing
from wise_compass.sheet.tiles import map_items, tiling

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"


def tiles_map(session: Session, file: Path) -> None:
    """The first page of the hopper's pattern in tiles: the map of them all."""
    session.select("hopper")
    entry = session.entry
    assert entry is not None and session.run is not None
    shop = shop_of(entry, session.run)
    assert shop is not None
    drawing = cutting_drawing(shop, entry.title, style_of(session.job.settings))
    parted = tiling(drawing.width, drawing.height, "A4")
    assert parted is not None
    scale, corner, items = map_items(parted, entry.title)
    zoom, paper = 4.0, parted.paper
    image = QImage(round(paper.width * zoom), round(paper.height * zoom), QImage.Format.Format_RGB32)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    x, y = corner.tolist()
    drawing.put(
        PainterSurface(
            painter, Glass(zoom * scale, x * zoom, (paper.height - y - drawing.height * scale) * zoom, drawing.height)
        )
    )
    for item in items:
        item.put(PainterSurface(painter, Glass(zoom, 0.0, 0.0, paper.height)))
    painter.end()
    image.save(str(file))


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
            small = picture.convert("RGB").quantize(160, Image.Quantize.MEDIANCUT, dither=Image.Dither.NONE)
        small.save(file, optimize=True)

    session.select("arch")
    session.walk_to(11)
    take("walk")
    session.walk_to(session.last_step + 1)
    session.select("cam")
    window.panels.setCurrentIndex(1)
    take("values")
    session.select("boss9")
    window.panels.setCurrentIndex(2)
    take("proofs")
    window.panels.setCurrentIndex(3)
    take("compare")
    session.select("gable")
    window.panels.setCurrentWidget(window.panels.check)
    for name, size in (("A-B", "96.1"), ("B-C", "70.2"), ("A-C", "59.6")):
        window.panels._check.fields[name].setText(size)
    window.panels._check.judge_now()
    take("check")
    window.panels.setCurrentIndex(0)
    session.walk_to(session.last_step + 1)
    session.select("face")
    assert session.motion is not None
    session.walk_along(float(session.motion.steps[5]) + 0.5)
    take("rolling")
    session.walk_to(session.last_step + 1)
    session.select("arch")
    window.panels.setCurrentWidget(window.panels.curve)
    session.set_gaps(True)
    take("curve")
    session.undo()
    session.select("stool")
    window.panels.setCurrentIndex(1)
    session.walk_to(session.last_step + 1)
    take("pictorial")
    window.panels.setCurrentIndex(0)
    session.select("skylight")
    session.walk_to(24)
    take("auxiliary")
    session.walk_to(session.last_step + 1)
    session.select("corner")
    window.stage.turn_over()
    window.stage.space.fold_to(0.35)
    take("space")
    window.stage.turn_over()
    session.select("newel")
    session.walk_to(session.last_step + 1)
    take("solid")
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
    session.select("arch")
    window.brief.slots["wide"].setText("200 mm")
    session.set_given("wide", "200 mm")
    take("refused")
    session.undo()
    session.select("bracket")
    tiles_map(session, FOLDER / "tiles.png")
    overview, printer = Overview(window, session), PrinterCheck(window)
    printer.fields["across"].setText("99.2")
    for name, dialog in (("overview", overview), ("printer", printer)):
        dialog.show()
        while name == "overview" and overview.drawing:
            app.processEvents()
        take(name, dialog)
        dialog.close()
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
