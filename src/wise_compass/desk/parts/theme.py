"""Colours, type and the style sheet of the desk."""

from __future__ import annotations

import re
import sys
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QFontInfo, QPalette
from PySide6.QtWidgets import QApplication, QWidget

from wise_compass.job.person import TEXT_SIZES, Person, person
from wise_compass.sheet.lettering import FAMILY, font_file

PINE, PINE_LIGHT, PINE_TEXT, PINE_SOFT = "#21453F", "#2E5A52", "#F2EEE6", "#B9CCC4"
PANEL, GROUND, PAPER = "#F1EDE4", "#E4DFD3", "#FFFEFA"
INK, SOFT, HAIRLINE = "#1F2A30", "#566268", "#CFC8B8"
COPPER, TEAL, BOXWOOD, BOXWOOD_INK = "#A94A18", "#0E6E6B", "#EFE3C2", "#5A4A22"

USUAL_PX = (11.0, 16.0)
"""Pixels that the text of a system has that is neither small nor large."""
DARK_OF = {
    PANEL: "#23292B",
    GROUND: "#171B1C",
    PAPER: "#2D3436",
    INK: "#E9E4DA",
    SOFT: "#AEB8B7",
    HAIRLINE: "#465054",
    COPPER: "#E8935E",
    TEAL: "#63C4BA",
    BOXWOOD: "#3B3526",
    BOXWOOD_INK: "#D9C99E",
    PINE: "#12302B",
    PINE_LIGHT: "#1F4A42",
}
"""What the colours of the desk are at night. Paper stays paper: what is drawn keeps its own (:func:`on_paper`)."""


class _Look:
    """How the desk is dressed: by day or at night, how large its text is, and how large the system has its own."""

    dark = False
    text = 1.0
    system = 1.0


def shade(name: str) -> str:
    """A colour as it is by day or at night."""
    return DARK_OF.get(name, name) if _Look.dark else name


def px(size: float) -> int:
    """Pixels by day’s text at the size of text that is set."""
    return max(1, round(size * _Look.text))


def wide(size: float) -> int:
    """A width of the desk that grows with its text, but less: the board needs its room."""
    return round(size * (1.0 + 0.55 * (_Look.text - 1.0)))


_RULES = """
* { font-family: "<FAMILY>"; color: <INK>; }
QMainWindow, QDialog { background: <PANEL>; }
QToolTip { background: <INK>; color: <PAPER>; border: 0; padding: 4px 6px; }
#brief { background: <PANEL>; border-bottom: 1px solid <HAIRLINE>; }
#side { background: <PANEL>; border-left: 1px solid <HAIRLINE>; }
#word { font-size: 18px; }
#hint { color: <SOFT>; font-size: 13px; }
#hint[refused="true"] { color: <COPPER>; font-weight: bold; }
#room { color: <SOFT>; font-size: 13px; }
#slot { font-size: 18px; font-weight: bold; color: <TEAL>; background: <PAPER>; border: 1px solid <HAIRLINE>;
        border-bottom: 2px solid <TEAL>; border-radius: 3px; padding: 1px 5px; selection-background-color: <TEAL>; }
#slot:focus { border: 1px solid <COPPER>; border-bottom: 2px solid <COPPER>; }
#slot[lit="true"] { background: <BOXWOOD>; }
#slot[refused="true"] { color: <COPPER>; border: 1px dashed <COPPER>; border-bottom: 2px dashed <COPPER>; }
#pick { font-size: 13px; background: <PAPER>; border: 1px solid <HAIRLINE>; border-radius: 3px;
    padding: 4px 22px 4px 8px; }
#pick:focus { border-color: <COPPER>; }
#slot::drop-down, #small::drop-down, #pick::drop-down { border: 0; width: 16px; }
#slot::down-arrow, #small::down-arrow, #pick::down-arrow { image: none; }
#small { font-size: 13px; color: <TEAL>; background: transparent; border: 0; border-bottom: 1px solid <HAIRLINE>;
         padding: 0 2px; }
#small:focus { border-bottom: 2px solid <COPPER>; }
QComboBox QAbstractItemView { background: <PAPER>; border: 1px solid <HAIRLINE>; selection-background-color: <TEAL>;
         selection-color: <PAPER>; outline: 0; }
QTabBar { background: <PANEL>; }
QTabBar::tab { background: <PANEL>; color: <SOFT>; padding: 9px 4px 7px 5px; border: 0;
               border-bottom: 2px solid transparent; font-size: 13px; }
QTabBar::tab:selected { color: <INK>; border-bottom: 2px solid <COPPER>; font-weight: bold; }
QTabBar::tab:focus { color: <COPPER>; }
QTabWidget::pane { border: 0; border-top: 1px solid <HAIRLINE>; }
QListView { background: <PANEL>; border: 0; outline: 0; }
#choices { border: 1px solid <HAIRLINE>; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar::handle:vertical { background: <HAIRLINE>; border-radius: 4px; min-height: 30px; }
QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
QScrollBar::handle:horizontal { background: <HAIRLINE>; border-radius: 4px; min-width: 30px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; }
#spine { background: <PINE>; }
#spine QListView { background: <PINE>; }
#spine QLabel { color: <PINE_SOFT>; font-size: 12px; }
#spine QCheckBox { color: <PINE_TEXT>; font-size: 12px; }
#jobtitle { color: <PINE_TEXT>; font-size: 17px; font-weight: bold; background: transparent; border: 0; }
#jobtitle:focus { border-bottom: 1px solid <PINE_SOFT>; }
#welcome { background: <PANEL>; border: 1px solid <HAIRLINE>; border-radius: 4px; }
#lesson { background: <PAPER>; border: 2px solid <COPPER>; border-radius: 5px; }
#reader { background: <PANEL>; border-left: 2px solid <COPPER>; }
#handbookpage { background: <PAPER>; border: 0; margin-left: 2px; border-top: 1px solid <HAIRLINE>; }
#task { font-size: 16px; }
#welcome QPushButton { text-align: left; }
#welcome #example { border: 0; background: transparent; color: <TEAL>; padding: 2px 4px; }
#welcome #example:hover, #welcome #example:focus { text-decoration: underline; }
#welcome #picturebutton { padding: 11px 10px 11px 46px; }
#stated { font-size: 16px; padding: 8px 10px; }
#dialogedge { background: transparent; border: 1px solid <SOFT>; }
#find { font-size: 12px; color: <PINE_TEXT>; background: <PINE_LIGHT>; border: 1px solid <PINE_LIGHT>;
    padding: 3px 6px; }
#find:focus { border-color: <PINE_SOFT>; }
#jobstate { color: <PINE_SOFT>; font-size: 12px; }
#spinerule { background: <PINE_LIGHT>; }
#place { color: <PINE_TEXT>; background: transparent; border: 1px solid transparent; border-radius: 4px;
         padding: 4px 8px 4px 38px; text-align: left; font-size: 13px; }
#place:hover { background: <PINE_LIGHT>; }
#place:focus { border-color: <PINE_SOFT>; }
#place:checked { background: <PANEL>; color: <INK>; font-weight: bold; }
#place:checked:focus { border-color: <COPPER>; }
#instrument { background: transparent; border: none; border-bottom: 2px solid transparent; padding: 2px 3px;
              font-size: 13px; color: <INK>; }
#instrument:hover, #instrument:focus { border-bottom-color: <HAIRLINE>; }
#instrument:checked { border-bottom-color: <TEAL>; color: <TEAL>; font-weight: bold; }
#verb { background: <PAPER>; border: 1px solid <HAIRLINE>; border-radius: 3px; padding: 2px 4px; font-size: 13px; }
#verb:hover, #verb:focus { border-color: <TEAL>; }
#verb:checked { background: <TEAL>; border-color: <TEAL>; color: <PAPER>; font-weight: bold; }
#spinebutton { color: <PINE_TEXT>; background: transparent; border: 1px solid <PINE_LIGHT>; border-radius: 3px;
               padding: 4px 8px; text-align: left; font-size: 13px; }
#spinebutton:hover, #spinebutton:focus { background: <PINE_LIGHT>; border-color: <PINE_SOFT>; }
#spinebutton::menu-indicator { width: 0; }
QMenu { background: <PAPER>; border: 1px solid <HAIRLINE>; padding: 4px; }
QMenu::item { padding: 5px 18px; }
QMenu::item:selected { background: <TEAL>; color: <PAPER>; }
QMenu::item:disabled { color: <HAIRLINE>; }
QMenu::separator { height: 1px; background: <HAIRLINE>; margin: 4px 8px; }
QPushButton { background: <PAPER>; border: 1px solid <HAIRLINE>; border-radius: 3px; padding: 5px 14px; }
QPushButton:focus, QPushButton:hover { border-color: <TEAL>; }
QPushButton:disabled { color: <SOFT>; background: <PANEL>; border-style: dashed; }
QPushButton:default { background: <TEAL>; color: <PAPER>; border-color: <TEAL>; }
#boardhead, #page { background: <GROUND>; }
#sidepage { background: <PANEL>; border-left: 1px solid <HAIRLINE>; }
#problem { font-size: 16px; }
#switchbutton { padding: 3px 12px; font-size: 12px; }
#switchbutton:checked { border-color: <TEAL>; color: <TEAL>; font-weight: bold; }
#switchbutton:disabled { color: <SOFT>; }
#link { border: 0; background: transparent; color: <TEAL>; padding: 2px 4px; font-size: 12px; }
#link:hover, #link:focus { text-decoration: underline; }
#ticks { background: <PAPER>; border: 1px solid <HAIRLINE>; font-size: 13px; }
#switch { padding: 3px 12px; color: <TEAL>; }
QCheckBox::indicator, QListView::indicator { width: 12px; height: 12px; border: 1px solid <SOFT>;
    border-radius: 2px; background: <PAPER>; }
QCheckBox::indicator:checked, QListView::indicator:checked { background: <TEAL>; border-color: <TEAL>;
    image: url("<TICK>"); }
QCheckBox::indicator:focus, QCheckBox::indicator:hover { border-color: <COPPER>; }
QSlider::groove:horizontal { height: 3px; background: <HAIRLINE>; border-radius: 1px; }
QSlider::handle:horizontal { width: 12px; height: 16px; margin: -7px 0; background: <TEAL>; border-radius: 3px; }
QSlider::handle:horizontal:hover { background: <COPPER>; }
#heading { color: <SOFT>; font-size: 12px; font-weight: bold; border-bottom: 1px solid <HAIRLINE>;
    padding-bottom: 3px; }
#field { font-size: 13px; color: <TEAL>; font-weight: bold; padding: 2px 5px; }
#field[refused="true"] { color: <COPPER>; border: 1px dashed <COPPER>; }
#shown { color: <TEAL>; font-size: 17px; font-weight: bold; }
#ordinates { background: <PAPER>; border: 1px solid <HAIRLINE>; gridline-color: <PANEL>; font-size: 13px; }
#ordinates QHeaderView::section { background: <PANEL>; color: <SOFT>; border: 0; border-bottom: 1px solid <HAIRLINE>;
         padding: 3px; font-size: 12px; }
QLineEdit, QPlainTextEdit { background: <PAPER>; border: 1px solid <HAIRLINE>;
         border-radius: 3px; padding: 4px 6px; }
QLineEdit:focus, QPlainTextEdit:focus { border-color: <COPPER>; }
"""


def style_sheet() -> str:
    """The style sheet for the look that is set."""
    tick = Path(__file__).with_name("tick-dark.png" if _Look.dark else "tick.png").as_posix()
    other = {"FAMILY": FAMILY, "TICK": tick}
    named = re.sub(r"<(\w+)>", lambda found: other.get(found[1]) or shade(globals()[found[1]]), _RULES)
    return re.sub(r"font-size: (\d+)px", lambda found: f"font-size: {px(int(found[1]))}px", named)


SETTLE_MS = 150
"""How long a figure has to stand still before more than its drawing is made anew: a nudge is not held up by it."""
FOLLOW_MS = 60
"""How long the cards beside a figure may stay behind its drawing."""


def colour(name: str, opacity: float = 1.0) -> QColor:
    """A colour of the desk with an opacity."""
    return on_paper(shade(name), opacity)


def on_paper(name: str, opacity: float = 1.0) -> QColor:
    """A colour of what is drawn, which is the same by day and at night."""
    made = QColor(name)
    made.setAlphaF(opacity)
    return made


def font(pixels: float, bold: bool = False) -> QFont:
    """The shipped type at a size in pixels of day’s text."""
    made = QFont(FAMILY)
    made.setPixelSize(px(pixels))
    made.setBold(bold)
    return made


def load_fonts() -> None:
    """Make the shipped type known to Qt."""
    for bold in (False, True):
        QFontDatabase.addApplicationFont(str(font_file(bold)))


def show_refused(widget: QWidget, refused: bool) -> None:
    """Give a widget the look of what is refused, or take it away. The style is asked only where that changes."""
    if bool(widget.property("refused")) != refused:
        widget.setProperty("refused", refused)
        widget.style().polish(widget)


TURN_S = 0.0005
"""How long work beside the window keeps the interpreter before the window has its turn."""


def application(sheet: bool = True) -> QApplication:
    """The one application, dressed, but for its style sheet where that is told later. Its style is told as an argument:
    setting it would make the style's class, and its enumerations."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        return app
    app = QApplication(["wise-compass", "-style", "Fusion"])
    sys.setswitchinterval(TURN_S)
    _Look.system = system_text(QFontInfo(app.font()).pixelSize())
    load_fonts()
    dress(app, sheet=sheet)
    return app


def system_is_dark(app: QApplication) -> bool:
    """Whether the system asks for dark colours."""
    return app.styleHints().colorScheme() == Qt.ColorScheme.Dark


def system_text(pixels: float) -> float:
    """How much larger than usual a system has its text that is so many pixels high; what most have is usual.

    >>> [system_text(pixels) for pixels in (12, 15, 18, 24, 40, 9)]
    [1.0, 1.0, 1.3, 1.5, 1.5, 0.85]
    """
    if USUAL_PX[0] <= pixels <= USUAL_PX[1]:
        return 1.0
    return _nearest(pixels / (sum(USUAL_PX) / 2))


def _nearest(text: float) -> float:
    return min(TEXT_SIZES, key=lambda size: abs(size - text))


def dress(app: QApplication, kept: Person | None = None, sheet: bool = True) -> bool:
    """Give the application its colours and the size of its text as a person keeps them; whether anything has changed by
    it."""
    kept = kept or person()
    dark = kept.theme == "dark" or (kept.theme == "system" and system_is_dark(app))
    text = _nearest(kept.text * _Look.system)
    if (dark, text) == (_Look.dark, _Look.text) and app.styleSheet():
        return False
    _Look.dark, _Look.text = dark, text
    app.setFont(font(13))
    palette = app.palette()
    for role, name in (
        (QPalette.ColorRole.Window, PANEL),
        (QPalette.ColorRole.Base, PAPER),
        (QPalette.ColorRole.Button, PAPER),
        (QPalette.ColorRole.Text, INK),
        (QPalette.ColorRole.ButtonText, INK),
        (QPalette.ColorRole.Highlight, TEAL),
        (QPalette.ColorRole.WindowText, INK),
        (QPalette.ColorRole.PlaceholderText, SOFT),
    ):
        palette.setColor(role, colour(name))
    app.setPalette(palette)
    if sheet:
        app.setStyleSheet(style_sheet())
    return True
