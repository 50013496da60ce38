"""Printing: the system's own dialog, sheets at true scale, what a printer does not reach told before, and printers
checked."""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QMarginsF, QRectF, QSizeF, Qt
from PySide6.QtGui import QPageLayout, QPageSize, QPainter
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QCheckBox, QFormLayout, QLabel, QWidget

from wise_compass.desk.paper.surface import PainterSurface
from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.picks import Pick
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import point
from wise_compass.job.person import Stretch, person
from wise_compass.outputs.files import write_output
from wise_compass.outputs.write import ending_of
from wise_compass.sheet.drawing import Drawing, Text
from wise_compass.sheet.lettering import SMALL
from wise_compass.sheet.paper import SIZES
from wise_compass.sheet.reach import Margins, lost
from wise_compass.sheet.tiles import Layer, Page, pages_of

UNIT = QPageLayout.Unit.Millimeter
NEAR = 0.7
"""mm by which a page of the printer may be smaller than the sheet: papers in inches are told in whole points."""


class Options(QWidget):
    """What Wise Compass asks beside the system's dialog: tiles for larger sheets, and whether the construction is
    printed."""

    def __init__(self, clean: bool) -> None:
        super().__init__()
        self.setWindowTitle("Sheets")
        self.tiles = Pick()
        self.tiles.addItem("whole, on paper of their own size", "")
        for size in ("A4", "A3", "A2", "Letter", "Tabloid"):
            self.tiles.addItem(f"in tiles of {size}, where they are larger", size)
        self.tiles.setAccessibleName("Larger sheets")
        self.clean = QCheckBox("Leave the construction away")
        self.clean.setChecked(clean)
        self.steps = QCheckBox("With the steps, and what to measure, behind each sheet")
        self.stages = QCheckBox("With each figure in stages, behind its sheet")
        form = QFormLayout(self)
        form.addRow("Larger sheets", self.tiles)
        form.addRow(self.clean)
        form.addRow(self.steps)
        form.addRow(self.stages)
        note = QLabel(
            "Sheets are printed at true scale. Leave “fit to page” and the like off in the printer’s own settings."
        )
        note.setWordWrap(True)
        note.setObjectName("hint")
        form.addRow(note)


def dialog_for(
    parent: QWidget, title: str, count: int, current: int, clean: bool
) -> tuple[QPrintDialog, QPrinter, Options]:
    """The system's dialog with the sheets to choose from, ``current`` being the shown one, from 1; its printer has to
    be held on to."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setDocName(title)
    printer.setCreator("Wise Compass")
    printer.setFullPage(True)
    dialog = QPrintDialog(printer, parent)
    options = Options(clean)
    dialog.setOptionTabs([options])
    dialog.setOption(QPrintDialog.PrintDialogOption.PrintPageRange)
    dialog.setOption(QPrintDialog.PrintDialogOption.PrintCurrentPage)
    dialog.setMinMax(1, max(count, 1))
    dialog.setFromTo(current, current)
    dialog.setPrintRange(QPrintDialog.PrintRange.CurrentPage)
    return dialog, printer, options


def chosen_sheets(printer: QPrinter, count: int, current: int) -> list[int]:
    """The sheets that the dialog was left with, from 1."""
    if printer.printRange() == QPrinter.PrintRange.CurrentPage:
        return [current]
    if printer.printRange() == QPrinter.PrintRange.PageRange:
        return list(range(max(printer.fromPage(), 1), min(printer.toPage() or count, count) + 1))
    return list(range(1, count + 1))


def set_page(printer: QPrinter, page: Page) -> None:
    """Set the printer to a page's own paper, without margins; raises :class:`Refused` where it does not take it."""
    size = QSizeF(page.width, page.height)
    portrait = page.width <= page.height
    known = QPageSize.id(QSizeF(min(page.width, page.height), max(page.width, page.height)), QPageSize.Unit.Millimeter)
    wanted = QPageSize(known) if known != QPageSize.PageSizeId.Custom else QPageSize(size, QPageSize.Unit.Millimeter)
    way = QPageLayout.Orientation.Portrait if portrait else QPageLayout.Orientation.Landscape
    printer.setPageLayout(QPageLayout(wanted, way, QMarginsF(0, 0, 0, 0), UNIT))
    printer.setFullPage(True)
    have = printer.pageLayout().fullRect(UNIT)
    if have.width() < page.width - NEAR or have.height() < page.height - NEAR:
        told = f"{page.width:g} × {page.height:g} mm"
        raise Refused(
            "paper", f"{printer.printerName() or 'The printer'} has no paper of {told}. Print larger sheets in tiles."
        )


def margins_of(printer: QPrinter) -> Margins:
    """What the printer cannot reach of the page that it is set to."""
    free = printer.pageLayout().minimumMargins()
    factor = 25.4 / 72 if printer.pageLayout().units() == QPageLayout.Unit.Point else 1.0
    return Margins(*(factor * one for one in (free.left(), free.bottom(), free.right(), free.top())))


def unreached(printer: QPrinter, pages: Sequence[Page]) -> list[str]:
    """What of these pages the printer would leave away, a line for each kind of loss; empty where it reaches all."""
    found: dict[str, None] = {}
    for page in pages:
        set_page(printer, page)
        margins = margins_of(printer)
        for layer in page.layers:
            if layer.window is None and layer.scale == 1.0:
                for name in lost(layer.content, margins):
                    found[name] = None
    return list(found)


def print_pages(printer: QPrinter, pages: Sequence[Page], clean: bool, stretch: Stretch | None = None) -> None:
    """As :func:`put_pages`; where the dialog was asked for a file, that is written whole, and no job is replaced by
    it."""
    name = printer.outputFileName()
    if not name:
        put_pages(printer, pages, clean, stretch)
        return
    path = Path(name)
    ending_of(path, ("pdf",))
    with tempfile.TemporaryDirectory() as folder:
        made = Path(folder) / "print.pdf"
        printer.setOutputFileName(str(made))
        try:
            put_pages(printer, pages, clean, stretch)
        finally:
            printer.setOutputFileName(name)
        write_output(path, made.read_bytes())


def put_pages(printer: QPrinter, pages: Sequence[Page], clean: bool, stretch: Stretch | None = None) -> None:
    """Print pages at true scale, stretched about their middle as the printer needs; raises :class:`Refused` where it
    takes no paint."""
    stretch = stretch or Stretch()
    set_page(printer, pages[0])
    painter = QPainter()
    if not painter.begin(printer):
        raise Refused("", "The printer takes no print; look whether it is there and has paper.")
    try:
        for number, page in enumerate(pages):
            if number:
                set_page(printer, page)
                printer.newPage()
            _put_page(painter, printer, page, clean, stretch)
    finally:
        painter.end()


def _put_page(painter: QPainter, printer: QPrinter, page: Page, clean: bool, stretch: Stretch) -> None:
    dots = printer.resolution() / 25.4
    painter.resetTransform()
    middle = page.width / 2 * dots, page.height / 2 * dots
    painter.translate(*middle)
    painter.scale(stretch.across, stretch.up)
    painter.translate(-middle[0], -middle[1])
    for layer in page.layers:
        painter.save()
        if layer.window is not None:
            (left, low), (right, high) = (corner.tolist() for corner in layer.window)
            box = QRectF(left * dots, (page.height - high) * dots, (right - left) * dots, (high - low) * dots)
            painter.setClipRect(box, Qt.ClipOperation.IntersectClip)
        zoom = dots * layer.scale
        x, y = layer.origin.tolist()
        top = (page.height - y) * dots - layer.content.height * zoom
        layer.content.put(
            PainterSurface(painter, Glass(zoom, x * dots, top, layer.content.height), least=0.0, pens=dots), clean
        )
        painter.restore()


def with_note(page: Page, stretch: Stretch) -> Page:
    """A page that says in small by how much it was stretched."""
    if not stretch.says:
        return page
    words = Text("frame", 0, "", "dimension", point(page.width - 10.0, 3.2), stretch.says, SMALL - 0.4, anchor=1.0)
    note = Drawing(page.width, page.height, [words])
    return page._replace(layers=(*page.layers, Layer(note, point(0.0, 0.0))))


def pages_to_print(
    drawings: Sequence[Drawing], tiles: str, printer_name: str, paper: str
) -> tuple[list[Page], Stretch]:
    """The pages of drawings with the stretch that is kept for a printer and its paper, which they say in small."""
    stretch = person().stretch(printer_name, paper)
    return [with_note(page, stretch) for drawing in drawings for page in pages_of(drawing, tiles)], stretch


def paper_of(printer: QPrinter) -> str:
    """The paper that a printer is set to, by its name here; A4 where it is another."""
    name = printer.pageLayout().pageSize().id().name
    return name if name in SIZES else "A4"
