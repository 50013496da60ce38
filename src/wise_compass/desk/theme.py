"""Colours, type and the style sheet of the desk."""

from __future__ import annotations

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication, QWidget

from wise_compass.sheet.lettering import FAMILY, font_file

PINE, PINE_LIGHT, PINE_TEXT, PINE_SOFT = "#21453F", "#2E5A52", "#F1EDE4", "#B9CCC4"
PANEL, GROUND, PAPER = "#F1EDE4", "#E4DFD3", "#FFFEFA"
INK, SOFT, HAIRLINE = "#1F2A30", "#566268", "#CFC8B8"
COPPER, TEAL, BOXWOOD, BOXWOOD_INK = "#A94A18", "#0E6E6B", "#EFE3C2", "#5A4A22"

STYLE = f"""
* {{ font-family: "{FAMILY}"; color: {INK}; }}
QMainWindow, QDialog {{ background: {PANEL}; }}
QToolTip {{ background: {INK}; color: {PAPER}; border: 0; padding: 4px 6px; }}
#brief {{ background: {PANEL}; border-bottom: 1px solid {HAIRLINE}; }}
#side {{ background: {PANEL}; border-left: 1px solid {HAIRLINE}; }}
#word {{ font-size: 18px; }}
#hint {{ color: {SOFT}; font-size: 13px; }}
#hint[refused="true"] {{ color: {COPPER}; font-weight: bold; }}
#room {{ color: {SOFT}; font-size: 13px; }}
#slot {{ font-size: 18px; font-weight: bold; color: {TEAL}; background: {PAPER}; border: 1px solid {HAIRLINE};
        border-bottom: 2px solid {TEAL}; border-radius: 3px; padding: 1px 5px; selection-background-color: {TEAL}; }}
#slot:focus {{ border: 1px solid {COPPER}; border-bottom: 2px solid {COPPER}; }}
#slot[refused="true"] {{ color: {COPPER}; border: 1px dashed {COPPER}; border-bottom: 2px dashed {COPPER}; }}
#slot::drop-down, #small::drop-down {{ border: 0; width: 16px; }}
#slot::down-arrow, #small::down-arrow {{ image: none; }}
#small {{ font-size: 13px; color: {TEAL}; background: transparent; border: 0; border-bottom: 1px solid {HAIRLINE};
         padding: 0 2px; }}
#small:focus {{ border-bottom: 2px solid {COPPER}; }}
QComboBox QAbstractItemView {{ background: {PAPER}; border: 1px solid {HAIRLINE}; selection-background-color: {TEAL};
         selection-color: {PAPER}; outline: 0; }}
QTabBar {{ background: {PANEL}; }}
QTabBar::tab {{ background: {PANEL}; color: {SOFT}; padding: 9px 4px 7px 5px; border: 0;
               border-bottom: 2px solid transparent; font-size: 13px; }}
QTabBar::tab:selected {{ color: {INK}; border-bottom: 2px solid {COPPER}; font-weight: bold; }}
QTabBar::tab:focus {{ color: {COPPER}; }}
QTabWidget::pane {{ border: 0; border-top: 1px solid {HAIRLINE}; }}
QListView {{ background: {PANEL}; border: 0; outline: 0; }}
QScrollBar:vertical {{ background: transparent; width: 9px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {HAIRLINE}; border-radius: 4px; min-height: 30px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
#spine {{ background: {PINE}; }}
#spine QListView {{ background: {PINE}; }}
#jobtitle {{ color: {PINE_TEXT}; font-size: 17px; font-weight: bold; background: transparent; border: 0; }}
#jobtitle:focus {{ border-bottom: 1px solid {PINE_SOFT}; }}
#welcome {{ background: {PANEL}; border: 1px solid {HAIRLINE}; border-radius: 4px; }}
#welcome QPushButton {{ text-align: left; }}
#find {{ font-size: 12px; color: {PINE_TEXT}; background: {PINE_LIGHT}; border: 1px solid {PINE_LIGHT}; padding: 3px 6px; }}
#find:focus {{ border-color: {PINE_SOFT}; }}
#jobstate {{ color: {PINE_SOFT}; font-size: 12px; }}
#spinebutton {{ color: {PINE_TEXT}; background: transparent; border: 1px solid {PINE_LIGHT}; border-radius: 3px;
               padding: 6px 8px; text-align: left; font-size: 13px; }}
#spinebutton:hover, #spinebutton:focus {{ background: {PINE_LIGHT}; border-color: {PINE_SOFT}; }}
#spinebutton::menu-indicator {{ width: 0; }}
QMenu {{ background: {PAPER}; border: 1px solid {HAIRLINE}; padding: 4px; }}
QMenu::item {{ padding: 5px 18px; }}
QMenu::item:selected {{ background: {TEAL}; color: {PAPER}; }}
QMenu::item:disabled {{ color: {HAIRLINE}; }}
QMenu::separator {{ height: 1px; background: {HAIRLINE}; margin: 4px 8px; }}
QPushButton {{ background: {PAPER}; border: 1px solid {HAIRLINE}; border-radius: 3px; padding: 5px 14px; }}
QPushButton:focus, QPushButton:hover {{ border-color: {TEAL}; }}
QPushButton:default {{ background: {TEAL}; color: {PAPER}; border-color: {TEAL}; }}
#switch {{ padding: 3px 12px; color: {TEAL}; }}
QSlider::groove:horizontal {{ height: 3px; background: {HAIRLINE}; border-radius: 1px; }}
QSlider::handle:horizontal {{ width: 12px; height: 16px; margin: -7px 0; background: {TEAL}; border-radius: 3px; }}
QSlider::handle:horizontal:hover {{ background: {COPPER}; }}
#heading {{ color: {SOFT}; font-size: 12px; font-weight: bold; border-bottom: 1px solid {HAIRLINE}; padding-bottom: 3px; }}
#field {{ font-size: 13px; color: {TEAL}; font-weight: bold; padding: 2px 5px; }}
#field[refused="true"] {{ color: {COPPER}; border: 1px dashed {COPPER}; }}
#shown {{ color: {TEAL}; font-size: 17px; font-weight: bold; }}
#ordinates {{ background: {PAPER}; border: 1px solid {HAIRLINE}; gridline-color: {PANEL}; font-size: 13px; }}
#ordinates QHeaderView::section {{ background: {PANEL}; color: {SOFT}; border: 0; border-bottom: 1px solid {HAIRLINE};
         padding: 3px; font-size: 12px; }}
QLineEdit, QPlainTextEdit {{ background: {PAPER}; border: 1px solid {HAIRLINE};
         border-radius: 3px; padding: 4px 6px; }}
QLineEdit:focus, QPlainTextEdit:focus {{ border-color: {COPPER}; }}
"""

SETTLE_MS = 150
"""How long a figure has to stand still before more than its drawing is made anew: a nudge is not held up by it."""


def colour(name: str, opacity: float = 1.0) -> QColor:
    """A colour with an opacity."""
    made = QColor(name)
    made.setAlphaF(opacity)
    return made


def font(pixels: float, bold: bool = False) -> QFont:
    """The shipped type at a size in pixels."""
    made = QFont(FAMILY)
    made.setPixelSize(max(1, round(pixels)))
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


def application() -> QApplication:
    """The one application, dressed. Its style is told as an argument: setting it would make the style's class, and its enumerations."""
    return QApplication.instance() or _dressed(QApplication(["wise-compass", "-style", "Fusion"]))


def _dressed(app: QApplication) -> QApplication:
    """Give the application its type and colours."""
    load_fonts()
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
    ):
        palette.setColor(role, QColor(name))
    app.setPalette(palette)
    app.setStyleSheet(STYLE)
    return app
