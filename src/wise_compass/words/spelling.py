"""A word one letter wrong, found by the symmetric deletion of letters: two words are one letter apart where taking a
letter away from each, or from one, leaves the same."""

from __future__ import annotations

from collections.abc import Iterable

SHORTEST = 5
"""Letters under which no word is taken for a misspelling of another."""


class Spelling:
    """An index of words by what is left of each without one of its letters.

    >>> spelling = Spelling(["hexagon", "prism"])
    >>> spelling.nearest("hexegon"), spelling.nearest("prisms"), spelling.nearest("cubes")
    ('hexagon', '', '')
    """

    def __init__(self, words: Iterable[str]) -> None:
        self._left: dict[str, set[str]] = {}
        for word in words:
            if len(word) >= SHORTEST and word.isalpha():
                for left in (word, *_without_one(word)):
                    self._left.setdefault(left, set()).add(word)

    def nearest(self, word: str) -> str:
        """The word that this may be meant for; empty where there is none, or it is a plural."""
        found = set(self._left.get(word, ()))
        for left in _without_one(word):
            found |= self._left.get(left, set())
        near = [
            one for one in found if one[:2] == word[:2] and abs(len(one) - len(word)) <= 1 and word not in (one + "s",)
        ]
        return min(near, key=lambda one: (abs(len(one) - len(word)), one), default="")


def _without_one(word: str) -> list[str]:
    return [word[:k] + word[k + 1 :] for k in range(len(word))]
