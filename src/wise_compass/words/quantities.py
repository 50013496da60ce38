"""Quantities as people write them: lengths, angles, numbers, ratios and places, each with where it stands."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal, NamedTuple

from wise_compass.words.schools import NUMBERS, UNITS

Kind = Literal["length", "angle", "number", "ratio", "place"]
SPOKEN = "|".join(sorted(NUMBERS, key=len, reverse=True))
"""Numbers in words, for a pattern, the longer first."""
PARTS = {"½": 1 / 2, "¼": 1 / 4, "¾": 3 / 4, "⅓": 1 / 3, "⅔": 2 / 3, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8, "⅞": 7 / 8}
_NUMBER = r"""(?:\d{1,3}(?:,\d{3})+(?![\d,])(?:\.\d+)?|\d+\.\d+|\.\d+
    |\d+,\d{1,2}(?=\s*(?:(?:mm|cm|m|met(?:re|er)s?|in|inch(?:es)?|ft|feet|deg(?:ree)?s?|turns?|times)\b|[°º"]))
    |(?<![\d,])(?:\d{1,3},\d|\d,\d\d|0,\d+)(?!\d|,\d)|\d+)"""
"""A comma may be a decimal one: before a unit, and where hardly a row of two is written so."""
COMMA = re.compile(r"(?<!\d)[1-9]\d*,\d{1,2}(?!\d)")
_FRACTION = r"(?:\d+(?:\s+|-|\s-\s))?\d+/\d+|\d*\s?[½¼¾⅓⅔⅛⅜⅝⅞]"
_NOT_INCHES = rf"""(?!\s+(?:(?:the|a|an|its|all|both|diameter|dia|radius|length|height|depth|width|plan|perimeter|
    elevation|front|which|isometric|projection|turn|circle|extreme|third|first|half|equal|cabinet|cavalier|oblique|
    axonometric|dimetric|trimetric|perspective|pictorial|proportion|ratio|order|line|space|section|view|contact|mesh|
    true|step|part|piece|stage|{SPOKEN})s?\b|\d+))"""
_UNIT = rf"""mm\b|cms?\b|millimet(?:re|er)s?\b|centimet(?:re|er)s?\b|met(?:re|er)s?\b|m\b(?!\s*/)|inch(?:es)?\b|
    in\.(?!\w)|in\b{_NOT_INCHES}|\"|''|ft\b\.?|feet\b|foot\b|'(?!\w)"""
_COORDINATE = r"-?\d+(?:\.\d+)?"
PATTERN = re.compile(
    rf"""(?P<place>\(\s*{_COORDINATE}(?:\s*,\s*{_COORDINATE}){{1,2}}\s*\)
      |(?<![\d,]){_COORDINATE},{_COORDINATE},{_COORDINATE}(?!\d|,\d|/)|(?<=\b[a-h]\s)-?\d+,-?\d+(?!\d|,\d))
|(?P<rule>3\s*-\s*4\s*-\s*5)
|(?P<sided>(?P<sides>\d+|{SPOKEN})[\s-]*(?:sided|gons?|pointed|equal\s+sides|sides)\b)
|(?P<ratio>\d+(?:\.\d+)?(?:\s*:\s*\d+(?:\.\d+)?){{1,11}}
      |(?:(?<=\bas\s)|(?<=ratio\s)|(?<=ratio\sof\s))\d+(?:\s(?:is\s)?to\s\d+){{1,11}}(?!\d|\.\d|\s*(?:mm|cm|in|m|°)\b))
|(?P<feet>(?P<whole_feet>\d+)\s*-?(?:ft\.?|feet|foot|')\s*-?\s*(?P<inches>{_FRACTION}|{_NUMBER})
      \s*(?:in\b\.?|inch(?:es)?|"))
|(?P<metres>(?P<whole_metres>\d+)\s*m\s+(?P<rest>\d+)\s*cm\b)
|(?P<spoken>(?:(?P<and_whole>{SPOKEN})\s+and\s+(?:(?:a\s+)?(?P<and_half>half)|(?P<and_quarters>three\s+quarters)
      |(?P<and_thirds>two\s+thirds)|(?:a|one)\s+(?P<and_one>quarter|third))|(?P<quarters>three\s+quarters)
      |(?P<half>half)(?=\s+an?\s+(?:inch|turn|rev))|(?P<plain>{SPOKEN}))\b)
      (?:\s*-?\s*(?:an?\s+)?(?P<spoken_unit>inch(?:es)?\b|feet|foot|met(?:re|er)s?\b|degrees?\b))?
|(?P<figure>(?P<before>[ø⌀]\s*|(?<![a-z])[rm]\s?(?=\d))?(?P<value>{_FRACTION}|{_NUMBER})
      (?:\s*-?\s*(?P<degrees>°|º|deg(?:rees?)?\b\.?)
      (?:\s*(?:and\s+)?(?P<minutes>\d+)\s*(?:['′]|min(?:ute)?s?\b))?|(?:\s*-?\s*)(?P<unit>{_UNIT}))?
      (?![\d]))
|(?P<word>√|θ|φ|∠|[a-z][a-z'’/]*(?:\.[a-z]\b\.?)*(?:-(?!sided|gon|pointed)[a-z]+)*)
|(?P<sign>[,;.:()&=])""",
    re.X,
)
"""Everything that a statement in small letters is made of; what it passes over says nothing."""
ALTERNATIVES = ("place", "rule", "sided", "ratio", "feet", "metres", "spoken", "figure", "word", "sign")


class Word(NamedTuple):
    """A canonical word, or a sign such as ``§,``, and where it stands in the text."""

    says: str
    start: int
    end: int


@dataclass(eq=False)
class Quantity:
    """A quantity and where it stands; lengths in mm, angles in degrees.

    ``bare`` is how many mm one of it is where it has no unit and is a length; ``measure`` is ``dia`` or ``rad`` where
    it says so, ``measured_behind`` where that word stands behind it, ``spelled`` whether it stood in words, ``ordinal``
    whether as *third*; ``position`` is its place in the stream, ``group`` which other quantities it stands in one row
    with, and ``joins`` the signs before it in that row.
    """

    kind: Kind
    value: float
    start: int
    end: int
    unit: str = ""
    measure: str = ""
    measured_behind: bool = False
    spelled: bool = False
    ratio: tuple[float, ...] = ()
    place: tuple[float, ...] = ()
    label: str = ""
    says: str = ""
    ordinal: bool = False
    bare: float = 1.0
    position: int = 0
    group: int = 0
    joins: tuple[str, ...] = ()

    @property
    def is_count(self) -> bool:
        """Whether it is a bare number in words, which may be no quantity at all: *one circle*."""
        return self.spelled and self.kind == "number"

    @property
    def is_size(self) -> bool:
        """Whether it may be a length: it is one, or it is a number in figures."""
        return self.kind == "length" or self.kind == "number" and not self.spelled


Token = Word | Quantity


def amount(text: str) -> float:
    """A number in words, figures or fractions.

    >>> amount("3 7/16"), amount("2½"), amount("1,250"), amount("twelve"), amount("0,5")
    (3.4375, 2.5, 1250.0, 12.0, 0.5)
    """
    text = text.strip()
    if text in NUMBERS:
        return float(NUMBERS[text])
    if text[-1:] in PARTS:
        return float(text[:-1].strip() or 0) + PARTS[text[-1]]
    fraction = re.match(r"(?:(\d+)[\s-]+)?(\d+)/(\d+)", text)
    if fraction is not None:
        below = int(fraction[3])
        return int(fraction[1] or 0) + (int(fraction[2]) / below if below else 0.0)
    if re.fullmatch(r"\d{1,3}(,\d{3})+(\.\d+)?", text):
        text = text.replace(",", "")
    return float(text.replace(",", "."))


def spoken(found: re.Match[str]) -> Quantity:
    """A quantity in words, such as *one and a half turns*, *three inches*."""
    part = (
        0.5
        if found["and_half"] or found["half"]
        else 0.75
        if found["and_quarters"] or found["quarters"]
        else 2 / 3
        if found["and_thirds"]
        else {"quarter": 0.25, "third": 1 / 3}.get(found["and_one"] or "", 0.0)
    )
    value = NUMBERS.get(found["and_whole"] or found["plain"] or "", 0) + part
    unit = (found["spoken_unit"] or "").rstrip("s")
    if unit.startswith("degree"):
        return Quantity("angle", value, found.start(), found.end(), "°", spelled=True)
    if unit:
        return Quantity("length", value * UNITS[unit], found.start(), found.end(), unit, spelled=True)
    return Quantity("number", value, found.start(), found.end(), spelled=True, says=found["plain"] or "")


def figured(found: re.Match[str]) -> Quantity:
    """A quantity in figures, with its unit and its sign of diameter or radius."""
    value, (start, end) = amount(found["value"]), found.span()
    measure = {"ø": "dia", "⌀": "dia", "r": "rad"}.get((found["before"] or "").strip(), "")
    unit = (found["unit"] or "").strip(". ").rstrip("s")
    if unit == "''":
        unit = '"'
    if found["degrees"]:
        return Quantity("angle", value + float(found["minutes"] or 0) / 60, start, end, "°")
    if unit:
        return Quantity("length", value * UNITS[unit], start, end, unit, measure)
    return Quantity("length" if measure else "number", value, start, end, measure=measure)
