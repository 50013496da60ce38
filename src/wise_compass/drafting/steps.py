"""Steps: what the hand does, in order, with the setting of each instrument."""

from __future__ import annotations

from dataclasses import dataclass, field

from wise_compass.drafting.marks import Mark, Spot
from wise_compass.drafting.wording import PLAIN, Style


@dataclass(slots=True)
class Setting:
    """What an instrument is set to: a value with its unit, or words."""

    value: float = 0.0
    unit: str = ""
    words: str = ""

    def text(self, style: Style = PLAIN) -> str:
        if self.words:
            return self.words
        return style.angle(self.value) if self.unit == "°" else style.quantity(self.value, self.unit)


@dataclass(slots=True)
class Step:
    """One step. ``heading`` groups the steps of a move such as dividing a line; ``keep`` says that the instrument
    still stands at this setting from before."""

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

    def setting(self, style: Style = PLAIN) -> str:
        """The settings as text; a long row is told by its ends."""
        texts = [setting.text(style) for setting in self.settings]
        if len(texts) > 3:
            texts = [texts[0], "…", texts[-1]]
        return "  ".join(texts)

    def sentence(self) -> str:
        """The sentence, with the spots found at this step named at its end if it does not name them itself."""
        words = set(self.says.replace(",", " ").replace(".", " ").split())
        names = [
            spot.name for spot in self.spots if spot.name and spot.kind not in ("plain", "label") and spot.name not in words
        ]
        if not names:
            return self.says
        if len(names) > 3:
            listed = f"{names[0]} … {names[-1]}"
        else:
            listed = " and ".join(names) if len(names) < 3 else f"{names[0]}, {names[1]} and {names[2]}"
        return f"{self.says} Mark {listed}.".strip()
