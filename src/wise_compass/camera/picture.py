"""A picture file read: JPEG or PNG, the camera's own turning tag obeyed, refused in a line where it is none."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from wise_compass.camera.raster import Pixels
from wise_compass.drafting.refusals import Refused
from wise_compass.outputs.files import note_read

HEIF = (b"heic", b"heix", b"hevc", b"hevx", b"heim", b"heis", b"mif1", b"msf1", b"avif")
"""The brands of files that telephones keep pictures in (ISO/IEC 23008-12)."""
MOST_BYTES, MOST_PIXELS, LEAST_SIDE = 60_000_000, 64_000_000, 480


def read_picture(path: Path) -> Pixels:
    """The grey pixels of a picture, the right way up; raises :class:`Refused`."""
    return picture_of(_content(path), path.name)


def _content(path: Path) -> bytes:
    try:
        if not path.is_file():
            raise Refused("photo", f"{path} is no file that a picture could be read from. Check the path.")
        size = path.stat().st_size
        if size > MOST_BYTES:
            raise Refused(
                "photo", f"{path.name} is {size / 1e6:.0f} MB; a photograph is under {MOST_BYTES // 1_000_000} MB."
            )
        content = path.read_bytes()
        note_read(path)
        return content
    except OSError as error:
        raise Refused(
            "photo", f"{path} cannot be read: {(error.strerror or str(error)).lower()}. Check the path."
        ) from None


def picture_of(content: bytes, name: str = "The picture") -> Pixels:
    """The grey pixels of a picture's bytes; raises :class:`Refused` for what is no whole JPEG or PNG, or too large or
    small."""
    import io
    import warnings

    from PIL import Image, ImageOps

    if content[4:8] == b"ftyp" and content[8:12] in HEIF:
        raise Refused(
            "photo",
            f"{name} is a HEIC picture, as telephones keep them; save or send it as a JPEG, "
            "or set the camera to the most compatible format.",
        )
    if not content.startswith((b"\xff\xd8", b"\x89PNG\r\n")):
        raise Refused("photo", f"{name} is neither a JPEG nor a PNG picture. Take another file.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # of its notes a person could make nothing
            with Image.open(io.BytesIO(content)) as opened:
                width, height = opened.size
                if width * height > MOST_PIXELS:
                    most = MOST_PIXELS // 1_000_000
                    raise Refused(
                        "photo",
                        f"{name} has {width * height / 1e6:.0f} million pixels; {most} "
                        "are enough. Take a smaller picture.",
                    )
                if min(width, height) < LEAST_SIDE:
                    raise Refused(
                        "photo",
                        f"{name} has {width} × {height} pixels; a sheet needs {LEAST_SIDE} "
                        "each way at least. Take a larger picture.",
                    )
                upright = ImageOps.exif_transpose(opened)
                if upright.mode.startswith("I"):  # sixteen bits of grey, which Pillow would cut off at 255
                    return (np.asarray(upright, dtype=np.uint32) >> 8).clip(max=255).astype(np.uint8)
                return np.asarray(upright.convert("L"), dtype=np.uint8)
    except Refused:
        raise
    except Image.DecompressionBombError:
        raise Refused("photo", f"{name} has far too many pixels. Take a smaller picture.") from None
    except (OSError, ValueError, SyntaxError, EOFError, MemoryError):
        raise Refused(
            "photo", f"{name} is damaged or cut short, and cannot be read as a picture. Take another copy of it."
        ) from None
