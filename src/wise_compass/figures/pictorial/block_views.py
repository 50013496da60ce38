"""The three views of solids built of blocks, and which way each is looked."""

from __future__ import annotations

from wise_compass.figures.pictorial.axes import Axes

VIEWS = {
    "front": Axes((180.0, 0.0, 90.0), (1.0, 0.0, 1.0)),
    "top": Axes((180.0, 90.0, 0.0), (1.0, 1.0, 0.0)),
    "side": Axes((0.0, 0.0, 90.0), (0.0, 1.0, 1.0)),
}
"""The three views, by how their axes lie and whether they are seen at all."""
EYES = {"front": (0.0, -1.0, 0.0), "top": (0.0, 0.0, 1.0), "side": (-1.0, 0.0, 0.0), "plan": (0.0, 0.0, 1.0)}
HIDDEN = {view: next(k for k in range(3) if eye[k]) for view, eye in EYES.items()}
"""The axis along which each is looked."""
