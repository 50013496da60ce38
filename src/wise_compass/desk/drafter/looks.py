"""How the desk looks to a person: by day or at night, and how large its text is. Kept for the person, not for the
job."""

from __future__ import annotations

from PySide6.QtWidgets import QApplication, QFormLayout, QLabel, QVBoxLayout, QWidget

from wise_compass.desk.parts.dialogs import two_buttons
from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import dress
from wise_compass.desk.session.jobwindow import JobWindow
from wise_compass.drafting.refusals import Refused
from wise_compass.job.person import TEXT_SIZES, THEMES, Person, change_person, person

BAR_WORDS = {"alt": "comes by Alt", "always": "is always there"}
SECOND_WORDS = {"same": "into the window that is open", "another": "into a window of its own"}
THEME_WORDS = {"system": "as the system has them", "light": "light, as by day", "dark": "dark, as at night"}
_OPEN: list[JobWindow] = []
"""The windows that stand in place of the one that was started with; whoever shows them holds on to them."""


def restyle(window: JobWindow, kept: Person) -> None:
    """Keep how the desk looks, and have it look so at once: a window made anew takes the place of this one, the job as
    it is."""
    try:
        change_person(lambda now: now._replace(theme=kept.theme, text=kept.text, bar=kept.bar, second=kept.second))
    except Refused as refusal:
        window.session.said.emit(f"It is so until you leave: {refusal.words(window.session.style)}")
    made_anew(window, kept)


def made_anew(window: JobWindow, kept: Person | None = None) -> JobWindow:
    """Dress the application as the person, or the system, has it now: the window as it is then, a new one where that
    changes anything."""
    app = QApplication.instance()
    if not isinstance(app, QApplication) or not dress(app, kept):
        return window
    if window in _OPEN:
        _OPEN.remove(window)
    fresh = window.anew()
    _OPEN.append(fresh)
    return fresh


class LookDialog(Dialog):
    """Colours and the size of text; read :attr:`kept` after it was accepted."""

    def __init__(self, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setWindowTitle("This desk")
        self.setMinimumWidth(360)
        now = person()
        self.theme, self.text, self.bar, self.second = Pick(), Pick(), Pick(), Pick()
        for box, options in ((self.bar, BAR_WORDS), (self.second, SECOND_WORDS)):
            for name, words in options.items():
                box.addItem(words, name)
        self.bar.setCurrentIndex(self.bar.findData(now.bar))
        self.second.setCurrentIndex(self.second.findData(now.second))
        for name in THEMES:
            self.theme.addItem(THEME_WORDS[name], name)
        for size in TEXT_SIZES:
            self.text.addItem("usual" if size == 1.0 else f"{size:.0%} of the usual", size)
        self.theme.setCurrentIndex(self.theme.findData(now.theme))
        self.text.setCurrentIndex(self.text.findData(now.text))
        form = QFormLayout()
        form.setVerticalSpacing(10)
        for words, box in (
            ("Colours", self.theme),
            ("Text", self.text),
            ("The menu bar", self.bar),
            ("A file opened from outside goes", self.second),
        ):
            box.setAccessibleName(words)
            form.addRow(words, box)
        note = QLabel("These are kept for you on this machine, whatever the job. Paper stays white, as it is printed.")
        note.setWordWrap(True)
        note.setObjectName("hint")
        inside = QVBoxLayout(self)
        inside.addLayout(form)
        inside.addWidget(note)
        inside.addWidget(two_buttons(self, "Set them"))

    @property
    def kept(self) -> Person:
        return person()._replace(
            theme=self.theme.currentData(),
            text=self.text.currentData(),
            bar=self.bar.currentData(),
            second=self.second.currentData(),
        )
