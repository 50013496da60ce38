"""Blank isometric paper."""

from __future__ import annotations

import argparse
from pathlib import Path

from wise_compass.terminal.shared.saying import pixels

SAYS = "A blank sheet of isometric grid, as paper to draw on."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("--out", required=True, type=Path, metavar="FILE", help="svg, pdf or png")
    one.add_argument("--spacing", type=float, default=5.0, metavar="MM", help="from crossing to crossing, 5 by default")
    one.add_argument("--kind", choices=("dots", "lines"), default="dots", help="what marks the crossings")
    one.add_argument("--paper", default="A4", help="A4 to A0, Letter or Tabloid")
    one.add_argument("--lie", choices=("landscape", "portrait"), default="landscape", help="which way up it lies")


def handle(args: argparse.Namespace) -> None:
    """A blank sheet of isometric grid."""
    from wise_compass.outputs.write import DRAWINGS, Output, ending_of, write
    from wise_compass.sheet.gridpaper import grid_drawing
    from wise_compass.sheet.paper import papers

    ending_of(args.out, DRAWINGS)
    paper = papers(args.paper, args.lie)[0]
    drawing = grid_drawing(paper, args.spacing, args.kind)
    write(args.out, Output([drawing], None, 1.0, "Isometric grid", False, pixels(300)), DRAWINGS)
    print(f"A sheet of {paper.size} with a grid of {args.spacing:g} mm is in {args.out.name}.")
