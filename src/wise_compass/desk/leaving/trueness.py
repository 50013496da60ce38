"""How true a printer and a screen are: a square printed and measured, a bar on the screen laid beside a rule or a
card."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QScreen
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QFormLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QSlider, QVBoxLayout, QWidget

from wise_compass.desk.leaving.printing import paper_of, print_pages, set_page
from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import INK, PAPER, TEAL, colour, font, show_refused
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.job.person import Stretch, change_person, person, stretch_for
from wise_compass.sheet.paper import Paper
from wise_compass.sheet.reach import check_drawing
from wise_compass.sheet.tiles import pages_of

HELD = {"a rule, 100 mm of it": 100.0, "a bank card, 85.60 mm wide": 85.60}
"""What is held to the screen, and how long it is (a card by ISO/IEC 7810, ID-1)."""
PIXELS = (1.5, 14.0)
"""Pixels to a millimetre that a screen may have."""
STEP = 0.01


class PrinterCheck(Dialog):
    """Prints the square, takes what was measured on it, and keeps the printer's stretch for its paper."""

    def __init__(self, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Check my printer")
        self.setMinimumWidth(480)
        self.printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        head = QLabel(
            "Print the square of 100 mm, measure it across and up, and type what you measured. "
            "What this printer is off is then made good on "
            "every sheet printed on this paper, and each says so in small."
        )
        head.setWordWrap(True)
        self.print_it = QPushButton("Print the square…")
        self.print_it.clicked.connect(self._print)
        self.fields = {}
        form = QFormLayout()
        form.setVerticalSpacing(8)
        for name, words in (("across", "It measures across, in mm"), ("up", "and up, in mm")):
            field = QLineEdit("100")
            field.setObjectName("field")
            field.setAccessibleName(words)
            field.textChanged.connect(self._judge)
            form.addRow(words, field)
            self.fields[name] = field
        self.says = QLabel()
        self.says.setWordWrap(True)
        self.says.setObjectName("hint")
        self.says.setMinimumHeight(58)
        self.keep = QPushButton("Keep it")
        self.keep.clicked.connect(self._keep)
        leave = QPushButton("Cancel")
        leave.clicked.connect(self.reject)
        below = QHBoxLayout()
        below.addStretch(1)
        below.addWidget(self.keep)
        below.addWidget(leave)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 16)
        inside.setSpacing(12)
        for widget in (head, self.print_it):
            inside.addWidget(widget)
        inside.addLayout(form)
        inside.addWidget(self.says)
        inside.addLayout(below)
        self.keep.setDefault(True)
        self._judge()

    def _print(self) -> None:
        dialog = QPrintDialog(self.printer, self)
        if dialog.exec():
            try:
                self.print_square()
            except Refused as refusal:
                self.says.setText(refusal.says)
                return
            self._judge()

    def print_square(self) -> None:
        """Print the sheet of the check on the printer as it is set, with no stretch."""
        size = paper_of(self.printer)
        drawing = check_drawing(Paper(size, "portrait"), self.printer.printerName())
        pages = pages_of(drawing)
        set_page(self.printer, pages[0])
        print_pages(self.printer, pages, False)

    def _called(self) -> str:
        return f"{self.printer.printerName() or 'The default printer'} on {paper_of(self.printer)}"

    def _stretch(self) -> Stretch:
        sizes = {}
        refused = None
        for name, field in self.fields.items():
            show_refused(field, False)
            try:
                sizes[name] = parse_quantity(field.text(), "length")
            except Refused as refusal:
                show_refused(field, True)
                refused = refusal
        if refused is not None:
            raise refused
        try:
            return stretch_for(sizes["across"], sizes["up"])
        except Refused as refusal:
            show_refused(self.fields[refusal.given], True)
            raise

    def _judge(self) -> None:
        try:
            stretch = self._stretch()
        except Refused as refusal:
            self.says.setText(refusal.says)
            self.keep.setEnabled(False)
            return
        self.keep.setEnabled(True)
        off = " and ".join(
            f"{abs(by - 1) * 100:.2f} % {'longer' if by > 1 else 'shorter'} {way}"
            for by, way in ((stretch.across, "across"), (stretch.up, "up"))
            if abs(by - 1) > 5e-5
        )
        have = person().stretch(self.printer.printerName(), paper_of(self.printer))
        kept = f" Now it prints × {have.across:.4f} across, × {have.up:.4f} up." if have.says else ""
        self.says.setText(
            (f"{self._called()} will print {off}." if off else f"{self._called()} is true; nothing is changed.") + kept
        )

    def _keep(self) -> None:
        try:
            change_person(
                lambda now: now.with_print(self.printer.printerName(), paper_of(self.printer), self._stretch())
            )
        except Refused as refusal:
            self.says.setText(refusal.says)
            return
        self.accept()


class Bar(QWidget):
    """A bar of so many pixels with an upright at either end."""

    def __init__(self) -> None:
        super().__init__()
        self.long = 300.0

    def sizeHint(self) -> QSize:
        return QSize(int(self.long) + 60, 130)

    def set_long(self, pixels: float) -> None:
        self.long = pixels
        self.setMinimumWidth(int(pixels) + 60)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour(PAPER))
        left, middle = (self.width() - self.long) / 2, self.height() / 2
        painter.setPen(QPen(colour(TEAL), 1.4))
        for x in (left, left + self.long):
            painter.drawLine(QPointF(x, 14), QPointF(x, self.height() - 14))
        painter.setPen(QPen(colour(INK), 1.0))
        painter.drawLine(QPointF(left, middle), QPointF(left + self.long, middle))
        painter.setFont(font(12))
        painter.drawText(QPointF(left + 8, middle - 6), "lay it from line to line")
        painter.end()


class ScreenCheck(Dialog):
    """A bar made as long as what is held to the screen; keeps the screen's pixels to a millimetre."""

    def __init__(self, parent: QWidget | None, screen: QScreen) -> None:
        super().__init__(parent)
        self.setWindowTitle("Check the screen")
        self.screen_ = screen
        known = person().screens.get(screen.name())
        start = known or screen.physicalDotsPerInch() / 25.4
        self.held = Pick()
        for words, long in HELD.items():
            self.held.addItem(words, long)
        self.held.setAccessibleName("What is held to the screen")
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(round(PIXELS[0] / STEP), round(PIXELS[1] / STEP))
        self.slider.setSingleStep(1)
        self.slider.setPageStep(10)
        self.slider.setAccessibleName("How long the bar is drawn; arrows move it finely")
        self.bar, self.says = Bar(), QLabel()
        self.says.setObjectName("hint")
        head = QLabel(
            "Hold it to the screen below, and move the slider (arrows move it finely) until the bar is as long."
        )
        head.setWordWrap(True)
        keep, leave = QPushButton("Keep it"), QPushButton("Cancel")
        keep.setDefault(True)
        keep.clicked.connect(self._keep)
        leave.clicked.connect(self.reject)
        below = QHBoxLayout()
        below.addWidget(self.says, 1)
        below.addWidget(keep)
        below.addWidget(leave)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 16)
        inside.setSpacing(12)
        for widget in (head, self.held, self.bar, self.slider):
            inside.addWidget(widget)
        inside.addLayout(below)
        self.held.currentIndexChanged.connect(self._show)
        self.slider.valueChanged.connect(self._show)
        self.slider.setValue(round(min(max(start, PIXELS[0]), PIXELS[1]) / STEP))
        self._show()

    @property
    def pixels(self) -> float:
        """Pixels to a millimetre, as the bar has it."""
        return self.slider.value() * STEP

    def _show(self) -> None:
        self.bar.set_long(self.pixels * self.held.currentData())
        self.says.setText(f"{self.pixels:.2f} pixels to a millimetre on {self.screen_.name() or 'this screen'}")

    def _keep(self) -> None:
        try:
            change_person(lambda now: now.with_screen(self.screen_.name(), self.pixels))
        except Refused as refusal:
            self.says.setText(refusal.says)
            return
        self.accept()
