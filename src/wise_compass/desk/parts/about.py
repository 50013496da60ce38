"""About this program: what it is and what it stands on, to be copied and sent with a question."""

from __future__ import annotations

from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPlainTextEdit, QVBoxLayout, QWidget

from wise_compass import __version__
from wise_compass.care.about import about_text
from wise_compass.care.faults import reports
from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import button, heading, wrapped
from wise_compass.desk.parts.theme import px, wide

SAYS = (
    "Derives, walks and proves the constructions of technical drawing. It sends nothing anywhere: what stands below "
    "goes where you paste it."
)


class AboutDialog(Dialog):
    """Versions, paths and settings as they stand."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("About this program")
        self.resize(wide(620), px(500))
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 14)
        title = QLabel(f"Wise Compass {__version__}")
        title.setObjectName("word")
        says = wrapped("What it is", "hint")
        says.setText(SAYS)
        self.told = QPlainTextEdit(about_text())
        self.told.setReadOnly(True)
        self.told.setAccessibleName("Versions, paths and settings")
        where = wrapped("Reports of faults", "hint")
        where.setText(f"Reports of faults are kept in {reports()}. MIT licence; each library has its own beside it.")
        for part in (title, says, heading("Versions, paths and settings"), self.told, where):
            inside.addWidget(part)
        line = QHBoxLayout()
        self.copied = QLabel("")
        self.copied.setObjectName("hint")
        line.addWidget(self.copied, 1)
        self.copy = button("Copy all of it", self._copy)
        line.addWidget(self.copy)
        line.addWidget(button("Close", self.accept))
        inside.addLayout(line)

    def _copy(self) -> None:
        QGuiApplication.clipboard().setText(self.told.toPlainText())
        self.copied.setText("Copied.")
