"""How a hand finds the cuts of rafters: the hip by level lines, its triangle, and what is folded down."""

from __future__ import annotations

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.wording import mm, trim
from wise_compass.figures.roofs.rafters import GAP, RafterCuts
from wise_compass.geometry.vectors import direction, tand


def _plan(g: RafterCuts, d: Draft) -> tuple[Spot, Spot, list[LineMark], list[tuple[Spot, Spot]]]:
    """The corner, H under the hip's top, both eaves, and the slant side of each pitch's triangle."""
    reach = [max(abs(along), g.hip_plan * 0.5) * 1.15 for along in g.alongs]
    with d.phase("The corner"):
        a = d.start_at("A", says="Mark A, the corner of the eaves.")
        eaves = [d.level_from(a, "Draw the first eave level.", length=reach[0])]
        eaves.append(d.ray(a, g.corner, f"Draw the second at {trim(g.corner)}°.", length=reach[1]))
        for k, eave in enumerate(eaves):
            eave.extent(min(g.alongs[k] * 1.1, 0.0), reach[k])
    slants: list[tuple[Spot, Spot]] = []
    runs = []
    left = min(
        0.0,
        *(float(x) for x in (g.hip_plan * g.hip_way)[:1]),
        *(float((r * g.eave(k))[0]) for k, r in enumerate(reach)),
    )
    left -= max(g.commons) + GAP
    with d.phase("The pitches"):
        for k, pitch in enumerate(g.pitches):
            x = left - sum(g.runs[:k]) - k * GAP
            begin = d.plot("", x, 0.0, f"Beside the plan begin the triangle of pitch {k + 1}.", "plain")
            base = d.level_from(begin, "Draw its base level.", length=-g.runs[k])
            post = d.upright_from(begin, "And the rise upright.", length=g.rise)
            top = d.lay_off(post, begin, g.rise, "", "Lay the rise off.", kind="plain")
            slope = d.ray(top, 180.0 + pitch, f"From its top draw the slope, {trim(pitch)}° to level.")
            low = d.meet(slope, base)
            runs.append(d.opening(begin, low))
            slants.append((low, top))
    common_for_hip = d.choice(
        "runs-exchanged",
        right=False,
        slip=True,
        when=abs(g.pitch_1 - g.pitch_2) > 0.5,
        says="The runs of both pitches are exchanged: each level line is drawn for the other slope.",
    )
    if common_for_hip:
        runs.reverse()
    with d.phase("The hip in plan"):
        lines = []
        for k, eave in enumerate(eaves):
            side = 1.0 if k == 0 else -1.0
            with d.as_one(
                "Dividers", f"Draw the level line of slope {k + 1}: parallel to its eave, its run off inside."
            ):
                square = d.square_to(eave, a)
                lines.append(d.parallel_to(eave, d.lay_off(square, a, runs[k], "", kind="plain", way=side)))
        h = d.meet(lines[0], lines[1], "H")
        d.rule(a, h, "Join A to H, where they meet: the plan of the hip.")
    return a, h, eaves, slants


def _slopes(g: RafterCuts, d: Draft, a: Spot, h: Spot, eaves: list[LineMark], slants: list[tuple[Spot, Spot]]) -> None:
    """Both slopes folded down about their eaves, with their jacks."""
    wrong = d.choice(
        "run-for-common",
        right=False,
        slip=True,
        says="On the slopes the runs are laid off as the plan has them, not the commons.",
    )
    for k, eave in enumerate(eaves):
        n, side = k + 1, (-1.0 if k == 0 else 1.0)
        with d.phase(f"Slope {n} folded down"), d.apart("pattern"):
            square = d.square_to(eave, h, f"From H draw square to eave {n}, and on.")
            foot = d.meet(square, eave, f"F{n}", kind="plain")
            taken = d.opening(foot, h) if wrong else d.opening(*slants[k])
            top = d.lay_off(square, foot, taken, f"W{n}", f"Beyond the eave lay off the common: W{n}.", way=side)
            hip = d.rule(a, top, f"Join A to W{n}: the hip on slope {n}.")
            if g.squarely(k):
                continue
            for j in range(1, g.jacks(k) + 1):
                way = 1.0 if g.alongs[k] > 0 else -1.0
                says = f"At {mm(j * g.spacing)} from A draw jack {j} square to the eave, up to the hip."
                with d.as_one("Set square", says):
                    kind = "found" if j == 1 else "plain"
                    begin = d.lay_off(eave, a, way * j * g.spacing, f"E{n}{j}", kind=kind)
                    d.meet(d.square_to(eave, begin), hip, f"J{n}{j}", kind=kind)
    with d.phase("Line in"):
        for k in range(2):
            with d.as_one("Straightedge", f"Line in slope {k + 1} as it is folded down."), d.apart("pattern"):
                d.line_in([d.spots[f"F{k + 1}"], d.spots[f"W{k + 1}"], a])
        with d.as_one("Straightedge", "Line in the hip’s triangle."), d.apart("pattern"):
            d.line_in([a, d.spots["T"], h])
        with d.as_one("Straightedge", "Line in eaves and hip of the plan."):
            ends = [d.on(eave, max(eave.hi, 1.0)) for eave in eaves]
            d.line_in([ends[0], a, ends[1]])
            d.line_in([a, h])


def _hip_triangle(g: RafterCuts, d: Draft, a: Spot, h: Spot, slants: list[tuple[Spot, Spot]]) -> LineMark:
    """The hip on its plan, folded down about it."""
    pitch = d.choice(
        "common-for-hip",
        right=False,
        slip=True,
        says="The common’s pitch is used on the hip: its length is set off at it.",
    )
    with d.phase("The hip’s triangle"):
        plan = d.rule(a, h, "Take the hip’s plan.")
        square = d.square_to(plan, h, "At H draw square to it.")
        rise = g.hip_plan * float(tand(g.pitch_1)) if pitch else g.rise
        t = d.lay_off(square, h, -rise, "T", "Lay the rise off along it: T.")
        return d.rule(a, t, "Join A to T: the hip, truly long, at its seat cut.")


@method(
    RafterCuts,
    "fold-down",
    about="Level lines give the hip’s plan; its triangle, the slopes and a section square to it fold into the plan.",
    source="Carpenters’ practice; rotation about level lines (Monge)",
)
def rafters_folded(g: RafterCuts, d: Draft) -> None:
    a, h, eaves, slants = _plan(g, d)
    hip = _hip_triangle(g, d, a, h, slants)
    with d.phase("Dihedral and backing"):
        plan = d.rule(a, h, "Take the hip’s plan.")
        m = d.lay_off(plan, a, g.section, "M", "On it take any place M for a section square to the hip.", kind="plain")
        across = d.square_to(plan, m, "Through M draw square to the plan.")
        feet = _feet(g, d, across, eaves)
        low = d.square_to(hip, m, "From M draw square to the hip in its triangle.")
        near = d.meet(low, hip)
        n = d.lay_off(plan, m, d.opening(m, near), "N", "Lay that off from M along the plan: N, the hip on end.")
        with d.as_one("Straightedge", "Join N to where the section meets the eaves: there stand the backings."):
            for spot in feet:
                d.rule(n, spot)
    _slopes(g, d, a, h, eaves, slants)


def _feet(g: RafterCuts, d: Draft, across: LineMark, eaves: list[LineMark]) -> list[Spot]:
    """Where a section square to the hip meets the eaves, K1 and K2, as far as it does."""
    found = []
    with d.as_one("Pencil", "Mark where it meets the eaves."):
        for k, eave in enumerate(eaves):
            if g.met(k):
                found.append(d.meet(across, eave, f"K{k + 1}"))
    return found


@method(
    RafterCuts,
    "auxiliary-view",
    about="A view along the hip’s plan shows it truly long; one along the hip itself shows the slopes on edge.",
    source="Change of planes, twice (Monge)",
)
def rafters_by_views(g: RafterCuts, d: Draft) -> None:
    a, h, eaves, slants = _plan(g, d)
    hip = _hip_triangle(g, d, a, h, slants)
    with d.phase("The slopes on edge"):
        plan = d.rule(a, h, "Take the hip’s plan.")
        m = d.lay_off(plan, a, g.section, "", "On it take any place for a section square to the hip.", kind="plain")
        across = d.square_to(plan, m, "Through it draw square to the plan.")
        feet = _feet(g, d, across, eaves)
        fold = d.square_to(
            hip, d.spots["T"], "Beyond T draw a line square to the hip: the next view folds on it.", Role.REFERENCE
        )
        ray = d.parallel_to(
            hip, m, "From the section’s place draw along the hip, into the view beyond.", Role.PROJECTOR
        )
        start = d.meet(ray, fold)
        on_hip = d.meet(hip, fold)
        beyond = g.section + GAP
        n = d.lay_off(hip, on_hip, beyond, "N", "On the hip’s own line mark N: there it is seen on end.")
        level = d.lay_off(ray, start, beyond, "M", "As far on lies M, in the level of the eaves.", kind="plain")
    _by_distances(g, d, (n, level), m, feet)
    _slopes(g, d, a, h, eaves, slants)


def _by_distances(g: RafterCuts, d: Draft, view: tuple[Spot, Spot], m: Spot, feet: list[Spot]) -> None:
    """The eaves' places in the view along the hip: square to it from M, as far as in the plan."""
    n, level = view
    with d.phase("Dihedral and backing"):
        upright = d.rule(n, level, "Join N to M: plumb in this view, square to the hip.")
        across = d.square_to(upright, level, "Through M draw square to it: the level of the eaves.")
        for spot in feet:
            number = spot.name[1:]
            plan = direction(g.plan_angles[0] + 90.0)
            way = 1.0 if float((spot.here - m.here) @ plan) > 0 else -1.0
            words = f"Lay off how far eave {number} lies from the hip: the place of K{number}."
            seen = d.lay_off(across, level, d.opening(m, spot), f"L{number}", words, way=way)
            d.rule(n, seen, f"Join N to it: slope {number} on edge, its backing at L{number}.")
