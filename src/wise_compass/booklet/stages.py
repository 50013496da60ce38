"""A construction parted into stages: its phases, put together or parted so that four to eight pictures tell it."""

from __future__ import annotations

from typing import NamedTuple

from wise_compass.drafting.run import Run
from wise_compass.drafting.steps import Step
from wise_compass.drafting.wording import Style

FEWEST, MOST = 4, 8


class Stage(NamedTuple):
    """Some steps that follow each other, of one phase or more."""

    title: str
    steps: tuple[Step, ...]

    @property
    def first(self) -> int:
        return self.steps[0].n

    @property
    def last(self) -> int:
        return self.steps[-1].n

    @property
    def numbers(self) -> str:
        """Its steps by their numbers."""
        return f"step {self.first}" if self.first == self.last else f"steps {self.first} to {self.last}"

    def settings(self, style: Style, scale: float) -> list[str]:
        """What its instruments are set to, each once, in their order."""
        tools: dict[str, list[str]] = {}
        for step in self.steps:
            if step.settings:
                tools.setdefault(step.tool(scale), []).append(step.setting(style, scale))
        return [f"{tool} {', '.join(dict.fromkeys(told))}" for tool, told in tools.items()]

    def says(self, style: Style, scale: float) -> str:
        """Its steps' sentences, one after the other."""
        return " ".join(step.sentence(style, scale) for step in self.steps)


def stages_of(run: Run, fewest: int = FEWEST, most: int = MOST) -> list[Stage]:
    """The stages of a run: as many as it has phases, but no more than ``most``, and no fewer than ``fewest`` where it
    has as many steps."""
    stages: list[Stage] = []
    for step in run.steps:
        if stages and stages[-1].title == step.phase:
            stages[-1] = stages[-1]._replace(steps=(*stages[-1].steps, step))
        else:
            stages.append(Stage(step.phase, (step,)))
    while len(stages) > most:
        pairs = [len(one.steps) + len(other.steps) for one, other in zip(stages, stages[1:])]
        k = pairs.index(min(pairs))
        one, other = stages[k], stages[k + 1]
        stages[k : k + 2] = [Stage(_both(one.title, other.title), one.steps + other.steps)]
    while len(stages) < min(fewest, len(run.steps)):
        sizes = [len(stage.steps) for stage in stages]
        k = sizes.index(max(sizes))
        half = (sizes[k] + 1) // 2
        one = stages[k]
        stages[k : k + 1] = [Stage(one.title, one.steps[:half]), Stage(_on(one.title), one.steps[half:])]
    return stages


def _both(one: str, other: str) -> str:
    """Two titles in one; what begins a sentence goes on in the middle of it."""
    return f"{one}; {other[:1].lower()}{other[1:]}" if other not in one else one


def _on(title: str) -> str:
    return title if title.endswith(", on") else f"{title}, on"
