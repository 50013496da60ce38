"""What stands in the space view: the skin of every solid is closed and turned outward, holds what is told of it, and is
as large as it was looked at."""

from __future__ import annotations

import json
import os
import unittest
from pathlib import Path

import numpy as np

from wise_compass.drafting.capabilities import Solid
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import catalogue

PINNED = Path(__file__).with_name("skins.json")
OPEN, SHEET = {"breeches", "rafter-cuts"}, {"screw-flight"}
"""Whose skin has no end to it, and what is shown from both sides."""
NEARLY = 1e-6
"""Of a skin: where holes are cut out, by how much its pieces may miss."""
FACETED = 0.06
"""The share by which a round solid holds more than the flat strips that are shown of it."""


def skin(figure: Figure, method: str) -> list[np.ndarray]:
    assert isinstance(figure, Solid)
    return [np.asarray(piece) for face in figure.skin(False, method) for piece in face.pieces or (face.corners,)]


def vector_area(corners: np.ndarray) -> np.ndarray:
    """Of a flat face, in the sense in which its corners run."""
    off = corners - corners[0]
    return np.asarray(np.cross(off[1:-1], off[2:]).sum(axis=0) / 2)


class Skins(unittest.TestCase):
    def test_every_one_is_closed_holds_what_is_told_and_is_as_it_was_looked_at(self) -> None:
        """By the divergence theorem. Where it changes on purpose: look at it in the round, then write the file anew
        with ``WISE_COMPASS_PIN=1``."""
        found = {}
        for kind in catalogue().values():
            if not issubclass(kind, Solid):
                continue
            figure = kind()
            made = run(figure)
            faces = skin(figure, made.method.id)
            areas = np.array([vector_area(face) for face in faces])
            whole = float(np.sqrt((areas**2).sum(axis=1)).sum())
            volume = -sum(float(area @ face[0]) / 3 for area, face in zip(areas, faces))
            with self.subTest(kind.id):
                closed = float(np.abs(areas.sum(axis=0)).max()) < NEARLY * whole
                self.assertEqual(closed, kind.id not in OPEN)
                told = {value.name: value.value for value in made.values}.get("volume")
                if closed and kind.id not in SHEET:
                    self.assertGreater(volume, 0.0)
                if closed and isinstance(told, float):
                    self.assertTrue(told * (1 - FACETED) < volume <= told * (1 + 1e-9), f"{volume}, told {told}")
            found[kind.id] = [round(whole, 1), round(volume, 1)]
        if os.environ.get("WISE_COMPASS_PIN"):
            PINNED.write_text(json.dumps(found, indent=0) + "\n", "utf-8")
        pinned = json.loads(PINNED.read_text("utf-8"))
        self.assertEqual(list(found), list(pinned))
        for id, sizes in found.items():
            np.testing.assert_allclose(sizes, pinned[id], atol=0.15, err_msg=id)


if __name__ == "__main__":
    unittest.main()
