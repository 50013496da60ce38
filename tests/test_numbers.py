"""Numbers as people write and read them: what is written is read back, limits are rounded so that they can be typed,
and words stay one thing."""

from __future__ import annotations

import math
import unittest
from fractions import Fraction

from hypothesis import given, settings
from hypothesis import strategies as st

from tests import examples
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.wording import (
    INCH,
    PLAIN,
    Style,
    bare,
    bare_area,
    digits,
    least_mm,
    many,
    mm,
    most_mm,
    nth,
    power_of_ten,
    scale_name,
    sixty_fourths,
    trim,
    trim_down,
    trim_up,
    way_words,
)  # fmt: skip
from wise_compass.sheet.paper import SCALES, scale_named

LENGTHS = st.floats(-9999.0, 9999.0, allow_nan=False)
STYLES = st.builds(Style, st.sampled_from(["mm", "in"]), st.integers(0, 6), st.booleans())
quickly = settings(max_examples=examples(200), deadline=None)


def number(words: str) -> float:
    return float(words.replace("−", "-"))


class Read(unittest.TestCase):
    @quickly
    @given(st.decimals(-99999, 99999, places=4))
    def test_a_plain_number_is_what_the_whole_reader_makes_of_it(self, value: object) -> None:
        """Most of what is typed is one, and read by a way of its own."""
        for kind, size in (("length", 1.0), ("length", INCH), ("angle", INCH), ("number", INCH)):
            alone = parse_quantity(f" {value}", kind, size)
            self.assertEqual(alone, float(str(value)) * (size if kind == "length" else 1.0))
            self.assertAlmostEqual(alone, parse_quantity(f"{value} + 0", kind, size), places=9)
            self.assertAlmostEqual(alone, parse_quantity(f"({value})", kind, size), places=9)

    @quickly
    @given(LENGTHS, STYLES)
    def test_a_length_as_it_is_written_is_read_back(self, value: float, style: Style) -> None:
        words = style.length(value)
        room = style.size * 0.5000001 * 10.0 ** -(style.decimals + (style.units == "in"))
        if style.units == "in" and style.fractions:
            words, _, rest = words.removesuffix(" in").partition(" (")
            left = number(rest.rstrip(")") or "0")
            sign = -1.0 if words.startswith("−") else 1.0
            back = sign * parse_quantity(f"{words.lstrip('−')} in", "length") + left * INCH
            self.assertAlmostEqual(back, value, delta=INCH * 1e-4)
            self.assertLessEqual(abs(left), 1 / 128 + 1e-4)
            return
        self.assertAlmostEqual(parse_quantity(words.replace("−", "-"), "length"), value, delta=room)

    @quickly
    @given(st.floats(-720.0, 720.0), st.integers(0, 6))
    def test_an_angle_too(self, value: float, decimals: int) -> None:
        words = Style(decimals=decimals).angle(value).replace("−", "-")
        self.assertAlmostEqual(
            parse_quantity(words, "angle"), value, delta=0.5000001 * 10.0**-decimals + 1e-15 * abs(value)
        )

    @quickly
    @given(st.integers(0, 400), st.integers(0, 63))
    def test_sixty_fourths_are_those_of_a_rule(self, whole: int, part: int) -> None:
        exact = Fraction(64 * whole + part, 64)
        words = sixty_fourths(float(exact))
        self.assertNotIn("(", words)
        self.assertAlmostEqual(parse_quantity(f"{words} in", "length") / INCH, float(exact), places=12)
        denominators = [int(one.split("/")[1]) for one in words.split() if "/" in one]
        self.assertTrue(all(one in (2, 4, 8, 16, 32, 64) for one in denominators))

    def test_scales_are_named_as_they_are_read(self) -> None:
        for scale in SCALES:
            self.assertAlmostEqual(scale_named(scale_name(scale)), scale)


class Rounded(unittest.TestCase):
    @quickly
    @given(st.floats(-1e5, 1e5), st.integers(0, 6))
    def test_limits_are_rounded_to_the_side_on_which_they_can_be_typed(self, value: float, decimals: int) -> None:
        step = 10.0**-decimals
        up, down = number(trim_up(value, decimals)), number(trim_down(value, decimals))
        self.assertGreaterEqual(up, value - 2e-5 * step - 1e-9)
        self.assertLessEqual(down, value + 2e-5 * step + 1e-9)
        self.assertLess(up - value, step * (1 + 1e-4) + 1e-9)
        self.assertLess(value - down, step * (1 + 1e-4) + 1e-9)

    @quickly
    @given(st.floats(-1e6, 1e6), st.integers(0, 8))
    def test_no_number_ends_in_idle_zeros_or_is_less_than_nothing(self, value: float, decimals: int) -> None:
        words = trim(value, decimals)
        self.assertNotRegex(words, r"\.\d*0$|\.$")
        self.assertNotEqual(words, "−0")
        self.assertAlmostEqual(number(words), value, delta=0.5000001 * 10.0**-decimals + 1e-15 * abs(value))

    @quickly
    @given(st.floats(1e-8, 1e8))
    def test_a_working_has_seven_digits_however_small_it_is(self, value: float) -> None:
        self.assertLessEqual(abs(number(digits(value)) - value) / value, 1e-6)
        self.assertLessEqual(len(digits(value).replace(".", "").strip("0")), 15)

    @quickly
    @given(st.floats(1e-20, 1e9))
    def test_a_very_small_number_keeps_its_size(self, value: float) -> None:
        words = power_of_ten(value)
        if "×" in words:
            mantissa, power = words.split(" × 10")
            told = float(mantissa) * 10.0 ** int(power.translate(str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")))
            self.assertLessEqual(abs(told - value) / value, 0.5)
        else:
            self.assertAlmostEqual(number(words), value, delta=5.1e-5)


class Said(unittest.TestCase):
    @quickly
    @given(LENGTHS, st.sampled_from(["mm", "in"]), st.floats(0.01, 5.0))
    def test_quantities_in_a_sentence_follow_the_unit_and_the_scale(
        self, value: float, units: str, scale: float
    ) -> None:
        style = Style(units)
        sentence = f"Lay off {mm(value)}, that is {bare(value)} of {bare_area(value * value)}."
        words = style.say(sentence, scale)
        first, rest = words.removeprefix("Lay off ").split(f" {units}, that is ")
        plain, area = rest.rstrip(".").split(" of ")
        true = value * scale / style.size
        self.assertAlmostEqual(number(first), true, delta=6e-4)
        self.assertAlmostEqual(number(plain), true, delta=6e-5)
        self.assertAlmostEqual(number(area), true * true, delta=6e-5 + 1e-9 * true * true)
        self.assertEqual(style.say(words), words, "said once it stays as it is")

    @quickly
    @given(st.floats(0.001, 9999.0), st.sampled_from(["mm", "in"]))
    def test_limits_said_can_be_typed(self, value: float, units: str) -> None:
        style = Style(units)
        for limit, sign in ((least_mm(value), 1.0), (most_mm(value), -1.0)):
            typed = parse_quantity(style.say(limit), "length")
            self.assertGreaterEqual(sign * (typed - value), -1e-7 * max(value, 1.0))
            self.assertLess(abs(typed - value), 2e-4 * style.size)

    def test_spots_are_lettered_by_the_school(self) -> None:
        numbers = Style(lettering="numbers")
        for key, primes, numbered in (
            ("A.front", "a′", "a₂"), ("A.top", "a", "a₁"), ("B.3", "b₃", "b₃"), ("C12.front", "c12′", "c12₂"),
            ("T1.front.x", "t1x′", "t1x₂"),
        ):  # fmt: skip
            self.assertEqual((PLAIN.lettered(key), numbers.lettered(key)), (primes, numbered))
        self.assertEqual(PLAIN.say("From A.top to B.front, 3.5 mm."), "From a to b′, 3.5 mm.")

    def test_ordinals_and_so_many(self) -> None:
        for count in range(1, 400):
            ending = nth(count).removeprefix(str(count))
            if count % 100 in (11, 12, 13):
                self.assertEqual(ending, "th")
            else:
                self.assertEqual(ending, {1: "st", 2: "nd", 3: "rd"}.get(count % 10, "th"))
            self.assertEqual(many(count, "row").endswith("s"), count != 1)

    def test_a_way_of_the_sheet_is_told_as_it_points(self) -> None:
        for turn in range(0, 360, 5):
            words = way_words((math.cos(math.radians(turn)), math.sin(math.radians(turn))))
            self.assertTrue(words, f"{turn}")
            self.assertEqual("up" in words, 25 <= turn <= 155, f"{turn}: {words}")
            self.assertEqual("left" in words, 115 <= turn <= 245, f"{turn}: {words}")


if __name__ == "__main__":
    unittest.main()
