"""Paper sizes and frames (ISO 216, ISO 5457) and standard scales (ISO 5455)."""

from __future__ import annotations

import re
from typing import NamedTuple

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import scale_name

ISO = {"A4": (297.0, 210.0), "A3": (420.0, 297.0), "A2": (594.0, 420.0), "A1": (841.0, 594.0), "A0": (1189.0, 841.0)}
"""Those that are chosen from where none is told."""
SIZES = {**ISO, "Letter": (279.4, 215.9), "Tabloid": (431.8, 279.4)}
"""Width and height lying down, in mm."""
TILES = "A4", "A3", "A2", "A1", "Letter", "Tabloid"
"""Papers that a larger sheet may be parted over."""
LIES = ("landscape", "portrait")
SCALES = (10.0, 5.0, 2.0, 1.0, 0.5, 0.2, 0.1, 0.05, 0.02, 0.01)
"""Those that are chosen from where none is told."""
RATIO = r"[1-9]\d?:1|1:[1-9]\d{0,3}"
"""How any scale is written, the standard ones among them."""
FILING_MARGIN, MARGIN = 20.0, 10.0
STRIP_HEIGHT, STRIP_WIDTH, STRIP_ROW, IN_A_ROW = 16.0, 180.0, 9.0, 4
"""Of the title strip; the height of a further row of it, and how many cells such a row has at most."""


def scale_named(name: str) -> float | None:
    """The scale of a name, None for ``auto``; raises :class:`Refused` for what is none.

    >>> scale_named("1:40"), scale_named("2:1")
    (0.025, 2.0)
    """
    if name == "auto":
        return None
    if not re.fullmatch(RATIO, name):
        known = ", ".join(scale_name(scale) for scale in SCALES)
        raise Refused("scale", f"{name} is no scale. Take auto, a standard one, {known}, or another such as 1:40.")
    larger, smaller = (int(part) for part in name.split(":"))
    return larger / smaller


class Paper(NamedTuple):
    """A sheet of paper: its size, which way up it lies, and how many cells its strip has beside the usual ones."""

    size: str
    lie: str
    cells: int = 0

    @property
    def width(self) -> float:
        return SIZES[self.size][0 if self.lie == "landscape" else 1]

    @property
    def height(self) -> float:
        return SIZES[self.size][1 if self.lie == "landscape" else 0]

    @property
    def frame(self) -> tuple[float, float, float, float]:
        """Left, bottom, right and top of the frame."""
        return FILING_MARGIN, MARGIN, self.width - MARGIN, self.height - MARGIN

    @property
    def strip(self) -> tuple[float, float, float, float]:
        """Left, bottom, right and top of the title strip, in the lower right corner of the frame."""
        _, bottom, right, _ = self.frame
        return right - STRIP_WIDTH, bottom, right, bottom + STRIP_HEIGHT + STRIP_ROW * self.strip_rows

    @property
    def strip_rows(self) -> int:
        """The rows of the strip above the usual one."""
        return -(-self.cells // IN_A_ROW)

    @property
    def field(self) -> tuple[float, float, float, float]:
        """Left, bottom, right and top of the room for figures: the frame above the title strip."""
        left, bottom, right, top = self.frame
        return left, bottom + STRIP_HEIGHT + STRIP_ROW * self.strip_rows, right, top


def papers(size: str, lie: str, cells: int = 0) -> list[Paper]:
    """The papers that a wish allows, smallest first, with so many further cells in their strips; raises
    :class:`Refused` for an unknown one."""
    size = next((one for one in SIZES if one.lower() == size.lower()), size)
    if size != "auto" and size not in SIZES:
        raise Refused("paper", f"There is no paper “{size}” here. Take auto or one of {', '.join(SIZES)}.")
    if lie != "auto" and lie not in LIES:
        raise Refused("lie", f"Paper cannot lie “{lie}”. Take auto, landscape or portrait.")
    sizes = list(ISO) if size == "auto" else [size]
    return [Paper(one, way, cells) for one in sizes for way in (LIES if lie == "auto" else (lie,))]
