"""What the lessons are: tasks, each with one sentence, where it is done, and how one knows that it is."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, NamedTuple, Protocol

if TYPE_CHECKING:
    from PySide6.QtGui import QAction
    from PySide6.QtWidgets import QWidget

    from wise_compass.desk.paper.steprule import StepRule
    from wise_compass.desk.places.column import Column
    from wise_compass.desk.places.place import Place
    from wise_compass.desk.places.stage import Stage
    from wise_compass.desk.practise.place import PractisePlace
    from wise_compass.desk.sentence.brief import Brief
    from wise_compass.desk.session.session import Session
    from wise_compass.desk.side.panels import Panels


class Taught(Protocol):
    """The window, as far as lessons lead through it."""

    session: Session
    brief: Brief
    stage: Stage
    rule: StepRule
    column: Column
    body: QWidget
    groups: dict[str, list[QAction]]

    @property
    def panels(self) -> Panels: ...
    @property
    def place(self) -> Place: ...
    @property
    def practise(self) -> PractisePlace: ...
    def go(self, number: int) -> None: ...
    def may_leave(self) -> bool: ...


def _nothing(window: Taught) -> None:
    """Nothing has to be made ready."""


class LessonTask(NamedTuple):
    """``says`` what is to be done, ``where`` the control that does it, ``done`` whether it is, ``ready`` what has to
    stand before. ``command`` names an action by its words: the task is done once that was asked for."""

    says: str
    where: Callable[[Taught], QWidget | None]
    done: Callable[[Taught], bool] = lambda window: False
    ready: Callable[[Taught], None] = _nothing
    command: str = ""


class LessonPlan(NamedTuple):
    """A lesson: ``shows`` are the entries of the demo whose sheets it is given on."""

    id: str
    title: str
    says: str
    shows: tuple[str, ...]
    tasks: tuple[LessonTask, ...]


def _slot(name: str) -> Callable[[Taught], QWidget | None]:
    return lambda window: window.brief.slots.get(name)


def _tab(number: int) -> Callable[[Taught], bool]:
    return lambda window: window.panels.currentIndex() == number


def _tabs(window: Taught) -> QWidget:
    return window.panels.tabBar()


def _to_arch(window: Taught) -> None:
    window.go(0)
    window.session.select("arch")


def _to_gable(window: Taught) -> None:
    window.go(0)
    if window.stage.in_space:
        window.stage.turn_over()
    window.session.select("gable")
    window.panels.setCurrentIndex(5)


def _to_check(window: Taught) -> None:
    window.go(0)
    window.panels.setCurrentIndex(5)


def _flat(entry: str) -> Callable[[Taught], None]:
    """A figure on its sheet, its steps beside it."""

    def ready(window: Taught) -> None:
        window.go(0)
        window.session.select(entry)
        if window.stage.in_space:
            window.stage.turn_over()
        window.panels.setCurrentIndex(0)

    return ready


def _in_space(window: Taught) -> bool:
    return window.stage.in_space


def _mode(name: str, least: float = 0.0) -> Callable[[Taught], bool]:
    """Whether the space view shows a mode, moved so far."""
    return lambda window: (
        window.stage.in_space and window.stage.space.mode == name and window.stage.space.moved.get(name, 0.0) >= least
    )


def _to_pattern(window: Taught) -> QWidget | None:
    """Where the next of the three ways to a folded pattern is."""
    if not window.stage.in_space:
        return window.stage.switch
    space = window.stage.space
    return space.fold if space.mode == "pattern" else space.choose


def _named(window: Taught) -> bool:
    """Whether a check has named what went wrong."""
    checked = window.panels.check_panel.checked
    return checked is not None and checked.verdict.verdict in ("slip", "step")


def _photographed(window: Taught) -> bool:
    return window.session.photographed is not None


FIRST = LessonPlan(
    "first",
    "First lesson",
    "Five minutes: a given, a step, a proof, a method, a check, a pattern, a print.",
    ("arch", "gable", "hopper"),
    (
        LessonTask(
            "The problem is the sentence on top: type 60 over the 88 in it.",
            _slot("wide"),
            lambda window: window.session.entry is not None and window.session.entry.givens.get("wide") == 60.0,
            _to_arch,
        ),
        LessonTask(
            "Walk the construction: press Right, or drag the marker of the rule.",
            lambda window: window.rule,
            lambda window: not window.session.finished and window.session.step > 0,
            _to_arch,
        ),
        LessonTask("Is it right? Open Proofs, and read by how much each truth is missed.", _tabs, _tab(2)),
        LessonTask(
            "There are other ways: choose another method in the sentence.",
            _slot("method"),
            lambda window: window.session.entry is not None and window.session.entry.method not in ("", "two-circles"),
            _to_arch,
        ),
        LessonTask(
            "Somebody drew this gable, and measured A-B 96.1, B-C 70.2, A-C 59.6: type that, and see what went wrong.",
            lambda window: window.panels.check_panel,
            _named,
            _to_gable,
        ),
        LessonTask(
            "Now a pattern: open the space view (V), go to the pattern (G), and fold it up (F).",
            _to_pattern,
            _mode("pattern", 0.5),
            _flat("hopper"),
        ),
        LessonTask(
            "Take it away: print this sheet (Ctrl+P), or save it as a drawing (Ctrl+E); to cancel is fine.",
            lambda window: window.column.menu,
            command="Print…|Save this sheet as a drawing…",
        ),
    ),
)
VIEWS = LessonPlan(
    "views",
    "Views, and the space view",
    "Planes that stand up, fold flat, and carry the steps.",
    ("mealpipe",),
    (
        LessonTask(
            "See the two solids in the round: press V, or the button beside the sheet.",
            lambda window: window.stage.switch,
            _in_space,
            _flat("mealpipe"),
        ),
        LessonTask(
            "Turn the eye: drag the scene, or press Shift and an arrow.",
            lambda window: window.stage.shown,
            lambda window: window.stage.in_space and window.stage.space.turned,
        ),
        LessonTask(
            "Walk some steps with Right: each shows in space where its plane cuts both solids.",
            lambda window: window.rule,
            lambda window: not window.session.finished and window.session.step > 2,
        ),
        LessonTask(
            "Press F: the planes fold about their lines until they lie in the sheet.",
            lambda window: window.stage.shown,
            lambda window: window.stage.in_space and window.stage.space.folded > 0.9,
        ),
        LessonTask(
            "Press V once more: the sheet is what has been folded.",
            lambda window: window.stage.switch,
            lambda window: not window.stage.in_space,
        ),
    ),
)
SHOP = LessonPlan(
    "shop",
    "A pattern for the shop",
    "Laps, what it takes of sheet, and a file that is cut.",
    ("hopper",),
    (
        LessonTask("Open Shop: what a shop asks of a pattern stands there.", _tabs, _tab(6), _flat("hopper")),
        LessonTask(
            "Give the seam a lap of 8 mm: type it into the first field.",
            lambda window: window.panels.shop,
            lambda window: window.session.entry is not None and window.session.entry.shop.get("seam_lap") == 8.0,
        ),
        LessonTask(
            "See that it closes: the space view (V), the pattern (G), folded up (F).",
            _to_pattern,
            _mode("pattern", 0.5),
        ),
        LessonTask(
            "Save it for the cutter with Ctrl+E, as SVG; to cancel is fine.",
            lambda window: window.column.menu,
            command="Save this sheet as a drawing…",
        ),
    ),
)
PRACTISE = LessonPlan(
    "practise",
    "Practise, and be marked",
    "A problem on paper, a hint, what was measured, and the mark.",
    ("arch",),
    (
        LessonTask(
            "Go to Practise: press its name at the left, or Alt+Shift+2.",
            lambda window: window.column.heads[1],
            lambda window: window.place is window.practise,
        ),
        LessonTask(
            "Have a problem set: it fits your paper and your kit.",
            lambda window: window.practise.set_it,
            lambda window: window.practise.session.hand is not None,
            lambda window: window.go(1),
        ),
        LessonTask(
            "Ask for a hint: the first step is told, and drawn on the worksheet.",
            lambda window: window.practise.hints.hint,
            lambda window: (hand := window.practise.session.hand) is not None and hand.revealed > 0,
            lambda window: window.practise.panels.setCurrentIndex(0),
        ),
        LessonTask(
            "Draw it on paper, or make a number up: enter it under Your drawing, and have it marked.",
            lambda window: window.practise.drawing,
            lambda window: window.practise.session.opened,
            lambda window: window.practise.panels.setCurrentIndex(1),
        ),
    ),
)
PHOTO = LessonPlan(
    "photograph",
    "A photograph",
    "A sheet photographed is squared up, read and judged.",
    ("tower", "gable", "arch"),
    (
        LessonTask(
            "Under Check, press Photograph, and try one of the demo’s.",
            lambda window: window.panels.check_panel,
            _photographed,
            _to_check,
        ),
        LessonTask(
            "See what was drawn over what is exact: the switch above the board.",
            lambda window: window.stage.head,
            lambda window: window.stage.head is not None and window.stage.head.ways["over"].isChecked(),
        ),
        LessonTask(
            "Make the misses ten times as large.",
            lambda window: window.stage.head,
            lambda window: window.stage.head is not None and window.stage.head.tenfold.isChecked(),
        ),
        LessonTask(
            "Take the photograph away; the sheet lies there again.",
            lambda window: window.stage.head,
            lambda window: not _photographed(window),
        ),
    ),
)
LESSONS = {plan.id: plan for plan in (FIRST, VIEWS, SHOP, PRACTISE, PHOTO)}
