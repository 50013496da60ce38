"""Steps: what the hand does, in order, with the setting of each instrument on the sheet that is drawn on.

Runs know true sizes. A step tells what is set on a sheet at a scale (``Step.tool``, ``setting``, ``true_setting``), and
hands stray on the paper: ``run_hands(…, scale)`` makes the same slip of the pencil so much more in the field. Values,
proofs, tables and dimensions stay true.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from wise_compass.drafting.kit import COMPASS_REACH
from wise_compass.drafting.marks import Mark, Spot
from wise_compass.drafting.wording import PLAIN, Style, scale_name


@dataclass(slots=True, eq=False, repr=False)
class Setting:
    """What an instrument is set to: a value with its unit, at true size, or words."""

    value: float = 0.0
    unit: str = ""
    words: str = ""

    def on_paper(self, scale: float) -> float:
        """What is set on the paper of a sheet at ``scale``: lengths shrink with it, angles stay."""
        return self.value * scale if self.unit == "mm" else self.value

    def text(self, style: Style = PLAIN, scale: float = 1.0) -> str:
        """The setting on the paper, as it is read off the instrument."""
        if self.words:
            return style.lettered(self.words)
        return style.angle(self.value) if self.unit == "°" else style.quantity(self.on_paper(scale), self.unit)


@dataclass(slots=True, eq=False, repr=False)
class Step:
    """One step. ``heading`` groups the steps of a move such as dividing a line; ``keep`` says that the instrument still
    stands at this setting from before; ``apart`` what it draws, where that lies in none of the views; ``reach`` what
    the drafter's bow compass opens to."""

    n: int
    phase: str
    heading: str
    instrument: str
    says: str = ""
    why: str = ""
    settings: list[Setting] = field(default_factory=list)
    keep: bool = False
    spots: list[Spot] = field(default_factory=list)
    marks: list[Mark] = field(default_factory=list)
    apart: str = ""
    reach: float = COMPASS_REACH

    def tool(self, scale: float = 1.0) -> str:
        """The instrument that serves on a sheet at ``scale``: a beam compass where the opening on the paper asks for
        it."""
        lengths = [setting.on_paper(scale) for setting in self.settings if setting.unit == "mm"]
        if self.instrument == "Compass" and max(lengths, default=0.0) > self.reach:
            return "Beam compass"
        if self.instrument == "Rule" and scale != 1:
            return f"Scale rule {scale_name(scale)}"
        return self.instrument

    def setting(self, style: Style = PLAIN, scale: float = 1.0) -> str:
        """The settings on the paper as text; a long row is told by its ends."""
        return _row([setting.text(style, scale) for setting in self.settings])

    def true_setting(self, style: Style = PLAIN, scale: float = 1.0) -> str:
        """The lengths set at their true size, where the sheet is not drawn at it; empty where it is, or none is set."""
        if scale == 1:
            return ""
        return _row([setting.text(style) for setting in self.settings if setting.unit == "mm"])

    def sentence(self, style: Style = PLAIN, scale: float = 1.0) -> str:
        """The sentence, with the spots found at this step named at its end if it does not name them itself."""
        words = set(self.says.replace(",", " ").replace(". ", " ").rstrip(".").replace(":", " ").split())
        names = [
            spot.name
            for spot in self.spots
            if spot.name and spot.kind not in ("plain", "label") and spot.name not in words
        ]
        says = self.says
        if names:
            listed = (
                f"{names[0]} … {names[-1]}"
                if len(names) > 3
                else " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)
            )
            says = f"{says} Mark {listed}.".strip()
        return style.say(says, scale)

    def reason(self, style: Style = PLAIN) -> str:
        """Why, at true size."""
        return style.say(self.why)


def _row(texts: list[str]) -> str:
    if len(texts) > 3:
        texts = [texts[0], "…", texts[-1]]
    return "  ".join(texts)
