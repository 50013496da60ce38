"""What may be wished for, declared once: beside the type and the default of a field stands a :class:`Wish`, and schema,
docs, command line and desk read it from there.

>>> class Bread(NamedTuple):
...     slices: Annotated[int, Wish("how many slices", least=1, most=20)] = 2
>>> declared(Bread)["slices"].schema()
{'type': 'integer', 'minimum': 1, 'maximum': 20}
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import MISSING, fields, is_dataclass
from functools import cache
from typing import Annotated, Any, NamedTuple, get_args, get_origin, get_type_hints

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import mm, trim


class Wish(NamedTuple):
    """What a field is for, and what it may hold.

    ``says`` ends the sentence "it asks for …"; ``options`` are the words of a choice, each with what the desk calls it;
    ``form`` is how other words than those are written (a regular expression), as ``such`` is; numbers go from ``least``
    to ``most``, and 0 is none where ``least`` is more. ``title`` heads its list at the desk,
    ``typed`` is its option on the command line where that is not the field's name, ``unit`` what its numbers count.
    """

    says: str
    options: Mapping[str, str] = {}
    least: float = 0
    most: float | None = None
    title: str = ""
    typed: str = ""
    unit: str = ""
    form: str = ""
    such: str = ""


class Asked(NamedTuple):
    """A wish with the field that it stands at: its name, its type and its default."""

    name: str
    kind: type
    default: Any
    wish: Wish

    @property
    def option(self) -> str:
        """Its option on the command line."""
        return f"--{(self.wish.typed or self.name).replace('_', '-')}"

    def schema(self) -> dict[str, Any]:
        """What a job's file may hold of it, as JSON schema (draft 7)."""
        one: dict[str, Any]
        if self.is_text:
            one = {"type": "string", "maxLength": int(self.wish.most or 0)}
        elif self.wish.form:
            one = {"type": "string", "pattern": f"^({'|'.join((*self.wish.options, self.wish.form))})$"}
        elif self.wish.options:
            one = {"enum": list(self.wish.options)}
        elif self.kind is bool:
            one = {"type": "boolean"}
        else:
            one = {"type": "integer" if self.kind is int else "number", "minimum": self.lowest}
            if self.wish.most is not None:
                one["maximum"] = self.wish.most
        return {"type": "array", "maxItems": 8, "items": one} if self.kind is tuple else one

    @property
    def is_text(self) -> bool:
        """Whether it holds any words, ``most`` letters of them."""
        return self.kind is str and not self.wish.options and not self.wish.form

    @property
    def lowest(self) -> float:
        """The least number that may be held: 0 where that stands for none."""
        return 0 if self.default == 0 and self.wish.least > 0 else self.wish.least

    def check(self, value: Any) -> None:
        """Raise :class:`Refused` for a value out of bounds, or a word that is none of the options."""
        name, wish = self.name, self.wish
        if self.is_text and len(value) > (wish.most or 0):
            raise Refused(name, f"{name} has {len(value)} letters; there is room for {wish.most:g}. Shorten it.")
        if wish.options and value not in wish.options and not (wish.form and re.fullmatch(wish.form, str(value))):
            such = f", or such as {wish.such}" if wish.form else ""
            words = ", ".join(word for word in wish.options if word)
            raise Refused(name, f"“{value}” is no {name}; take {words}{such}.")
        if self.kind not in (int, float) or (value == 0 and self.lowest == 0):
            return
        most = float("inf") if wish.most is None else wish.most
        if not wish.least <= value <= most:
            said = mm if wish.unit == "mm" else trim
            limits = (
                f"from {said(wish.least)} to {said(most)}" if wish.most is not None else f"from {said(wish.least)} up"
            )
            away = ", or leave it away" if self.lowest < wish.least and value < wish.least else ""
            raise Refused(
                name, f"{name} is {said(value)}; it goes {limits}. {'Lower' if value > most else 'Raise'} {name}{away}."
            )


@cache
def declared(holder: type) -> dict[str, Asked]:
    """The wishes of a tuple or a dataclass, by the names of their fields, in order."""
    if is_dataclass(holder):
        defaults = {one.name: one.default for one in fields(holder) if one.default is not MISSING}
    else:
        defaults = dict(holder._field_defaults)  # type: ignore[attr-defined]
    found: dict[str, Asked] = {}
    for name, hint in get_type_hints(holder, include_extras=True).items():
        if get_origin(hint) is Annotated:
            kind, *told = get_args(hint)
            wish = next((one for one in told if isinstance(one, Wish)), None)
            if wish is not None:
                found[name] = Asked(name, get_origin(kind) or kind, defaults[name], wish)
    return found
