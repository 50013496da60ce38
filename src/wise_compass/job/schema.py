"""The schema of a job's file, put together from what is declared. ``python -m tools.declared`` writes it to
``schema.json``, as which it is published."""

from __future__ import annotations

from typing import Any

from wise_compass.drafting.wishes import declared
from wise_compass.job.model import VERSION, Entry, SheetPlan
from wise_compass.job.settings import UNITS, Settings
from wise_compass.outputs.files import JOB_FORMAT
from wise_compass.own.language import MOST_TEXT
from wise_compass.shop.wish import ShopWish
from wise_compass.study.tablewish import TableWish


def _words(most: int, least: int = 0) -> dict[str, Any]:
    return {"type": "string", **({"minLength": least} if least else {}), "maxLength": most}


def _wishes(holder: type) -> dict[str, Any]:
    return {name: asked.schema() for name, asked in declared(holder).items()}


def _object(properties: dict[str, Any], *required: str) -> dict[str, Any]:
    return {
        "type": "object",
        **({"required": list(required)} if required else {}),
        "additionalProperties": False,
        "properties": properties,
    }


def _list(items: dict[str, Any], most: int) -> dict[str, Any]:
    return {"type": "array", "maxItems": most, "items": items}


def job_schema() -> dict[str, Any]:
    """The schema (JSON Schema draft 7)."""
    link = {"type": "array", "minItems": 2, "maxItems": 2, "items": _words(200)}
    entry = {
        "id": _words(40),
        "figure": _words(80),
        "title": _words(200),
        "method": _words(80),
        "givens": {"type": "object"},
        "typed": {"type": "object", "additionalProperties": {"type": "string"}},
        "links": {"type": "object", "additionalProperties": link},
        "shift": {"type": ["array", "null"], "items": {"type": "number"}, "minItems": 2, "maxItems": 2},
        "notes": _words(4000),
        "stated": _words(4000),
        "own": _words(MOST_TEXT),
        **_wishes(Entry),
        "table": _object(_wishes(TableWish)),
        "shop": _object(_wishes(ShopWish)),
    }
    sheet = {"title": _words(200), **_wishes(SheetPlan), "entries": _list(_object(entry, "figure", "title"), 40)}
    dimension = {
        "name": _words(40, 1),
        "typed": _words(200),
        "kind": {"enum": ["length", "angle"]},
        "units": {"enum": list(UNITS)},
    }
    job = {
        "format": {"const": JOB_FORMAT},
        "version": {"enum": list(range(1, VERSION + 1))},
        "title": _words(200),
        "settings": _object(_wishes(Settings)),
        "dimensions": _list(_object(dimension, "name", "typed"), 500),
        "sheets": _list(_object(sheet, "title", "entries"), 500),
    }
    return {
        "$schema": "http://json-schema.org/draft-07/schema#",
        "$id": f"urn:wise-compass:job:{VERSION}",
        "title": "Wise Compass job, versions 1 and 2 (with dimensions, links and stated problems)",
        **_object(job, "format", "version", "title", "sheets"),
    }
