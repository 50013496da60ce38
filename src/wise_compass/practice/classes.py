"""A class: a table of measurements (``classtable.py`` reads it), a row a pupil and problem, marked against each one's
own numbers."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import NamedTuple

from wise_compass.drafting.kit import Drafter
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN
from wise_compass.logbook.store import Noted
from wise_compass.outputs.rows import rows_csv
from wise_compass.practice.classtable import Handed, taken_of, tell
from wise_compass.practice.marking import Marked, mark, noted
from wise_compass.practice.problems import problem_of
from wise_compass.study.judge import Judge
from wise_compass.study.verdicts import Checked, headline


class Graded(NamedTuple):
    """What a pupil handed in, marked."""

    handed: Handed
    marked: Marked
    noted: Noted


class Unmarked(NamedTuple):
    """A pupil without a mark: who, the problem's code where it is known, ``absent`` or ``not read``, and why."""

    pupil: str
    problem: str
    mark: str
    why: str


def absent(handed: Sequence[Handed]) -> list[Unmarked]:
    """The pupils of whose drawing nothing was measured."""
    return [Unmarked(one.pupil, one.problem.code, "absent", one.away) for one in handed if not one.measured]


def mark_class(
    handed: Sequence[Handed],
    drafter: Drafter | None = None,
    hear: Callable[[int, int], None] | None = None,
    each: Callable[[Graded], None] | None = None,
) -> list[Graded]:
    """Mark every row that has measurements against its own numbers, telling ``each`` as it comes; raises
    :class:`Refused` with the rows where a measure is none of its figure's."""
    told = [(one, *taken_of(one)) for one in handed if one.measured]
    tell([fault for *_, fault in told if fault])
    if not told:
        raise Refused("csv", "Of no drawing anything is measured. Nothing was marked.")
    graded = []
    for k, (one, made, taken, _) in enumerate(told):
        if hear is not None:
            hear(k, len(told))
        marked = mark(_judge(one.problem.code, drafter or Drafter()), taken, one.instrument)
        kept = noted(made, one.problem.scale, marked, "mark", one.pupil, one.minutes, one.instrument)
        graded.append(Graded(one, marked, kept))
        if each is not None:
            each(graded[-1])
    return graded


@lru_cache(maxsize=32)
def _judge(code: str, drafter: Drafter) -> Judge:
    """Who judges a problem: one for all pupils that have the same."""
    problem = problem_of(code)
    return Judge(problem.run(drafter), problem.scale)


def unlooked(checked: Checked) -> list[str]:
    """The points of the result of which a check says nothing."""
    return list(dict.fromkeys((*checked.missing, *checked.unmeasured)))


def marks_csv(graded: Sequence[Graded], unmarked: Sequence[Unmarked] = ()) -> str:
    """A row a pupil and problem: the mark, the verdict, the slip or step, why, what was not measured, and
    each measure’s own mark; then those without a mark, with the reason."""
    names = list(dict.fromkeys(name for one in graded for name in one.marked.each))
    rows = []
    for one in graded:
        kept = one.noted
        row = [one.handed.pupil, one.handed.problem.code, kept.mark, kept.verdict, kept.slip, kept.step, one.marked.why]
        minutes = None if kept.minutes is None else f"{kept.minutes:g}"
        left = " ".join(unlooked(one.marked.checked))
        rows.append([*row, minutes, left, *(one.marked.each.get(name) for name in names)])
    for other in unmarked:
        rows.append([other.pupil, other.problem, other.mark, None, None, None, other.why, None, None])
    head = ["pupil", "problem", "mark", "verdict", "slip", "step", "why", "minutes", "not_measured"]
    return rows_csv([*head, *names], rows)


def most_made(graded: Sequence[Graded]) -> list[tuple[str, int]]:
    """What went wrong, the most often made first, and by how many."""
    counts: Counter[str] = Counter()
    for one in graded:
        verdict = one.marked.checked.verdict
        if verdict.verdict == "slip":
            counts[PLAIN.say(verdict.best.says)] += 1
        elif verdict.verdict == "step":
            counts[f"a wrong setting at step {verdict.best.step} of {one.handed.problem.kind.title}"] += 1
        elif one.marked.checked.kind != "honest":
            counts[headline(one.marked.checked).lower()] += 1
    return sorted(counts.items(), key=lambda pair: (-pair[1], pair[0]))


def class_text(graded: Sequence[Graded], unmarked: Sequence[Unmarked] = ()) -> str:
    """A class's marks for a person."""
    lines = []
    for one in graded:
        lines.append(f"{one.handed.pupil:20} {one.handed.problem.kind.title:28} {one.marked.mark}")
        if one.marked.why:
            lines.append(f"{'':20} {one.marked.why}")
        elif left := unlooked(one.marked.checked):
            lines.append(f"{'':20} Not measured: {', '.join(left)}.")
    lines += [f"{one.pupil:20} {one.mark}: {one.why}" for one in unmarked]
    made = most_made(graded)
    lines.append("")
    if made:
        says, count = made[0]
        lines.append(f"Most often, {count} of {len(graded)}: {says.rstrip('.')}.")
        lines += [f"  {count} × {says}" for says, count in made[1:]]
    else:
        lines.append("No drawing went wrong.")
    return "\n".join(lines)
