"""A statement as one stream of quantities and canonical words, and where phrases stand in it."""

from __future__ import annotations

import re
from functools import cache

from wise_compass.words.folding import folded
from wise_compass.words.lexicon import Phrase, lexicon, spelled
from wise_compass.words.quantities import ALTERNATIVES, PATTERN, Quantity, Token, Word, amount, figured, spoken
from wise_compass.words.rows import group, hold_units, measure, numbered
from wise_compass.words.schools import FILLERS, LIGHT, NUMBERS, ORDINALS, PLAIN, PLAIN_POLYGONS, POLYGONS, schools
from wise_compass.words.spelling import SHORTEST, Spelling

VERBS = re.compile(r"\b(?:draw|construct|develop|sketch|plot|trace|show|find|project)\b")
AREA = re.compile(r"\s*(?:(?:square|sq\.?)\s*(?:mm|cm|m|in)\w*|(?:mm|cm|m|in)\s*(?:²|\^2|2\b))")
SIZES = ("d", "h", "l", "w", "z", "m")
"""Letters that are words where a size stands behind them: *h = 70*."""
CORNERS = re.compile(r"\b(?:[Tt]riangle|[Pp]arallelogram|[Tt]rapezium|[Rr]ectangle|[Rr]hombus)\s+([A-Z]{3,4})\b")
COSTS = {"§,": 0.7, "§and": 0.8, "§:": 0.1, "§(": 0.3, "§)": 0.3, "§;": 2.0, "§.": 2.2, "§by": 0.8}
"""What stands between a quantity and a word that tells it, each as far as it parts them; another word is ``WORD``, a
word that counts for little ``LITTLE``, another quantity ``BETWEEN``, one in words less."""
WORD, LITTLE, BETWEEN, COUNT = 0.5, 0.15, 1.6, 0.6
_ACTIVE = re.compile(r"\b(?:penetrates|pierces|passes through|goes through|runs through|enters)\b")
_SIZED = re.compile(r"\s*=?\s*\d")


@cache
def _spelling() -> Spelling:
    return Spelling(spelled(lexicon().vocabulary))


class Statement:
    """A problem as it was written: its stream of ``tokens``, the ``quantities`` among them, the ``polygons`` that are
    named (count, where, whether surely a count), scale and paper."""

    def __init__(self, text: str, bare: float = 1.0) -> None:
        """``bare`` is how many mm a length without a unit counts in."""
        self.text = text
        self.read_as: dict[str, str] = {}
        """Words that were taken for a misspelling of others."""
        self.polygons: list[tuple[int, int, int, bool]] = []
        self.quantities: list[Quantity] = []
        self.low, self.scale, self.paper = folded(text)
        self.shouts = text.upper() == text and len(re.findall(r"[A-Z]{4,}", text)) > 3
        corners = CORNERS.search(text)
        self.letters = {} if corners is None else dict(zip(corners[1], "ABCD"))
        """The corners of a figure that is named by others, as the catalogue names them."""
        self.tokens: list[Token] = []
        self._build(self._scanned())
        hold_units(self.low, self.quantities, bare)
        self.tokens = measure(self.tokens)
        numbered(self.tokens)
        self.groups = group(self.tokens, self.quantities)
        self._index()

    def says_active(self) -> bool:
        """Whether the solid that is named first is the one that goes through the other."""
        return bool(_ACTIVE.search(self.low))

    # the text into tokens

    def _scanned(self) -> list[Token]:
        """Quantities, words as they stand, and signs."""
        found: list[Token] = []
        for match in PATTERN.finditer(self.low):
            kind = next(one for one in ALTERNATIVES if match[one] is not None)
            start, end = match.span()
            if kind == "place":
                found.append(self._place(match[0], start, end))
            elif kind == "rule":
                found += [Word("3", start, start + 1), Word("4", start + 2, end), Word("5", end - 1, end)]
            elif kind == "sided":
                found += self._sided(match)
            elif kind == "ratio":
                ratio = tuple(float(part) for part in re.split(r":|\b(?:is )?to\b", match[0]))
                found.append(Quantity("ratio", 0.0, start, end, ratio=ratio))
            elif kind == "feet":
                inches = float(match["whole_feet"]) * 12 + amount(match["inches"])
                found.append(Quantity("length", inches * 25.4, start, end, "ft"))
            elif kind == "metres":
                value = float(match["whole_metres"]) * 1000 + float(match["rest"]) * 10
                found.append(Quantity("length", value, start, end, "m"))
            elif kind == "spoken":
                found.append(spoken(match))
            elif kind == "figure":
                if (area := AREA.match(self.low, match.end("value"))) is not None:
                    found.append(Word("area", start, area.end()))
                    continue
                if (match["before"] or "").strip() == "m":
                    found.append(Word("thread-size", start, end))
                    continue
                found.append(figured(match))
                found += [Word("squared", end, end + 1)] if re.match(r"\s?(?:²|\^2\b)", self.low[end : end + 3]) else []
                head = not self.shouts and re.match(r"\s+[A-Z]", self.text[end : end + 3])
                if (match["unit"] or "").endswith(".") and head:
                    found.append(Word("§.", end - 1, end))
            elif kind == "word":
                found.append(Word(match[0], start, end))
            elif match[0] != "=" and not (match[0] == "." and re.match(r"\S", self.low[end : end + 1])):
                found.append(Word(f"§{match[0]}", start, end))
        return found

    def _place(self, words: str, start: int, end: int) -> Quantity:
        before = self.low[max(0, start - 8) : start]
        label = re.search(r"([a-z])\s*[\d']?\s*(?:is|at|=|:)?\s*$", before)
        named = label is not None and not re.search(r"[a-z]{2}\s*$", before)
        return Quantity(
            "place",
            0.0,
            start,
            end,
            place=tuple(float(number) for number in re.findall(r"-?\d+(?:\.\d+)?", words)),
            label=self._lettered(label[1].upper()) if named and label is not None else "",
        )

    def _sided(self, match: re.Match[str]) -> list[Token]:
        """A polygon by its number of sides; *three sides* are a count of sides only."""
        (start, end), sides = match.span(), amount(match["sides"])
        if sides < 3 or ("sides" in match[0] and sides == 3):
            count = Quantity("number", sides, start, start + len(match["sides"]), spelled=True)
            return [count, Word("side", start, end)]
        self.polygons.append((int(sides), start, end, True))
        return [Word("pointed" if "pointed" in match[0] else "POLYGON", start, end)]

    def _build(self, raw: list[Token]) -> None:
        """The stream: words made canonical, fillers left out."""
        known, at = schools(), 0
        while at < len(raw):
            token = raw[at]
            if isinstance(token, Quantity):
                self._put_quantity(token)
                at += 1
                continue
            if token.says.startswith("§"):
                self.tokens.append(token._replace(says="§and") if token.says == "§&" else token)
                at += 1
                continue
            for many in (5, 4, 3, 2, 1):
                ahead = raw[at : at + many]
                if len(ahead) < many or any(isinstance(one, Quantity) for one in ahead):
                    continue
                meant = known.get(tuple(one.says for one in ahead))
                if meant is None or token.says in SIZES and not _SIZED.match(self.low[token.end : token.end + 8]):
                    continue
                if token.says == "square":
                    self.polygons.append((4, token.start, token.end, False))
                self._put(meant, token.start, ahead[-1].end)
                at += many
                break
            else:
                at += 1
                self._put_word(token, raw[at] if at < len(raw) else None)

    def _put(self, words: list[str], start: int, end: int) -> None:
        self.tokens += [Word(word, start, end) for word in words if word not in FILLERS]

    def _put_quantity(self, quantity: Quantity) -> None:
        self.tokens.append(quantity)
        self.quantities.append(quantity)

    def _put_word(self, token: Word, behind: Token | None) -> None:
        """A word that no row of words begins with."""
        start, end = token.start, token.end
        word, written = token.says.replace("'s", "").rstrip("'"), self.text[token.start : token.end]
        if word == "r" and _SIZED.match(self.low[end : end + 8]):
            self._put([written, "rad"], start, end)
        elif self._is_letter(written, start, end):
            self.tokens.append(Word(self._lettered(written), start, end))
        elif word in ("rmax", "rmin"):
            self._put([word, "rad"], start, end)
        elif word == "and":
            self.tokens.append(Word("§and", start, end))
        elif isinstance(behind, Quantity) and (
            word == "by" or word == "x" and self.tokens and isinstance(self.tokens[-1], Quantity)
        ):
            self.tokens.append(Word("§by", start, end))
        elif (polygon := self._polygon(word)) in POLYGONS:
            sure = polygon not in PLAIN_POLYGONS
            self.polygons.append((POLYGONS[polygon], start, end, sure))
            self._put(["POLYGON" if sure else polygon], start, end)
        else:
            if word == "equilateral":
                self.polygons.append((3, start, end, False))
            if word in ORDINALS and self._counts(end):
                self._put_quantity(
                    Quantity("number", ORDINALS[word], start, end, spelled=True, ordinal=True, says=word)
                )
                return
            vocabulary, known = lexicon().vocabulary, schools()
            for part in [word] if word in vocabulary or "-" not in word else word.split("-"):
                one = self._stem(part)
                if one in NUMBERS:
                    self._put_quantity(Quantity("number", NUMBERS[one], start, end, spelled=True, says=one))
                else:
                    self._put(known.get((one,), [one]), start, end)

    def _polygon(self, word: str) -> str:
        """A polygon's name in the singular, or with one letter mended."""
        if word in POLYGONS or word.rstrip("s") in POLYGONS:
            return word if word in POLYGONS else word.rstrip("s")
        near = _spelling().nearest(word) if len(word) >= SHORTEST and word not in lexicon().vocabulary else ""
        if near in POLYGONS:
            self.read_as[word] = near
        return near

    def _lettered(self, letters: str) -> str:
        """Letters of points as the catalogue has them: *angle P* of a triangle PQR is its angle A."""
        known = all(letter in self.letters for letter in letters)
        return "".join(self.letters[letter] for letter in letters) if known else letters

    def _is_letter(self, written: str, start: int, end: int) -> bool:
        """Whether a word is the letter of a point, or of two: *A* at the head of a sentence is none."""
        if not (written.isupper() and written.isalpha() and len(written) <= 2) or self.shouts:
            return self.shouts and written in ("P", "Q")
        heads = re.match(r"(?:^|.*[.;:]\s*)$", self.text[max(0, start - 4) : start], re.S)
        return not (written == "A" and heads and re.match(r"\s+(?!is|lies|has)[a-z]", self.text[end : end + 8]))

    def _counts(self, end: int) -> bool:
        """Whether an ordinal that ends here counts: *every third*, *the third point*."""
        before = self.tokens[-1].says if self.tokens and isinstance(self.tokens[-1], Word) else ""
        return before in ("every", "each") or bool(
            re.match(r"\s*(?:from|point|one|along|away|next)\b", self.low[end : end + 9])
        )

    def _stem(self, word: str) -> str:
        """A word as the vocabulary has it: without its ending, or with one letter mended."""
        vocabulary, known = lexicon().vocabulary, schools()
        if word in vocabulary or len(word) < 3 or word in FILLERS:
            return word
        for ending, instead in (
            ("ies", "y"), ("es", ""), ("s", ""), ("ed", ""), ("ed", "e"), ("ing", ""), ("ing", "e"),
        ):  # fmt: skip
            if word.endswith(ending) and len(word) > len(ending) + 2:
                stem = word[: -len(ending)] + instead
                if stem in vocabulary or (stem,) in known:
                    return stem
        if len(word) >= SHORTEST and word not in PLAIN and (near := _spelling().nearest(word)):
            self.read_as[word] = near
            return known[(near,)][0] if (near,) in known else near
        return word

    # where phrases stand

    def _index(self) -> None:
        self.at: dict[str, list[int]] = {}
        """Where each word stands in the stream; one in the plural stands for its singular too."""
        self._singular: dict[int, str] = {}
        vocabulary = lexicon().vocabulary
        self._runs: dict[Phrase, list[tuple[int, int]]] = {}
        self._found: dict[Phrase, tuple[int, int] | None] = {}
        self.has_angles = any(quantity.kind == "angle" for quantity in self.quantities)
        self._far = [0.0]
        for position, token in enumerate(self.tokens):
            if token.says:
                self.at.setdefault(token.says, []).append(position)
                if token.says.endswith("s") and (one := token.says[:-1]) in vocabulary:
                    self._singular[position] = one
                    self.at.setdefault(one, []).append(position)
            self._far.append(self._far[-1] + _parts(token))

    def gap(self, start: int, end: int) -> float:
        """How far the tokens from one position to another part what stands on either side."""
        return self._far[end] - self._far[start] if end > start else 0.0

    def _is(self, position: int, word: str) -> bool:
        """Whether a word stands at a position, or its plural does."""
        return self.says(position) == word or self._singular.get(position) == word

    def says(self, position: int) -> str:
        """The word at a position, empty for a quantity in figures or past the end."""
        return self.tokens[position].says if 0 <= position < len(self.tokens) else ""

    def words(self, start: int, end: int) -> list[str]:
        """The words from one position to another, without quantities."""
        return [token.says for token in self.tokens[max(0, start) : end] if isinstance(token, Word)]

    def runs(self, phrase: Phrase) -> list[tuple[int, int]]:
        """Where the words of a phrase stand one behind the other, from where to where."""
        if phrase not in self._runs:
            self._runs[phrase] = [
                (start, end)
                for start in (self.at.get(phrase[0], ()) if all(word in self.at for word in phrase) else ())
                if (end := self._run(phrase, start)) is not None
            ]
        return self._runs[phrase]

    def _run(self, phrase: Phrase, start: int) -> int | None:
        end = start + 1
        for word in phrase[1:]:
            while self.says(end) in LIGHT and not self._is(end, word):
                end += 1
            if not self._is(end, word):
                return None
            end += 1
        return end

    def has(self, phrase: Phrase) -> tuple[int, int] | None:
        """Where the words of a phrase stand in order, in one sentence and with few others between; None where they do
        not, or are denied."""
        if phrase not in self._found:
            found = self._find(phrase) if all(word in self.at for word in phrase) else None
            if found is not None and self.says(found[0] - 1) in ("without", "not", "no"):
                found = None
            self._found[phrase] = found
        return self._found[phrase]

    def first(self, phrases: tuple[Phrase, ...]) -> Phrase | None:
        """The first of some phrases that it has."""
        return next((phrase for phrase in phrases if self.has(phrase)), None)

    def _find(self, phrase: Phrase) -> tuple[int, int] | None:
        for start in self.at.get(phrase[0], ()):
            end: int | None = start + 1
            for word in phrase[1:]:
                end = self._next(word, end or 0)
                if end is None:
                    break
            if end is not None:
                return start, end
        return None

    def _next(self, word: str, at: int) -> int | None:
        """Behind the next place of a word, where few others stand before it in the sentence."""
        skipped = 0
        for position in range(at, len(self.tokens)):
            says = self.says(position)
            if self._is(position, word):
                return position + 1
            if says in ("§.", "§;"):
                return None
            skipped += says not in LIGHT
            if skipped > 3:
                return None
        return None

    def object_drawn(self) -> str:
        """The noun that a verb of drawing has for its object, where something of a figure is asked for: the *circle* of
        *draw the inscribed circle of a triangle*; empty where there is none."""
        verb = VERBS.search(self.low)
        behind = re.compile(r"\bof\b").search(self.low, verb.end()) if verb else None
        if verb is None or behind is None:
            return ""
        between = [token for token in self.tokens if verb.end() <= token.start < behind.start()]
        plain = all(isinstance(token, Word) and not token.says.startswith("§") for token in between)
        return between[-1].says if between and plain else ""

    def object_unknown(self, known: frozenset[str]) -> str:
        """A word that nobody knows where the thing that is to be drawn is named; empty where there is none."""
        for verb in VERBS.finditer(self.low):
            seen = 0
            for token in self.tokens:
                if token.start < verb.end():
                    continue
                if isinstance(token, Quantity):
                    if token.start > verb.end():
                        break
                    continue
                between = self.low[verb.end() : token.start]
                if token.says.startswith("§") or (
                    seen and re.search(r"\b(?:of|with|from|on|in|by|for|to|at|through)\b", between)
                ):
                    break
                seen += 1
                written = self.text[token.start : token.end]
                if token.says not in known and len(token.says) > 3 and (self.shouts or not written.isupper()):
                    return token.says
                if seen >= 4:
                    break
        return ""


def _parts(token: Token) -> float:
    if isinstance(token, Quantity):
        return COUNT if token.says else BETWEEN
    return LITTLE if token.says in LIGHT else COSTS.get(token.says, WORD)
