"""The one way in which bad input is answered."""

from __future__ import annotations


class Refused(Exception):
    """Something asked for cannot be: names the given, the limit for these numbers and the remedy.

    ``given`` is the id of the given at fault ("" when it is the figure or the file as a whole).
    """

    def __init__(self, given: str, says: str) -> None:
        super().__init__(says)
        self.given = given
        self.says = says
