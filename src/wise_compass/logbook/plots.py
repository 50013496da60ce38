"""Plots of the logbook that are read at a glance, as PNG; the plotting library comes in only here, and without a
toolkit."""

from __future__ import annotations

import calendar
import io
import textwrap
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

from wise_compass.logbook.reckon import ToldLogbook, first_sentence, title_of

if TYPE_CHECKING:
    from matplotlib.axes import Axes

MOST_BARS, MOST_MONTHS = 9, 9
LINE = 46
"""Letters of a line beside a bar."""


class Colours(NamedTuple):
    """What a plot is drawn in."""

    ground: str = "#F1EDE4"
    ink: str = "#1F2A30"
    soft: str = "#5F6B70"
    mark: str = "#B4531F"
    calm: str = "#0E6E6B"


def plots(
    told: ToldLogbook, colours: Colours | None = None, wide: float = 620.0, high: float = 230.0, ratio: float = 1.0
) -> dict[str, bytes]:
    """A picture for slips, scatter and pace, each so many pixels wide and high, ``ratio`` times as fine; empty where
    there is nothing to show."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    from wise_compass.sheet.lettering import font_file

    colours = colours or Colours()
    made = {}
    for name, draw, there in (
        ("slips", _slips, told.wrongs),
        ("scatter", _scatter, told.spreads),
        ("pace", _pace, told.paces),
    ):
        if not there:
            made[name] = b""
            continue
        figure = Figure(
            figsize=(wide / 100, high / 100), dpi=100 * ratio, facecolor=colours.ground, layout="constrained"
        )
        FigureCanvasAgg(figure)
        axes = figure.add_subplot(facecolor=colours.ground)
        draw(axes, told, colours)
        _dress(axes, colours, str(font_file()))
        out = io.BytesIO()
        figure.savefig(out, format="png")
        made[name] = out.getvalue()
    return made


def _dress(axes: Axes, colours: Colours, font: str) -> None:
    from matplotlib.font_manager import FontProperties

    letters = FontProperties(fname=font, size=9)
    words: Sequence[Any] = [
        *axes.get_xticklabels(),
        *axes.get_yticklabels(),
        axes.xaxis.label,
        axes.yaxis.label,
        *axes.texts,
    ]
    for word in words:
        word.set_fontproperties(letters)
        word.set_color(colours.ink)
    axes.tick_params(colors=colours.soft, length=0)
    for side in ("top", "right", "left"):
        axes.spines[side].set_visible(False)
    axes.spines["bottom"].set_color(colours.soft)


def _bars(axes: Axes, names: Sequence[str], sizes: Sequence[float], colour: str, unit: str) -> None:
    places = range(len(names), 0, -1)
    axes.barh(list(places), list(sizes), height=0.62, color=colour)
    axes.set_yticks(list(places), list(names))
    axes.set_xlabel(unit)
    axes.set_xlim(0, max(sizes) * 1.12)


def _short(words: str, most: int = 58) -> str:
    return words if len(words) <= most else words[: most - 1].rstrip() + "…"


def _wrapped(words: str) -> str:
    """In two lines, the second cut off where it is longer."""
    first, *rest = textwrap.wrap(words, LINE)
    return f"{first}\n{_short(' '.join(rest), LINE)}" if rest else first


def _month(months: Sequence[str], place: int) -> str:
    """A month of the axis by its name, with the year where that begins.

    >>> [_month(["2026-11", "2026-12", "2027-01"], place) for place in range(3)]
    ['Nov\\n2026', 'Dec', 'Jan\\n2027']
    """
    year, _, number = months[place].partition("-")
    name = calendar.month_abbr[int(number)]
    return f"{name}\n{year}" if not place or number == "01" else name


def _slips(axes: Axes, told: ToldLogbook, colours: Colours) -> None:
    from matplotlib.ticker import MaxNLocator

    wrongs = told.wrongs[:MOST_BARS]
    names = [
        _wrapped(f"{title_of(one.figure)}: {first_sentence(one.says) or one.slip or f'step {one.step}'}")
        for one in wrongs
    ]
    _bars(axes, names, [one.times for one in wrongs], colours.mark, "times")
    axes.xaxis.set_major_locator(MaxNLocator(integer=True))


def _scatter(axes: Axes, told: ToldLogbook, colours: Colours) -> None:
    months = sorted({one.month for one in told.spreads})
    styles = ("-", "--", ":")
    highest = max(1.4, 1.15 * max(one.ratio for one in told.spreads))
    ends: list[tuple[float, int, str]] = []
    for k, tool in enumerate(dict.fromkeys(one.instrument for one in told.spreads)):
        mine = {one.month: one.ratio for one in told.spreads if one.instrument == tool}
        places = [months.index(month) for month in mine]
        axes.plot(
            places, list(mine.values()), styles[k % 3], marker="o", color=colours.calm, linewidth=1.6, markersize=4
        )
        ends.append((list(mine.values())[-1], places[-1], tool))
    free = 0.0
    for ratio, place, tool in sorted(ends):  # each name beside the end of its line, clear of the one below
        free = max(ratio, free)
        axes.annotate(tool, (place, free), xytext=(8, -3), textcoords="offset points")
        free += 0.075 * highest
    axes.axhline(1.0, color=colours.mark, linewidth=1.0)
    axes.annotate(
        "as stated", (0.01, 1.0), xycoords=("axes fraction", "data"), xytext=(0, 4), textcoords="offset points"
    )
    every = -(-len(months) // MOST_MONTHS)
    shown = range(0, len(months), every)
    axes.set_xticks(list(shown), [_month(months, place) for place in shown])
    axes.set_ylim(0, highest)
    axes.margins(x=0.12)
    axes.set_ylabel("scatter, of the stated")


def _pace(axes: Axes, told: ToldLogbook, colours: Colours) -> None:
    paces = told.paces[:MOST_BARS]
    _bars(
        axes,
        [_short(title_of(one.figure), 40) for one in paces],
        [one.minutes for one in paces],
        colours.calm,
        "minutes a step",
    )
    for k, one in enumerate(paces):
        place = len(paces) - k
        axes.plot(
            [max(one.minutes - one.spread, 0), one.minutes + one.spread],
            [place, place],
            color=colours.ink,
            linewidth=1.2,
        )
    axes.set_xlim(0, max(one.minutes + one.spread for one in paces) * 1.08)
