"""Line types and weights (ISO 128-2, line group 0.7) and their tones.

The result has the widest and darkest line on the sheet; the frame is drawn narrower than ISO 5457 would have it, so
that it does not outweigh the result. Construction is narrower and paler still."""

from __future__ import annotations

from typing import NamedTuple

from wise_compass.drafting.marks import Role


class Ink(NamedTuple):
    """How a line is drawn: its width in mm, its dashes in mm (drawn, left, …) and its colour.

    What is filled in an ``edged`` ink has a line of it all round too: between neighbours nothing behind them shows.
    """

    width: float
    colour: str
    dashes: tuple[float, ...] = ()
    edged: bool = False


DARK, SOFT, FAINT = "#1F2A30", "#5F6B70", "#9DB0B8"
INKS = {
    "outline": Ink(0.7, DARK),
    "construction": Ink(0.18, FAINT),
    "projector": Ink(0.18, FAINT, (3.0, 0.75)),
    "centre": Ink(0.18, "#7C8B92", (6.0, 0.9, 0.4, 0.9)),
    "hidden": Ink(0.35, DARK, (3.0, 0.9)),
    "locus": Ink(0.18, FAINT, (5.0, 0.8, 0.4, 0.8, 0.4, 0.8)),
    "reference": Ink(0.35, DARK),
    "fold": Ink(0.25, DARK),
    "cut": Ink(0.35, DARK),
    "crease": Ink(0.25, DARK, (5.0, 1.2, 1.2, 1.2)),
    "mark": Ink(0.18, SOFT),
    "lap": Ink(0.5, DARK),
    "dimension": Ink(0.18, SOFT),
    "frame": Ink(0.5, DARK),
    "strip": Ink(0.25, DARK),
    "ring": Ink(0.25, DARK),
    "gap": Ink(0.18, "#0E6E6B"),
    "body": Ink(0.9, DARK),
    "body_hidden": Ink(0.45, DARK, (2.4, 1.2)),
    "hatch": Ink(0.13, FAINT),
    "fine_hidden": Ink(0.18, DARK, (1.6, 0.8)),
    "skin_light": Ink(0.3, "#FBF8EF", edged=True),
    "skin": Ink(0.3, "#F2ECDC", edged=True),
    "skin_dark": Ink(0.3, "#E3DBC6", edged=True),
    "shade": Ink(0.1, "#DAD5C8"),
    "cut_face": Ink(0.3, "#F0D9A8", edged=True),
    "inside": Ink(0.3, "#D9E4E0", edged=True),
    "fine": Ink(0.13, SOFT),
    "glass": Ink(0.1, "#DCE9E6"),
    "pane": Ink(0.18, "#8FB0AB"),
    "stage_before": Ink(0.13, FAINT),
    "stage_right": Ink(0.35, FAINT),
    "stage_new": Ink(0.25, DARK),
    "stage_new_dashed": Ink(0.18, DARK, (1.8, 0.7)),
    "stage_result": Ink(0.5, DARK),
    "stage_result_dashed": Ink(0.25, DARK, (1.8, 0.7)),
}
RESULT = (Role.OUTLINE, Role.HIDDEN, Role.REFERENCE, Role.FOLD)
"""The roles that stay when the construction is hidden."""
