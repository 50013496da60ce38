"""What people type for a length, an angle or a number, read by a small recursive-descent parser.

Accepted: ``88``, ``88 mm``, ``8.8 cm``, ``3 7/16 in``, ``8-3/16in``, ``5' 3 1/2"``, ``3½``, ``2*36+5``, ``sqrt(3)*20``,
``pi*40``, ``75*tan(35°)``, ``37°30'``, ``37 deg``, ``0.5 rad``. Sines and their kin take degrees. Nothing is evaluated
as code.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import NamedTuple

from wise_compass.drafting.refusals import Refused

LONGEST = 200
DEEPEST = 40
MILLIMETRES = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "inch": 25.4, "inches": 25.4, '"': 25.4, "″": 25.4}
MILLIMETRES |= {"ft": 304.8, "foot": 304.8, "feet": 304.8, "'": 304.8, "′": 304.8}
FEET = ("ft", "foot", "feet", "'", "′")
PARTS = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅓": "1/3", "⅔": "2/3", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
TURNS: dict[str, Callable[[float], float]] = {
    "sin": lambda a: math.sin(math.radians(a)),
    "cos": lambda a: math.sin(math.radians(90.0 - a)),
    "tan": lambda a: math.sin(math.radians(a)) / math.sin(math.radians(90.0 - a)),
}
ARCS: dict[str, Callable[[float], float]] = {
    "asin": lambda x: math.degrees(math.asin(x)),
    "acos": lambda x: math.degrees(math.acos(x)),
    "atan": lambda x: math.degrees(math.atan(x)),
}
DEGREE_SIGNS = ("°", "deg", "degrees")
MINUTE_SIGNS = ("'", "′")
SECOND_SIGNS = ('"', "″")
_DASHED = re.compile(r"(?<![\d.)])(\d+)-(\d+/\d+)(?=\s*(?:in|ft|['\"′″]))")
_NUMBER = re.compile(r"\s*-?[0-9]+(?:\.[0-9]+)?\s*")
_COMMAED = re.compile(r"(?<![\w.,])[0-9][0-9.]*,[0-9.,]*[0-9](?![.,])")
_THOUSANDS = re.compile(r"[0-9]{1,3}(?:(?:,[0-9]{3})+\.[0-9]+|(?:,[0-9]{3}){2,})")
_CONTINENTAL = re.compile(r"[0-9]{1,3}(?:\.[0-9]{3})+,[0-9]+")
_PLAIN = re.compile(r"-?[0-9]+(?:[.,][0-9]+)?")
_TOKEN = re.compile(
    r"\s*(?:(?P<number>(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)|(?P<word>[A-Za-zπ]+)|(?P<sign>\*\*|[^\s\w]))"
)


class _Quantity(NamedTuple):
    """A number with the power of length that it carries: 0 for a bare number, 1 for a length."""

    value: float
    power: int = 0


class _Reader:
    def __init__(self, text: str, kind: str, bare: float) -> None:
        self.text = text
        self.kind = kind
        self.bare = bare
        self.at = 0
        self.depth = 0
        self.tokens: list[tuple[str, str, int]] = []
        end = 0
        for found in _TOKEN.finditer(text):
            if found.start() != end:
                break
            self.tokens.append((found.lastgroup or "", found.group().strip(), end))
            end = found.end()
        if text[end:].strip():
            raise _unreadable(text, text[end:].strip()[0])

    def peek(self) -> tuple[str, str]:
        return self.tokens[self.at][:2] if self.at < len(self.tokens) else ("", "")

    def take(self, *texts: str) -> str:
        word = self.peek()[1]
        if word and word in texts:
            self.at += 1
            return word
        return ""

    def total(self) -> _Quantity:
        self.depth += 1
        if self.depth > DEEPEST:
            raise Refused("", "That is nested too deeply to read; write it with fewer brackets.")
        left = self.term()
        while sign := self.take("+", "-", "−"):
            right = self.term()
            if left.power != right.power:
                raise Refused(
                    "", f"“{self.text}” mixes a length that has a unit with a number that has none; give both one."
                )
            left = _Quantity(left.value + right.value if sign == "+" else left.value - right.value, left.power)
        self.depth -= 1
        return left

    def term(self) -> _Quantity:
        left = self.signed()
        while sign := self.take("*", "×", "/", "÷"):
            right = self.signed()
            if sign in "*×":
                left = _Quantity(left.value * right.value, left.power + right.power)
            elif right.value == 0:
                raise Refused("", f"“{self.text}” divides by zero; change what stands under the division.")
            else:
                left = _Quantity(left.value / right.value, left.power - right.power)
        return left

    def signed(self) -> _Quantity:
        minus = False
        while sign := self.take("-", "−", "+"):
            minus ^= sign != "+"
        value = self.powered()
        return _Quantity(-value.value, value.power) if minus else value

    def powered(self) -> _Quantity:
        base = self.measured()
        if not self.take("^", "**"):
            return base
        exponent = self.signed()
        if exponent.power or abs(exponent.value) > 16:
            raise Refused("", f"“{self.text}” has an exponent over 16; write the number itself.")
        if base.power:
            raise Refused("", f"“{self.text}” raises a length to a power; write the number without its unit.")
        try:
            result = base.value**exponent.value
        except (OverflowError, ZeroDivisionError):
            result = math.nan
        if isinstance(result, complex) or not math.isfinite(result):
            raise Refused("", f"“{self.text}” has no value; change the power.")
        return _Quantity(float(result))

    def measured(self) -> _Quantity:
        """A value and the unit behind it, if any."""
        value = self.value()
        if self.kind == "angle":
            return self.angle(value)
        unit = self.peek()[1]
        if self.kind != "length" or unit not in MILLIMETRES:
            return value
        self.at += 1
        length = _Quantity(value.value * MILLIMETRES[unit], value.power + 1)
        if unit in FEET and self.peek()[0] == "number":  # 5' 3 1/2": feet, then inches
            inches = self.measured()
            if inches.power != 1:
                raise Refused("", f'“{self.text}”: inches behind feet end with in or ", as in 5\' 3 1/2".')
            return _Quantity(length.value + inches.value, 1)
        return length

    def angle(self, value: _Quantity) -> _Quantity:
        if self.take("rad"):
            return _Quantity(math.degrees(value.value), value.power)
        if not self.take(*DEGREE_SIGNS):
            return value
        total = value.value
        for signs, part in ((MINUTE_SIGNS, 60.0), (SECOND_SIGNS, 3600.0)):
            if self.peek()[0] == "number":
                small = float(self.peek()[1])
                self.at += 1
                if not self.take(*signs):
                    raise Refused("", f"“{self.text}”: minutes end with ' and seconds with \", as in 37°30'15\".")
                if small >= 60:
                    raise Refused("", f"“{self.text}”: {small:g} is too many; minutes and seconds stay under 60.")
                total += small / part
        return _Quantity(total)

    def value(self) -> _Quantity:
        kind, word = self.peek()
        self.at += 1
        if kind == "number":
            number = float(word)
            if not math.isfinite(number):
                raise Refused("", f"“{self.text}” is too large a number.")
            return _Quantity(self.fraction_of_unit(number) or number + self.fraction(word))
        if word == "(":
            inner = self.total()
            self.close()
            return inner
        if word in ("sqrt", "√"):
            return self.root(word)
        if word in ("pi", "π"):
            return _Quantity(math.pi)
        if word in TURNS or word in ARCS:
            return self.function(word)
        raise _unreadable(self.text, word)

    def fraction_of_unit(self, top: float) -> float:
        """The whole of ``7/16 in``, where the unit belongs to the fraction and not to its lower number."""
        ahead = self.tokens[self.at : self.at + 3]
        if self.kind != "length" or len(ahead) < 3 or ahead[0][1] != "/" or ahead[1][0] != "number":
            return 0.0
        if ahead[2][1] not in MILLIMETRES or not float(ahead[1][1]):
            return 0.0
        self.at += 2
        return top / float(ahead[1][1])

    def fraction(self, whole: str) -> float:
        """The 7/16 behind a whole number, as in ``3 7/16``; 0 when there is none."""
        ahead = self.tokens[self.at : self.at + 3]
        shapes = [kind for kind, _, _ in ahead]
        if shapes != ["number", "sign", "number"] or ahead[1][1] != "/":
            return 0.0
        top, under = ahead[0][1], ahead[2][1]
        if not (whole.isdigit() and top.isdigit() and under.isdigit() and int(under)):
            raise _unreadable(self.text, top)
        self.at += 3
        return int(top) / int(under)

    def root(self, word: str) -> _Quantity:
        if self.take("("):
            inner = self.total()
            self.close()
        elif word == "√":
            inner = self.value()
        else:
            raise Refused("", f"“{self.text}”: write the number of a root in brackets, as in sqrt(3).")
        if inner.value < 0 or inner.power % 2:
            raise Refused("", f"“{self.text}” takes the root of something that has none; make it a positive number.")
        return _Quantity(math.sqrt(inner.value), inner.power // 2)

    def function(self, word: str) -> _Quantity:
        """A sine and its kin, of an angle in degrees or to one."""
        if not self.take("("):
            raise Refused("", f"“{self.text}”: write what {word} is of in brackets, as in {word}(35°).")
        kind, self.kind = self.kind, "angle" if word in TURNS else "number"
        inner = self.total()
        self.kind = kind
        self.close()
        try:
            value = (TURNS | ARCS)[word](inner.value)
        except (ValueError, ZeroDivisionError):
            value = math.nan
        if inner.power or not math.isfinite(value) or abs(value) > 1e12:
            raise Refused("", f"“{self.text}”: {word} of that has no value; change what stands in its brackets.")
        return _Quantity(value)

    def close(self) -> None:
        if not self.take(")"):
            raise Refused("", f"“{self.text}” lacks a closing bracket.")


def _unreadable(text: str, what: str) -> Refused:
    if what == ",":
        return Refused("", f"“{text}” has a comma that ends no whole number, as 8,8 does; write one number here.")
    if not what:
        return Refused("", f"“{text}” stops short; finish it, or write a plain number such as 88.")
    return Refused("", f"“{text}” cannot be read at “{what}”; write a number such as 88, 8.8 cm, 3 7/16 in or 2*36+5.")


def _plain(text: str) -> str:
    """The text with 3½ as 3 1/2 and 8-3/16 in as 8 3/16 in."""
    for sign, part in PARTS.items():
        text = re.sub(rf"(?<=\d)\s*{sign}", f" {part}", text).replace(sign, f"({part})")
    return _DASHED.sub(r"\1 \2", text)


def with_points(text: str) -> str:
    """The text with decimal points, whichever of comma and point stood for them; raises :class:`Refused` for a number
    that is another one in each reading.

    >>> with_points("8,8 cm"), with_points("1.234,5"), with_points("1,234.5"), with_points("0,125")
    ('8.8 cm', '1234.5', '1234.5', '0.125')
    """
    return _COMMAED.sub(_with_point, text)


def _with_point(found: re.Match[str]) -> str:
    number = found[0]
    if _THOUSANDS.fullmatch(number):
        return number.replace(",", "")
    if _CONTINENTAL.fullmatch(number):
        return number.replace(".", "").replace(",", ".")
    if number.count(",") != 1 or "." in number:
        raise _unreadable(number, ",")
    whole, part = number.split(",")
    if len(part) == 3 and len(whole) <= 3 and whole != "0":
        raise Refused("", f"“{number}” may be {whole}{part} or {whole}.{part}; write the one that is meant.")
    return f"{whole}.{part}"


def parts_of(text: str, count: int) -> list[str]:
    """The numbers of a point or a row that takes ``count`` of them: between semicolons, where there are any, between
    spaces, where each is a plain number, or else between commas.

    >>> parts_of("12,18,47", 3), parts_of("12,5; 18; 47", 3), parts_of("12,5 18,25", 2)
    (['12', '18', '47'], ['12,5', ' 18', ' 47'], ['12,5', '18,25'])
    """
    if ";" in text:
        return text.split(";")
    spaced = text.split()
    if len(spaced) == count > 1 and all(_PLAIN.fullmatch(part) for part in spaced):
        return spaced
    return text.split(",")


def parse_quantity(text: str, kind: str = "number", bare: float = 1.0) -> float:
    """The value of ``text`` in millimetres, degrees or as a plain number.

    ``kind`` is "length", "angle" or "number"; ``bare`` is the millimetres of a length typed without a unit.
    Raises :class:`Refused` with a remedy for anything that is not such a quantity.
    """
    if len(text) > LONGEST:
        raise Refused("", f"That is {len(text)} signs long; {LONGEST} are the most. Write the number itself.")
    if not text.strip():
        raise Refused("", "Nothing is written; write a number such as 88.")
    if "," in text:
        text = with_points(text)
    if _NUMBER.fullmatch(text):  # as most are, in tables of many
        return float(text) * (bare if kind == "length" else 1.0)
    reader = _Reader(_plain(text), kind, bare)
    result = reader.total()
    if reader.at < len(reader.tokens):
        raise _unreadable(text, reader.peek()[1])
    if kind == "length" and result.power not in (0, 1):
        raise Refused("", f"“{text}” is not a length: its units multiply. Give one of the factors no unit.")
    if result.power < 0:
        raise Refused("", f"“{text}” divides by a length; leave that unit out.")
    value = result.value * (bare if kind == "length" and result.power == 0 else 1.0)
    if not math.isfinite(value):
        raise Refused("", f"“{text}” is too large a number.")
    return value
