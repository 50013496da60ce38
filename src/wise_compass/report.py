"""What the command line says of the catalogue and of runs, as data and for a person to read."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np

from wise_compass.drafting.catalogue import catalogue
from wise_compass.drafting.figure import FAMILIES
from wise_compass.drafting.recorder import ChoicePoint
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import HandsResult, Run, Scatter
from wise_compass.drafting.wording import PLAIN, Style, many, scale_name, trim
from wise_compass.outputs.record import coordinates
from wise_compass.shop.shop import Shop
from wise_compass.shop.words import told_of
from wise_compass.study.gaps import stray
from wise_compass.study.tables import Table


def listing() -> dict[str, Any]:
    """Families, figures, givens, methods and value names."""
    families: dict[str, list[dict[str, Any]]] = {}
    for figure in catalogue().values():
        families.setdefault(figure.family, []).append(
            {
                "figure": figure.id,
                "title": figure.title,
                "says": figure.summary,
                "brief": figure.sentence({}),
                "givens": [given.describe() for given in figure.givens.values()],
                "methods": [
                    {"method": m.id, "title": m.title, "exact": not m.approximate, "says": m.about, "source": m.source}
                    for m in figure.methods.values()
                ],
                "values": list(figure.value_names),
            }
        )
    return {
        "families": [{"family": family, "title": FAMILIES[family], "figures": figures} for family, figures in families.items()]
    }


def listing_text() -> str:
    return "\n".join(_listing_lines())


def _listing_lines() -> Iterator[str]:
    for family in listing()["families"]:
        yield family["title"]
        for figure in family["figures"]:
            yield f"  {figure['figure']}: {figure['says']}"
            for given in figure["givens"]:
                shown = f"{_as_typed(given['default'])} {given['unit']}".strip()
                yield f"      {given['name']} = {shown}  ({given['says']})"
            yield "      by " + ", ".join(m["method"] + ("" if m["exact"] else " (approximate)") for m in figure["methods"])


def _as_typed(default: Any) -> str:
    """A default as the command line takes it: points 0,0, rows 0,0; 70,0."""
    if not isinstance(default, list):
        return str(default)
    if default and isinstance(default[0], list):
        return "; ".join(_as_typed(row) for row in default)
    return ",".join(x if isinstance(x, str) else trim(x, 6).replace("−", "-") for x in default)


def run_text(run: Run, style: Style = PLAIN, scale: float = 1.0) -> str:
    """A run for a person: givens, steps as they are done on a sheet at ``scale``, values and proofs."""
    return "\n".join(_run_lines(run, style, scale))


def _run_lines(run: Run, style: Style, scale: float) -> Iterator[str]:
    figure = run.figure
    yield f"{figure.title}, by {run.method.title}: " + ", ".join(f"{n} {t}" for n, t in figure.says_givens(style).items())
    if scale != 1:
        yield f"Settings on the paper, at {scale_name(scale)}; true sizes in brackets."
    phase = None
    for step in run.steps:
        if step.phase != phase:
            phase = step.phase
            yield f"\n{phase}"
        keep = "keep " if step.keep else ""
        true = step.true_setting(style, scale)
        setting = keep + step.setting(style, scale) + (f" ({true})" if true else "")
        yield f"{step.n:4}  {step.tool(scale):12} {setting:>16}  {step.sentence(style, scale)}"
    yield "\nValues"
    for value in run.values:
        yield f"  {value.name:20} {style.value(value.value, value.unit):>18}   = {style.say(value.working)}"
    yield "\nProofs"
    for proof in run.proofs:
        state = "holds" if proof.holds else ("by design" if proof.by_design else "FAILS")
        yield f"  {state:10} {style.say(proof.says)}; largest miss {style.tiny(proof.miss, proof.unit)}"
    hazards = figure.hazards if figure.cut_out(run.found) else ()
    for caution in (*figure.cautions(), *hazards):
        yield f"\nCaution: {style.say(caution)}"


def _scatter(one: Scatter, scale: float) -> dict[str, Any]:
    """Of a point ``sd`` is per axis and ``limit_95`` the distance off; lengths at true size, and as they are on the paper."""
    on_paper = scale if one.unit == "mm" else 1.0
    return {
        "unit": one.unit,
        "sd": one.sd,
        "limit_95": one.limit,
        "on_paper": {"sd": one.sd * on_paper, "limit_95": one.limit * on_paper},
        "bias": one.bias,
        "most": one.most,
        "most_step": one.step,
        "most_share": one.share,
    }


def hands_record(run: Run, result: HandsResult, seed: int | None) -> dict[str, Any]:
    """The scatter of many hands as data."""
    return {
        "figure": run.figure.id,
        "method": run.method.id,
        "givens": run.figure.stored(),
        "hands": result.count,
        "seed": seed,
        "missed": result.missed,
        "scale": scale_name(result.scale),
        "points": {
            one.name: {**_scatter(one, result.scale), "sd_is": "per axis", "limit_is": "radial"} for one in result.points
        },
        "values": {one.name: _scatter(one, result.scale) for one in result.values},
    }


def hands_text(run: Run, result: HandsResult, style: Style = PLAIN) -> str:
    """The scatter of many hands for a person."""
    at = "" if result.scale == 1 else f" at {scale_name(result.scale)}"
    lines = [f"{run.figure.title}, by {run.method.title}: {result.count} unsteady hands{at}"]
    if result.missed:
        lines.append(f"{result.missed} of them found no crossing somewhere and are left out.")
    lines.append("Of a point one sd is told per axis, and the distance that 95 hands in 100 stay within.")
    if at:
        lines.append("Lengths on the paper; true sizes in brackets.")
    lines.append(f"{'':20} {'one sd':>12} {'95 in 100 within':>18}   most comes from")
    for one in (*result.points, *result.values):
        paper = result.scale if one.unit == "mm" else 1.0
        texts = [
            style.value(x * paper, one.unit) + (f" ({style.value(x, one.unit)})" if paper != 1 else "")
            for x in (one.sd, one.limit)
        ]
        lines.append(f"{style.lettered(one.name):20} {texts[0]:>12} {texts[1]:>18}   {one.most} ({one.share:.0%})")
    return "\n".join(lines)


def slips_record(run: Run, slips: Sequence[tuple[ChoicePoint, Run | Refused]]) -> dict[str, Any]:
    """For each slip the values it would give, beside the right ones."""
    units = {value.name: value.unit for value in run.values}
    rows = []
    for choice, made in slips:
        row: dict[str, Any] = {"slip": choice.id, "says": choice.says, "values": {}, "points": {}, "refused": None}
        if isinstance(made, Refused):
            row["refused"] = made.says
        else:
            for name, value in made.measured.items():
                if np.ndim(value) == 0 and name in units:
                    right = run.measured[name]
                    row["values"][name] = {"value": _number(value), "right": _number(right), "unit": units[name]}
            row["points"] = {name: coordinates(at) for name, at in made.found.items()}
            row["proofs"] = [
                {"says": PLAIN.say(p.says), "miss": _number(p.miss), "unit": p.unit, "holds": p.holds} for p in made.proofs
            ]
        rows.append(row)
    return {"figure": run.figure.id, "method": run.method.id, "givens": run.figure.stored(), "slips": rows}


def _number(value: Any) -> float | None:
    return float(value) if np.isfinite(value) else None


def slips_text(data: dict[str, Any]) -> str:
    """The slips for a person."""
    lines = [f"{data['figure']} by {data['method']}: {many(len(data['slips']), 'known slip')}"]
    for row in data["slips"]:
        lines += ["", f"{row['slip']}: {row['says']}"]
        if row["refused"]:
            lines.append(f"  The construction comes to a stop: {row['refused']}")
        for name, one in row["values"].items():
            if one["value"] is None or one["right"] is None or abs(one["value"] - one["right"]) > 1e-9:
                lines.append(
                    f"  {name:20} {PLAIN.value(one['value'], one['unit']):>16} instead of "
                    f"{PLAIN.value(one['right'], one['unit'])}"
                )
        lines += [
            f"  missed: {p['says']}, by {PLAIN.value(p['miss'], p['unit'])}" for p in row.get("proofs", ()) if not p["holds"]
        ]
    return "\n".join(lines)


def stray_record(run: Run, limit: float) -> dict[str, Any]:
    """The hand's curve against the true one: the largest gap of each curve, and what would hold ``limit`` mm."""
    made = stray(run, limit)
    if made is None:
        raise Refused("figure", f"{run.figure.title}: its lines are straight or true arcs, and no curve is joined up by hand.")
    return {
        "figure": run.figure.id,
        "method": run.method.id,
        "givens": run.figure.stored(),
        "hold": limit,
        "says": made.sentence(),
        "curves": [
            {"curve": gap.course.says, "largest": gap.largest, "at": coordinates(gap.true[gap.worst]), "where": gap.where}
            for gap in made.gaps
        ],
        "fewest_divisions": made.enough,
        "further_points": [
            {"at": coordinates(one.at), "between": list(one.between), "parameter": one.t} for one in made.extras or ()
        ],
    }


def stray_text(data: dict[str, Any]) -> str:
    """The same for a person."""
    lines = [data["says"]]
    lines += [f"  {one['curve']}: {trim(one['largest'], 4)} mm {one['where']}" for one in data["curves"]]
    if data["further_points"]:
        lines.append(f"Or these {many(len(data['further_points']), 'further point')}, where it is sharp:")
    for one in data["further_points"]:
        x, y = one["at"]
        lines.append(f"  between {one['between'][0]} and {one['between'][1]}: x {trim(x, 2)}, y {trim(y, 2)}")
    return "\n".join(lines)


def shop_text(shop: Shop, style: Style = PLAIN) -> str:
    """What a shop is told of a pattern, for a person."""
    figure = shop.run.figure
    lines = [f"{figure.title}, by {shop.run.method.title}", *(style.say(words) for words in shop.says())]
    for one in told_of(shop, style):
        lines += ["", one.heading] if one.heading else []
        lines.append(f"  {one.title:12} {one.shown:>24}   {one.working}")
    lines += ["", *(f"Caution: {style.say(words)}" for words in (*figure.cautions(), *figure.hazards))]
    return "\n".join(lines)


def table_text(table: Table) -> str:
    """A curve table for a person."""
    heads = [f"{name} {unit}".strip() for name, unit in zip(table.columns, table.units)]
    rows = [heads, *table.texts()]
    wide = [max(len(row[k]) for row in rows) for k in range(len(heads))]
    return "\n".join([table.title, *("  ".join(f"{text:>{w}}" for text, w in zip(row, wide)) for row in rows)])
