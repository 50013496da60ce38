"""Constructions written down for the tests: known exact ones, and known approximate ones with what they miss by."""

from __future__ import annotations

import math

from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import figure_named

PENTAGON = """
title: Boss of the floor, five-sided
claim: polygon-on-side sides=5 side=60
mark A at 0, 0
level a from A
lay off B on a from A: side
middle M of AB
upright u from B
arc k about B: AB
meet P of u and k, upper
circle m about M: MP
meet R of a and m, right
arc n about A: AR
arc o about B: AB
meet C of n and o, upper
arc p about A: AR
arc q about B: AR
meet D of p and q, upper
arc r about A: AB
arc s about B: AR
meet E of r and s, upper
line in A B C D E A
"""
GOLDEN = """
title: Golden section of a sail stock
givens: long=90
claim: AB/AG = AG/GB
mark A at 0, 0
level a from A
lay off B on a from A: long
upright u from B
lay off C on u from B: AB/2
line c through A and C
circle k about C: CB
meet D of c and k, lower
circle m about A: AD
meet G of a and m, right
"""
TANGENT = """
title: Strap to the pulley
givens: r=20 far=70
claim: a touches k
claim: T on k
mark O at 0, 0
mark P at far, 0
circle k about O: r
middle M of OP
circle m about M: MP
meet T of k and m, upper
line a through P and T
"""
CIRCLES = """
title: A roller between two
givens: r=20 s=14 t=9 far=50
claim: n touches k
claim: n touches m
mark O at 0, 0
mark P at far, 0
circle k about O: r
circle m about P: s
circle a about O: r + t
circle b about P: s + t
meet C of a and b, upper
circle n about C: t
"""
SEVENTEEN = """
mark O at 0, 0
circle k about O: diameter/2
level a from O
upright b from O
meet A of a and k, right
lay off I on b from O: OA/4
line c through I and A
arc m about I: IO
meet R of c and m, right
bisect OR: d
meet S of d and m, lower
bisect OS: e
meet E of e and a
ray f from I at -45 from IE
meet F of f and a
middle M of AF
circle n about M: MA
meet K of n and b, upper
circle p about E: EK
meet N of p and a, right
meet Q of p and a, left
square s to a from N
meet D of s and k, upper
square t to a from Q
meet G of t and k, upper
bisect DG: u
meet T of u and k, upper
step DT round k from A: {names}
line in A {names} A
"""
HEPTAGON = """
title: Heptagon by the half side of the triangle
claim: polygon-in-circle sides=7 diameter=100
mark O at 0, 0
circle k about O: diameter/2
upright u from O
meet A of u and k, upper
arc h about A: OA
meet P of h and k, left
meet Q of h and k, right
line a through P and Q
meet M of a and u
step PM round k from A: B C D E F G
line in A B C D E F G A
"""
THIRD = """
givens: arm=60 turn=54
claim: angle DAB = turn/3
mark A at 0, 0
level a from A
lay off B on a from A: arm
ray b from A at turn
"""
BY_CHORD = f"""title: A third by the chord{THIRD}lay off C on b from A: arm
line k through B and C
step BC/3 along k from B: D E
"""
BY_HEIGHT = f"""title: A third by the height{THIRD}upright u from B
meet C of u and b
step BC/3 along u from B: D E
"""
BY_QUARTERS = f"""title: A quarter and a quarter of that{THIRD}circle k about A: arm
meet C of b and k, upper
bisect BC: c
meet P of c and k, right
bisect BP: d
meet Q of d and k, right
bisect BQ: e
meet R of e and k, right
bisect BR: f
meet S of f and k, right
step QS round k from Q: T
step BQ round k from B: U
step BS round k from U: D
"""
SQUARED = """
title: A square for a round window
givens: r=45
claim: area ABCD = 3.141592653589793*r*r
mark A at 0, 0
level a from A
lay off B on a from A: r*16/9
upright u from A
upright v from B
lay off D on u from A: AB
lay off C on v from B: AB
"""
EXACT = {"pentagon": PENTAGON, "golden": GOLDEN, "tangent": TANGENT, "circles": CIRCLES}


def seventeen() -> str:
    """Seventeen sides by the quartered angle, with the letters that the catalogue's polygon has."""
    figure = figure_named("polygon-in-circle")(sides=17, diameter=100.0)
    theirs = [name for name in run(figure).found if name != "O" and run(figure).spots[name].kind != "plain"][:17]
    names = [f"P{k}" for k in range(1, 17)]
    letters = " ".join(f"{one}={own}" for one, own in zip(theirs, ["A", *names]))
    head = f"title: Seventeen teeth\nclaim: polygon-in-circle sides=17 diameter=100\nletters: {letters}"
    return head + SEVENTEEN.format(names=" ".join(names))


def heptagon_misses() -> float:
    """The last side left over, against the true one."""
    step = 2 * math.asin(math.sqrt(3) / 4)
    return abs(100 * math.sin((2 * math.pi - 6 * step) / 2) - 100 * math.sin(math.pi / 7))


def third_misses(kind: str) -> float:
    """By how many degrees a third of 54° is missed."""
    turn = math.radians(54)
    drawn = {
        "chord": math.atan2(math.sin(turn) / 3, 1 - (1 - math.cos(turn)) / 3),
        "height": math.atan(math.tan(turn) / 3),
        "quarters": turn * 5 / 16,
    }[kind]
    return abs(math.degrees(drawn) - 18)


def square_misses() -> float:
    """By how much the side of the square would have to change for the area to be the circle's, to first order twice."""
    side = 45 * 16 / 9
    return abs(side**2 - math.pi * 45**2) / side
