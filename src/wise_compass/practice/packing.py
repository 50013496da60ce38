"""The lines of a person's own way in the few signs that a code holds tightly: capitals and digits."""

from __future__ import annotations

import base64
import binascii
import zlib

from wise_compass.drafting.refusals import Refused
from wise_compass.own.language import MOST_TEXT


def packed(text: str) -> str:
    """Some lines deflated (RFC 1951) and told in base 32 (RFC 4648).

    >>> unpacked(packed("mark A at 0, 0"))
    'mark A at 0, 0'
    """
    squeezed = zlib.compressobj(9, wbits=-15)
    return base64.b32encode(squeezed.compress(text.encode()) + squeezed.flush()).decode().rstrip("=")


def unpacked(signs: str) -> str:
    """The lines again; raises :class:`Refused` for signs that hold none, or more than a construction may have."""
    fill = "=" * (-len(signs) % 8)
    try:
        data = base64.b32decode(signs.upper() + fill)
        opened = zlib.decompressobj(wbits=-15)
        text = opened.decompress(data, MOST_TEXT * 2)
        if opened.unconsumed_tail or not opened.eof:
            raise ValueError
        return text.decode()
    except (ValueError, binascii.Error, zlib.error):
        raise Refused("problem", "The code tells no way of one’s own that can be read. Copy the whole code.") from None


def without_words(text: str) -> str:
    """The lines without the person's own words behind them."""
    return "".join(f"{line.partition('#')[0].rstrip()}\n" for line in text.splitlines())
