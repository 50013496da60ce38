"""How a given is worked out of what was told instead: arithmetic of names, and how it is said."""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Callable, Mapping
from functools import cache

_SIGNS: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
}

_FUNCTIONS: dict[str, Callable[[float], float]] = {
    "sqrt": math.sqrt,
    "sind": lambda angle: math.sin(math.radians(angle)),
    "round": lambda number: float(round(number)),
    "atand": lambda slope: math.degrees(math.atan(slope)),
}


@cache
def _tree(expression: str) -> ast.expr:
    return ast.parse(expression, mode="eval").body


def worked(expression: str, values: Mapping[str, object]) -> float | None:
    """The value of an expression of names, numbers, + − × ÷, ``sqrt``, ``round``, ``sind``, the sine of degrees,
    and ``atand``, which is in degrees; None where a name has no number yet, or there is no such number.

    >>> worked("height-q", {"height": 70.0, "q": 20.0}), worked("sqrt(long*long-q*q)", {"long": 3.0, "q": 5.0})
    (50.0, None)
    """
    try:
        return _value(_tree(expression), values)
    except (KeyError, ValueError, ZeroDivisionError):
        return None


def _value(node: ast.expr, values: Mapping[str, object]) -> float:
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float):
        return float(node.value)
    if isinstance(node, ast.Name):
        value = values[node.id]
        if not isinstance(value, int | float):
            raise KeyError(node.id)
        return float(value)
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        return -_value(node.operand, values)
    if isinstance(node, ast.BinOp):
        return _SIGNS[type(node.op)](_value(node.left, values), _value(node.right, values))
    if isinstance(node, ast.Call):
        value = _value(node.args[0], values)
        return _FUNCTIONS[node.func.id if isinstance(node.func, ast.Name) else ""](value)
    raise TypeError(f"{ast.dump(node)} is no working")


def names_in(expression: str) -> set[str]:
    """The names that an expression works with.

    >>> sorted(names_in("sqrt(long*long-q*q)"))
    ['long', 'q', 'sqrt']
    """
    return {node.id for node in ast.walk(_tree(expression)) if isinstance(node, ast.Name)}


def said(expression: str, values: Mapping[str, object]) -> str:
    """The same with its numbers, as it is told to a person.

    >>> said("height-q", {"height": 70.0, "q": 20.0})
    '70 − 20'
    """

    def number(name: re.Match[str]) -> str:
        value = values.get(name[0])
        return f"{value:g}" if isinstance(value, int | float) else name[0]

    told = (
        re.sub(r"[A-Za-z_]\w*", number, expression)
        .replace("sqrt", "√")
        .replace("sind", "sin")
        .replace("atand", "arctan ")
    )
    for sign, signed in (("*", " × "), ("-", " − "), ("/", " ÷ "), ("+", " + ")):
        told = told.replace(sign, signed)
    return told.strip()
