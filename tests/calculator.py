"""A pocket calculator for workings: evaluates the formula of a value as a person would key it in, or says that it
cannot."""

from __future__ import annotations

import math
import re

SUPER = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
FUNCTIONS = ("sin", "cos", "tan", "arcsin", "arccos", "arctan", "ln")
_TOKEN = re.compile(r"\s*(\d+\.?\d*|[a-zA-Zα-ω]+|[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]+|[√π°()|+−×/^½])")


class Unkeyed(Exception):
    """The working is words, or needs more than a pocket calculator."""


class _Keys:
    def __init__(self, text: str) -> None:
        self.tokens: list[str] = []
        at = 0
        while at < len(text):
            found = _TOKEN.match(text, at)
            if not found:
                if text[at:].strip():
                    raise Unkeyed(text[at:])
                break
            self.tokens.append(found.group(1))
            at = found.end()
        self.at = 0

    @property
    def next(self) -> str:
        return self.tokens[self.at] if self.at < len(self.tokens) else ""

    def take(self, *wanted: str) -> str:
        if self.next and self.next in wanted:
            self.at += 1
            return self.tokens[self.at - 1]
        return ""

    def total(self) -> float:
        value = self.product()
        while sign := self.take("+", "−"):
            other = self.product()
            value = value + other if sign == "+" else value - other
        return value

    def product(self) -> float:
        value = self.factor()
        while True:
            if self.take("×"):
                value *= self.factor()
            elif self.take("/"):
                value /= self.factor()
            elif self.next and (
                self.next in ("(", "√", "π", "|", "½") or self.next in FUNCTIONS or self.next[0].isdigit()
            ):
                value *= self.factor()  # side by side: times
            else:
                return value

    def factor(self) -> float:
        if self.take("−"):
            return -self.factor()
        value = self.atom()
        while True:
            if self.take("°"):
                continue
            if self.take("^"):
                value = value ** self.factor()
            elif self.next and self.next[0] in "⁰¹²³⁴⁵⁶⁷⁸⁹⁻":
                value = value ** int(self.next.translate(SUPER))
                self.at += 1
            else:
                return value

    def atom(self) -> float:
        token = self.next
        self.at += 1
        if token == "(":
            value = self.total()
            self.close(")")
            return value
        if token == "|":
            value = abs(self.total())
            self.close("|")
            return value
        if token == "√":
            return math.sqrt(self.factor() if self.next != "(" else self.atom())
        if token == "π":
            return math.pi
        if token == "½":
            return 0.5
        if token in FUNCTIONS:
            return self.function(token)
        if token and token[0].isdigit():
            return float(token)
        raise Unkeyed(token)

    def function(self, name: str) -> float:
        power = 1
        if self.next and self.next[0] in "⁰¹²³⁴⁵⁶⁷⁸⁹":
            power = int(self.next.translate(SUPER))
            self.at += 1
        x = self.atom()
        while self.take("°"):
            pass
        value = {
            "sin": lambda: math.sin(math.radians(x)),
            "cos": lambda: math.cos(math.radians(x)),
            "tan": lambda: math.tan(math.radians(x)),
            "arcsin": lambda: math.degrees(math.asin(x)),
            "arccos": lambda: math.degrees(math.acos(x)),
            "arctan": lambda: math.degrees(math.atan(x)),
            "ln": lambda: math.log(x),
        }[name]()
        return float(value**power)

    def close(self, sign: str) -> None:
        if not self.take(sign):
            raise Unkeyed(self.next)


def keyed(working: str) -> float:
    """The value of a working; raises :class:`Unkeyed` where it is words."""
    text = re.split(r"[,;:]", working)[0].strip()
    in_radians = text.endswith("in radians")
    text = text.removesuffix("in radians").strip()
    if "∫" in text or "…" in text:
        raise Unkeyed(text)
    keys = _Keys(text)
    if in_radians:
        raise Unkeyed(text)
    value = keys.total()
    if keys.next:
        raise Unkeyed(keys.next)
    return value
