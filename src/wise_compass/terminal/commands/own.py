"""A construction of one's own: held against what it claims, drawn, compared, examined; or a shipped one taken out."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN
from wise_compass.terminal.shared.saying import json_option, pixels, print_json

if TYPE_CHECKING:
    from wise_compass.own.claims import Claim
    from wise_compass.own.exam import Examined
    from wise_compass.own.program import Program

SAYS = "A construction of one's own, written as steps: proved exact, or by how much it misses."
MOST_BYTES = 200_000


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("file", nargs="?", type=Path, help="its steps, a line each, or JSON")
    one.add_argument("givens", nargs="*", default=[], metavar="name=value", help="givens of a figure that is taken out")
    one.add_argument("--take", default="", metavar="FIGURE[:METHOD]", help="take a shipped construction out as steps")
    one.add_argument("--draw", type=Path, metavar="OUT", help="draw it on a sheet")
    one.add_argument("--compare", action="store_true", help="beside the shipped methods of the figure that it claims")
    one.add_argument("--allow", default="", metavar="INSTRUMENTS", help="examine it: such as compass,straightedge")
    one.add_argument("--most", type=int, default=0, metavar="N", help="examine it: how many steps it may take")
    one.add_argument("--out", type=Path, metavar="FILE", help="write the steps, as lines or as .json")
    one.add_argument("--into", type=Path, metavar="JOB", help="set it on a sheet of its own of this job")
    one.add_argument("--keep", action="store_true", help="keep it among your own ways, from job to job")
    one.add_argument("--kept", action="store_true", help="list the ways that are kept")
    json_option(one)


def handle(args: argparse.Namespace) -> None:
    from wise_compass.own.claims import Claim
    from wise_compass.own.exam import examine
    from wise_compass.own.program import program_of

    if args.take:
        _take(args)
        return
    if args.kept:
        _list_kept(args.json)
        return
    if args.file is None:
        raise Refused("file", "Name a file with the steps, or take a construction out with --take, such as ellipse.")
    program = program_of(_read(args.file))
    claim = Claim(program)
    allowed = [name for name in args.allow.split(",") if name.strip()]
    told = examine(claim, allowed, args.most)
    if args.draw:
        _draw(args.draw, claim)
    if args.out:
        _write(args.out, program)
    if args.into:
        _set_into(args.into, claim)
    if args.keep:
        _keep(program)
    if args.json:
        print_json(_record(claim, told))
    else:
        print(_text(claim, told, bool(allowed or args.most)))
        if args.compare:
            print(_compared(claim))


def _read(path: Path) -> str:
    from wise_compass.outputs.files import note_read

    try:
        if path.stat().st_size > MOST_BYTES:
            raise Refused("file", f"{path.name} is larger than {MOST_BYTES // 1000} kB; no construction is.")
        text = path.read_text("utf-8")
    except OSError as error:
        raise Refused("file", f"{path} cannot be read: {error.strerror or 'it is not there'}.") from None
    except UnicodeDecodeError:
        raise Refused("file", f"{path.name} is no text; the steps are written as lines.") from None
    note_read(path)
    return text


def _list_kept(as_json: bool) -> None:
    from wise_compass.job.ways import folder, kept

    if as_json:
        ways = [{"title": one.program.title, "figure": one.program.figure, "file": str(one.path)} for one in kept()]
        print_json({"folder": str(folder()), "kept": ways})
        return
    rows = [(one.program.title, one.program.figure or "its own truths", one.path) for one in kept()]
    for title, figure, path in rows:
        print(f"{title}  ({figure})  {path}")
    if not rows:
        print(f"No way is kept yet; --keep keeps one, in {folder()}.")


def _keep(program: Program) -> None:
    from wise_compass.job.ways import keep

    print(f"Kept as {keep(program)}.", file=sys.stderr)


def _set_into(path: Path, claim: Claim) -> None:
    """The construction on a sheet of its own at the end of a job, which is made where there is none."""
    from wise_compass.drafting.figure import OWN_WAY
    from wise_compass.job.model import Entry, Job
    from wise_compass.job.store import load, save

    program = claim.program
    if claim.figure is None:
        raise Refused("into", "A job holds figures of the catalogue; claim one, such as claim: ellipse.")
    entry = Entry(claim.figure.id, program.title, OWN_WAY, claim.figure.stored(), own=program.text)
    job = load(path) if path.exists() else Job(path.stem)
    save(job.added(entry), path)
    print(f"Set into {path.name}, sheet {len(job.sheets) + 1}.", file=sys.stderr)


def _take(args: argparse.Namespace) -> None:
    from wise_compass.drafting.figure import make
    from wise_compass.figures.catalogue import figure_named
    from wise_compass.own.taking import taken_out

    id, _, method = args.take.partition(":")
    pairs = [str(args.file)] * bool(args.file) + list(args.givens)
    typed: dict[str, object] = {}
    for pair in pairs:
        name, equals, value = pair.partition("=")
        if not equals:
            raise Refused("", f"“{pair}” is no given; write name=value, such as side=60.")
        typed[name] = value
    program = taken_out(make(figure_named(id), typed), method or None)
    if args.out:
        _write(args.out, program)
        print(f"{len(program.lines)} steps are in {args.out.name}.")
    elif args.json:
        print_json(program.data)
    else:
        print(program.text, end="")


def _write(path: Path, program: Program) -> None:
    import json

    from wise_compass.outputs.files import write_output

    data = json.dumps(program.data, ensure_ascii=False, indent=1) + "\n" if path.suffix == ".json" else program.text
    write_output(path, data)


def _draw(path: Path, claim: Claim) -> None:
    from wise_compass.outputs.write import Output, ending_of, write
    from wise_compass.sheet.compose import compose
    from wise_compass.sheet.piece import Piece, Wishes

    ending_of(path)
    made = claim.run()
    sheet = compose([Piece(made, claim.program.title)], Wishes("auto", title=claim.program.title))
    write(path, Output([sheet.drawing], made, sheet.scale, claim.program.title, False, pixels(300)))


def _text(claim: Claim, told: Examined, examined: bool) -> str:
    verdict = told.verdict
    lines = [claim.program.title, PLAIN.say(verdict.says)]
    lines += [cause.says for cause in verdict.causes]
    for sweep in verdict.sweeps:
        within = sweep.within_a_line
        if within is not None:
            low, high = (f"{value:.2f}" for value in within)
            lines.append(f"Hidden by the width of a line with {sweep.given} from {low} to {high}.")
    used = ", ".join(f"{name.lower()} {count}" for name, count in sorted(told.instruments.items()))
    lines.append(f"{told.steps} steps: {used}.")
    lines += told.faults
    if examined:
        lines.append("Passed." if told.passed else "Not passed.")
    return "\n".join(lines)


def _compared(claim: Claim) -> str:
    """Beside the shipped methods: steps, settings, and how far a steady hand strays at the worst."""
    from wise_compass.own.claims import method_of
    from wise_compass.study.compare import compare

    if claim.figure is None:
        return "Truths of one’s own have no shipped methods to stand beside."
    try:
        rows = compare(claim.figure, own=method_of(claim.program))
    except KeyError as lacking:
        return f"To stand beside the others it has to find {lacking.args[0]} too: mark it, or tell its letter."
    wide = max(len(row.method.title) for row in rows)
    lines = [f"{'method':{wide}}  steps  settings  strays"]
    for row in rows:
        if not row.refusal:
            lines.append(f"{row.method.title:{wide}}  {row.steps:5d}  {row.settings:8d}  {PLAIN.short(row.scatter)}")
    return "\n".join(lines)


def _record(claim: Claim, told: Examined) -> dict[str, Any]:
    verdict = told.verdict
    return {
        "title": claim.program.title,
        "figure": claim.program.figure,
        "verdict": verdict.kind,
        "says": PLAIN.say(verdict.says),
        "truths": [
            {"says": PLAIN.say(one.says), "miss": one.miss, "unit": one.unit, "holds": one.holds}
            for one in verdict.misses
        ],
        "worst": {"miss": verdict.others.worst, "unit": verdict.others.unit, "at": dict(verdict.worst_at)},
        "drawn": verdict.others.held,
        "unmet": verdict.others.unmet,
        "causes": [
            {"line": cause.line.number, "step": cause.line.text, "instead": cause.instead} for cause in verdict.causes
        ],
        "sweeps": [{"given": one.given, "values": one.values, "misses": one.misses} for one in verdict.sweeps],
        "instruments": dict(told.instruments),
        "steps": told.steps,
        "faults": list(told.faults),
        "passed": told.passed,
    }
