"""What leaves the desk: sheets as files, the job as PDF, sheets on a printer; and how true the printer and the screen
are."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from wise_compass.desk.parts.progress import one_by_one
from wise_compass.desk.session.jobwindow import JobWindow
from wise_compass.drafting.wording import are, many
from wise_compass.job.build import build_sheet, kept_wish, sheet_pages
from wise_compass.job.stated import said_of
from wise_compass.sheet.drawing import Drawing

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter

BLANK = "PDF, blank frames to draw on and to photograph (*.pdf)"


class Bound(NamedTuple):
    """How a job is put into a PDF: the paper that larger sheets are parted over, whether the steps of each figure and
    the figure in stages stand behind its sheet, whether the day's plan goes first, and whether it is a booklet of the
    job's methods in place of its sheets."""

    tiles: str = ""
    steps: bool = False
    stages: bool = False
    plan: bool = False
    booklet: bool = False


PDF_KINDS = {
    "PDF, a page a sheet (*.pdf)": Bound(),
    "PDF, larger sheets in tiles of A4 (*.pdf)": Bound("A4"),
    "PDF, larger sheets in tiles of A3 (*.pdf)": Bound("A3"),
    "PDF, with the steps and what to measure (*.pdf)": Bound(steps=True),
    "PDF, with each figure in stages (*.pdf)": Bound(stages=True),
    "PDF, with the day’s plan first (*.pdf)": Bound(plan=True),
    "PDF, a booklet of its methods in stages (*.pdf)": Bound(booklet=True),
    BLANK: Bound(),
}
STAGE_FILES = "PDF (*.pdf);;SVG (*.svg);;PNG (*.png)"
GRIDS = {
    f"PDF, {kind} {spacing} mm apart (*.pdf)": (spacing, kind) for kind in ("dots", "lines") for spacing in (5, 10)
}
"""How a blank isometric grid can be printed."""
SHEET_FILES = "SVG (*.svg);;PDF (*.pdf);;PNG (*.png);;CSV of points and values (*.csv);;JSON (*.json)"


class Papers:
    """What a window writes and prints."""

    def __init__(self, window: JobWindow) -> None:
        self.window, self.session = window, window.session

    def _clean(self) -> bool:
        return self.window.is_clean

    def _drawings(self, sheets: Sequence[int], bound: Bound) -> list[Drawing] | None:
        """Sheets composed, by their places in the job, with what is wanted behind them; None where it was stopped."""
        job, style = self.session.job, self.session.style

        def pages(number: int) -> list[Drawing]:
            sheet = build_sheet(job, number)
            return sheet_pages(sheet, style, bound.steps, bound.stages)

        made = one_by_one(self.window, "Sheets are drawn", [partial(pages, n) for n in sheets])
        if made is None:
            self.session.said.emit("Stopped; nothing was written.")
        return None if made is None else [page for each in made for page in each]

    # files

    def export(self) -> None:
        """Ask where to write the shown sheet, and write it."""
        entry, sheet = self.session.entry, self.session.sheet
        if entry is None or sheet is None:
            return
        name, chosen = self.window.ask_path("Save this sheet as a drawing", f"{entry.title}.svg", SHEET_FILES)
        if name:
            path = Path(name)
            if not path.suffix:
                path = path.with_suffix("." + chosen.split("*.")[1].rstrip(")"))
            self.window.attempt(lambda: self.write_sheet(path), "Not written")

    def write_sheet(self, path: Path) -> None:
        """Write the shown sheet, or the selected figure's data, by the ending of ``path``; raises :class:`Refused`."""
        from wise_compass.desk.leaving.writing import write_sheet

        write_sheet(path, self.session, self._clean())
        self.session.said.emit(f"Written to {path.name}.")

    def print_job(self) -> None:
        """The whole job as one PDF."""
        name, kind = self.window.ask_path("Save the job as PDF", f"{self.session.job.title}.pdf", ";;".join(PDF_KINDS))
        if name:
            path = Path(name if Path(name).suffix else f"{name}.pdf")
            if kind == BLANK:
                self.window.attempt(lambda: self._write_blanks(path), "Not written")
                return
            self.window.attempt(lambda: self._write_job(path, PDF_KINDS.get(kind, Bound())), "Not written")

    def _write_blanks(self, path: Path) -> None:
        from wise_compass.camera.laid import blanks
        from wise_compass.desk.paper.raster import png_bytes
        from wise_compass.outputs.write import Output, write

        drawings = blanks(self.session.job)
        write(path, Output(drawings, None, 1.0, self.session.job.title, False, png_bytes), ("pdf",))
        self.session.said.emit(f"{are(len(drawings), 'blank frame')} in {path.name}. Print them at true scale.")

    def _write_job(self, path: Path, bound: Bound) -> None:
        from wise_compass.desk.paper.raster import png_bytes
        from wise_compass.outputs.write import Output, write

        job = self.session.job
        if bound.booklet:
            drawings = self._booklet()
            if drawings is not None:
                write(path, Output(drawings, None, 1.0, job.title, False, png_bytes), ("pdf",))
                self.session.said.emit(f"A booklet of {many(len(drawings), 'page')} is in {path.name}.")
            return
        drawings = self._drawings(range(len(job.sheets)), bound)
        if drawings is None:
            return
        if bound.plan:
            drawings = [*self._plan(), *drawings]
        write(path, Output(drawings, None, 1.0, job.title, self._clean(), png_bytes, bound.tiles), ("pdf",))
        parted = f", larger ones in tiles of {bound.tiles}" if bound.tiles else ""
        self.session.said.emit(f"{are(len(job.sheets), 'sheet')} in {path.name}{parted}.")

    def _booklet(self) -> list[Drawing] | None:
        """The figures of the job as a booklet; None where it was stopped."""
        from wise_compass.booklet.pages import booklet_drawings
        from wise_compass.job.booklets import chapters_of

        job = self.session.job
        tasks = [partial(chapters_of, [entry], job.settings) for entry in job.entries()]
        made = one_by_one(self.window, "Methods are drawn", tasks)
        if made is None:
            self.session.said.emit("Stopped; nothing was written.")
            return None
        return booklet_drawings([chapter for each in made for chapter in each], job.title, self.session.style)

    def save_stages(self) -> None:
        """Ask where to write the selected figure in stages, and write it."""
        entry, made, sheet = self.session.entry, self.session.run, self.session.sheet
        if entry is None or made is None or sheet is None:
            self.session.said.emit("There is no figure to show in stages; set one first.")
            return
        name, chosen = self.window.ask_path("Save the figure in stages", f"{entry.title}, in stages.pdf", STAGE_FILES)
        if not name:
            return
        path = Path(name)
        if not path.suffix:
            path = path.with_suffix("." + chosen.split("*.")[1].rstrip(")"))

        def save() -> None:
            from wise_compass.desk.leaving.writing import write_stages

            write_stages(path, entry.title, made, self.session.style, sheet.scale)
            self.session.said.emit(f"Written to {path.name}.")

        self.window.attempt(save, "Not written")

    def _plan(self) -> list[Drawing]:
        """The day's plan on paper; raises :class:`Refused`."""
        from wise_compass.logbook.store import Logbook
        from wise_compass.plan.day import plan_of
        from wise_compass.plan.pace import own_pace
        from wise_compass.plan.told import plan_drawings

        job = self.session.job
        return plan_drawings(plan_of(job, own_pace(Logbook())), self.session.style)

    def print_grid(self) -> None:
        """Paper to draw on, of the size of the shown sheet."""
        from wise_compass.desk.leaving.writing import write_grid

        name, kind = self.window.ask_path("Print a blank isometric grid", "isometric grid.pdf", ";;".join(GRIDS))
        if name:
            spacing, marks = GRIDS.get(kind, (5, "dots"))
            path = Path(name if Path(name).suffix else f"{name}.pdf")
            self.window.attempt(lambda: write_grid(path, self.session, spacing, marks), "Not printed")

    # the clipboard

    def copy_drawing(self) -> None:
        """The shown sheet as SVG, as a picture and in words."""
        from wise_compass.desk.leaving.clipboard import copy_drawing

        entry, sheet = self.session.entry, self.session.sheet
        if entry is None or sheet is None:
            self.session.said.emit("There is no drawing to copy; set a figure first.")
            return
        copy_drawing(sheet.drawing, said_of(entry, self.session.job.settings), self._clean())
        self.session.said.emit("The drawing is copied, at true size.")

    def copy_values(self) -> None:
        """The values of the selected figure in columns."""
        from wise_compass.desk.leaving.clipboard import copy_text, values_text

        made = self.session.run
        if made is None:
            self.session.said.emit("There are no values to copy; set a figure first.")
            return
        copy_text(values_text(made, self.session.style))
        self.session.said.emit(f"{are(len(made.values), 'value')} copied.")

    def copy_table(self) -> None:
        """The curve table of the selected figure, or its true lengths, in columns."""
        from wise_compass.desk.leaving.clipboard import copy_text, table_text
        from wise_compass.study.tables import table_of

        entry, made = self.session.entry, self.session.run
        if entry is None or made is None or not (made.courses or made.true_lines):
            self.session.said.emit("This figure has neither a curve nor true lengths to copy.")
            return
        style = self.session.style

        def copy() -> None:
            table = table_of(made.figure, made.way, kept_wish(entry.table, made), style)
            copy_text(table_text(table))
            self.session.said.emit(f"The table is copied: {many(len(table.rows), 'row')}.")

        self.window.attempt(copy, "Not copied")

    # the printer

    def print_sheets(self) -> None:
        """The system's print dialog, then the sheets chosen there, at true scale."""
        from wise_compass.desk.leaving.printing import chosen_sheets, dialog_for

        job, at = self.session.job, self.session.job.find(self.session.entry_id)
        if at is None:
            self.session.said.emit("There is no sheet to print; set a figure first.")
            return
        dialog, printer, options = dialog_for(self.window, job.title, len(job.sheets), at[0] + 1, self._clean())
        if dialog.exec():
            sheets = chosen_sheets(printer, len(job.sheets), at[0] + 1)
            steps, stages = options.steps.isChecked(), options.stages.isChecked()
            bound = Bound(options.tiles.currentData(), steps, stages)
            self.window.attempt(lambda: self._print(printer, sheets, bound, options.clean.isChecked()), "Not printed")

    def print_drawings(self, title: str, drawings: Sequence[Drawing]) -> None:
        """The system's print dialog for drawings that are no sheets of the job, such as a worksheet."""
        from wise_compass.desk.leaving.printing import dialog_for

        dialog, printer, options = dialog_for(self.window, title, len(drawings), 1, False)
        options.steps.hide()
        options.stages.hide()
        if dialog.exec():
            tiles = options.tiles.currentData()
            self.window.attempt(lambda: self._put(printer, drawings, tiles, False, len(drawings)), "Not printed")

    def _print(self, printer: QPrinter, sheets: Sequence[int], bound: Bound, clean: bool) -> None:
        drawings = self._drawings([number - 1 for number in sheets], bound)
        if drawings:
            self._put(printer, drawings, bound.tiles, clean, len(sheets))

    def _put(self, printer: QPrinter, drawings: Sequence[Drawing], tiles: str, clean: bool, count: int) -> None:
        from wise_compass.desk.leaving.printing import pages_to_print, paper_of, print_pages, unreached

        name = printer.printerName()
        pages, stretch = pages_to_print(drawings, tiles, name, paper_of(printer))
        away = unreached(printer, pages)
        if away and not self._print_all_the_same(name, away):
            return
        print_pages(printer, pages, clean, stretch)
        self.session.said.emit(
            f"{are(count, 'sheet')} printed at true scale. Measure the 100 mm bar before you rely on it."
        )

    def _print_all_the_same(self, name: str, away: Sequence[str]) -> bool:
        from wise_compass.desk.parts.dialogs import ask

        words = (
            f"{name or 'This printer'} does not reach the whole paper: {', '.join(away)} "
            "would fall off. It is not shrunk to fit, since it "
            "would be true no longer; larger paper, or tiles, hold all of it."
        )
        return (
            ask(self.window, "Out of the printer’s reach", words, ["Print without it", "Cancel"]) == "Print without it"
        )

    def check_printer(self) -> None:
        """Print a square, and keep by how much the printer is off."""
        from wise_compass.desk.leaving.trueness import PrinterCheck

        PrinterCheck(self.window).exec()

    def check_screen(self) -> None:
        """Hold a ruler to the screen, and keep how large its pixels are."""
        from wise_compass.desk.leaving.trueness import ScreenCheck

        if ScreenCheck(self.window, self.window.screen()).exec():
            self.session.said.emit("True size (Ctrl+1) is true on this screen now.")
