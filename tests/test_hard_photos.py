"""Photographs as schools take them: squared paper, a ruler over the frame, a lens that bends, a telephone's format."""

from __future__ import annotations

import unittest
from collections.abc import Callable

import cv2
import numpy as np

from tests.test_blunders import ELLIPSE
from tests.test_camera import SHOT
from wise_compass.camera.judging import judged
from wise_compass.camera.laid import Laid, laid_of
from wise_compass.camera.pencil import Penned, pencilled
from wise_compass.camera.picture import picture_of
from wise_compass.camera.reading import read_pixels
from wise_compass.camera.stand_in import Shot, jpeg, photographed
from wise_compass.drafting.refusals import Refused


def squared(penned: Penned, laid: Laid) -> None:
    """Squares of 5 mm, printed pale under everything."""
    drawn = penned.surface.pixels.copy()
    penned.surface.pixels[:] = 255
    for x in np.arange(0.0, laid.paper.width, 5.0):
        penned.surface.stroke(np.array([[x, 0.0], [x, laid.paper.height]]), 0.15, 205)
    for y in np.arange(0.0, laid.paper.height, 5.0):
        penned.surface.stroke(np.array([[0.0, y], [laid.paper.width, y]]), 0.15, 205)
    np.minimum(penned.surface.pixels, drawn, out=penned.surface.pixels)


def ruler(penned: Penned, laid: Laid) -> None:
    """A grey rule with its marks, lying aslant over the upper side of the frame."""
    surface, high = penned.surface, penned.surface.pixels.shape[0]
    box = np.array([[60.0, 170.0], [85.0, 170.0], [105.0, 215.0], [80.0, 215.0]])
    pixels = np.stack([box[:, 0] * surface.fine, high - box[:, 1] * surface.fine], axis=1).astype(np.int32)
    cv2.fillPoly(surface.pixels, [pixels], (200,))
    cv2.polylines(surface.pixels, [pixels], True, (120,), 4)
    for k in range(40):
        at = box[0] + (box[3] - box[0]) * k / 40
        surface.stroke(np.array([at, at + [4.0, 0.0]]), 0.2, 40)


class Hard(unittest.TestCase):
    def read(self, shot: Shot = SHOT, change: Callable[[Penned, Laid], None] | None = None) -> None:
        """It is squared up, every point that is found is found where it shows, and the drawing is honest."""
        laid = laid_of(ELLIPSE)
        penned = pencilled(laid, 2)
        if change is not None:
            change(penned, laid)
        reading = read_pixels(picture_of(jpeg(photographed(penned, shot))))
        misses = [np.hypot(*(at - penned.points[name])) for name, at in reading.points.items()]
        self.assertGreaterEqual(len(misses), 12)
        self.assertLess(max(misses), 0.5)
        self.assertEqual(judged(reading).kind, "honest")

    def test_squared_paper(self) -> None:
        self.read(change=squared)

    def test_a_ruler_over_the_frame(self) -> None:
        self.read(change=ruler)

    def test_a_lens_that_bends(self) -> None:
        for bend in (-0.25, 0.1):
            with self.subTest(bend=bend):
                self.read(SHOT._replace(bend=bend))

    def test_a_telephones_own_format_is_refused_by_its_name(self) -> None:
        with self.assertRaises(Refused) as caught:
            picture_of(b"\x00\x00\x00\x18ftypheic" + bytes(200), "IMG_4.HEIC")
        self.assertIn("HEIC", caught.exception.says)
        self.assertIn("JPEG", caught.exception.says)


if __name__ == "__main__":
    unittest.main()
