"""A picture of a spring or a thread by asking of every line of sight where it enters the body, told by the body's
definition alone; and how far lines are from where such a picture has edges."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wise_compass.figures.wound.springs import CoilSpring
from wise_compass.figures.wound.threads import ScrewThread
from wise_compass.figures.wound.winding import Wound

Held = Callable[[np.ndarray, np.ndarray, np.ndarray], np.ndarray]


def _wire(g: CoilSpring) -> Held:
    """Within half the wire of the middle line, between the planes that its ends are cut in."""
    r, total, p = g.mean_diameter / 2, np.deg2rad(360 * g.whole_turns), g.pitch / (2 * np.pi)
    hand = 1 if g.hand == "right" else -1

    def held(x: np.ndarray, depth: np.ndarray, z: np.ndarray) -> np.ndarray:
        shape = np.broadcast_shapes(x.shape, depth.shape, z.shape)
        whole = np.zeros(shape, dtype=bool)
        near = np.abs(np.hypot(*np.broadcast_arrays(x, depth)) - r) < g.wire / 2
        near = np.broadcast_to(near, shape)
        x, depth, z = (part[near] for part in np.broadcast_arrays(x, depth, z))
        inside = np.zeros(x.shape, dtype=bool)
        around = np.arctan2(-depth, x) * hand
        for k in range(-1, int(g.whole_turns) + 2):
            t = around + 2 * np.pi * k
            for _ in range(12):  # Newton, on the derivative of the squared distance
                cx, cd = r * np.cos(t), -hand * r * np.sin(t)
                tx, td = -r * np.sin(t), -hand * r * np.cos(t)
                first = (cx - x) * tx + (cd - depth) * td + (p * t - z) * p
                second = tx * tx + td * td + p * p - (cx - x) * cx - (cd - depth) * cd
                t = t - np.clip(first / np.where(np.abs(second) > 1e-9, second, 1e-9), -0.3, 0.3)
            apart = np.sqrt((r * np.cos(t) - x) ** 2 + (-hand * r * np.sin(t) - depth) ** 2 + (p * t - z) ** 2)
            inside |= (apart < g.wire / 2) & (t >= 0) & (t <= total)
        whole[near] = inside
        return whole

    return held


def _section(g: Wound, inner: float, outer: float, lead: float, starts: int, half: Callable) -> Held:  # type: ignore[type-arg]
    """A section in planes through the axis, carried round and up."""
    hand = 1 if g.hand == "right" else -1

    def held(x: np.ndarray, depth: np.ndarray, z: np.ndarray) -> np.ndarray:
        x, depth, z = np.broadcast_arrays(x, depth, z)
        rho = np.hypot(x, depth)
        inside = np.zeros(x.shape, dtype=bool)
        for start in range(starts):
            around = np.rad2deg(np.arctan2(-depth, x)) * hand - hand * 360.0 * start / starts
            for k in range(-3, int(g.whole_turns) + 4):
                t = around + 360.0 * k
                near = np.abs(z - lead * t / 360) < half(rho)
                inside |= near & (rho > inner) & (rho < outer) & (t >= 0) & (t <= 360 * g.whole_turns)
        return inside

    return held


def body(g: Wound) -> Held:
    """Whether places lie in the body of a spring or a screw."""
    if isinstance(g, CoilSpring):
        r, w = g.mean_diameter / 2, g.wire / 2
        return _wire(g) if g.section == "round" else _section(g, r - w, r + w, g.pitch, 1, lambda rho: w + 0 * rho)
    assert isinstance(g, ScrewThread)
    core, outer, pitch = g.core_diameter / 2, g.outer_diameter / 2, g.lead / g.starts
    if g.form == "square":
        ridge = _section(g, 0.0, outer, g.lead, g.starts, lambda rho: pitch / 4 + 0 * rho)
    else:
        ridge = _section(g, 0.9 * core, outer, g.lead, g.starts, lambda rho: pitch / 2 * (outer - rho) / (outer - core))
    rise = g.lead * g.whole_turns

    def held(x: np.ndarray, depth: np.ndarray, z: np.ndarray) -> np.ndarray:
        return ridge(x, depth, z) | ((np.hypot(x, depth) < core) & (z > -pitch) & (z < rise + pitch))

    return held


EMPTY = -1e3


def nearest(held: Held, radius: float, x: np.ndarray, z: np.ndarray, samples: int = 240) -> np.ndarray:
    """How near the body comes to the eye on each line of sight; :data:`EMPTY` where it meets none."""
    depth = np.linspace(radius * 1.001, -radius * 1.001, samples)
    hit = np.concatenate(
        [held(a[:, None], depth[None, :], b[:, None]) for a, b in zip(np.array_split(x, 24), np.array_split(z, 24))]
    )
    first = hit.argmax(axis=1)
    out = np.full(len(x), EMPTY)
    some = hit.any(axis=1)
    low, high = depth[first[some]], depth[np.maximum(first[some] - 1, 0)]
    xs, zs = x[some], z[some]
    for _ in range(14):
        middle = (low + high) / 2
        inside = held(xs, middle, zs)
        low, high = np.where(inside, middle, low), np.where(inside, high, middle)
    out[some] = low
    return out


def breaks(held: Held, radius: float, foot: float, top: float, spacing: float = 0.5, least: float = 1.5) -> np.ndarray:
    """Places, shape (n, 2), where the picture breaks off: on its two sides the body stands ``least`` nearer or farther,
    or not at all, however closely they are taken together."""
    xs, zs = (np.arange(a, b, spacing) for a, b in ((-radius - 1, radius + 1), (foot - 1, top + 1)))
    x, z = np.meshgrid(xs, zs, indexing="ij")
    near = nearest(held, radius, x.ravel(), z.ravel()).reshape(x.shape)
    found = []
    for across in (True, False):
        one = (slice(None, -1), slice(None)) if across else (slice(None), slice(None, -1))
        other = (slice(1, None), slice(None)) if across else (slice(None), slice(1, None))
        apart = np.abs(near[one] - near[other]) > least
        a = np.stack([x[one][apart], z[one][apart]], axis=-1)
        b = np.stack([x[other][apart], z[other][apart]], axis=-1)
        at_a, at_b = near[one][apart], near[other][apart]
        for _ in range(7):  # bisection, toward the half across which there is more of the jump
            middle = (a + b) / 2
            at = nearest(held, radius, middle[:, 0], middle[:, 1])
            first = np.abs(at - at_a) > np.abs(at - at_b)
            b, at_b = np.where(first[:, None], middle, b), np.where(first, at, at_b)
            a, at_a = np.where(first[:, None], a, middle), np.where(first, at_a, at)
        found.append(((a + b) / 2)[np.abs(at_a - at_b) > least])
    return np.concatenate(found)


def edges_beside(held: Held, radius: float, at: np.ndarray, across: np.ndarray, reach: float) -> np.ndarray:
    """For each place, whether within ``reach`` along ``across`` the picture has an edge: a break, or a crease, across
    which the depth bends as no smooth skin of this size does."""
    offsets = np.linspace(-reach, reach, 25)
    places = at[:, None, :] + offsets[:, None] * across[:, None, :]
    depth = nearest(held, radius, places[..., 0].ravel(), places[..., 1].ravel(), 400).reshape(places.shape[:2])
    bend = np.abs(depth[:, 2:] - 2 * depth[:, 1:-1] + depth[:, :-2])
    return np.asarray((bend > 0.15 * (offsets[1] - offsets[0])).any(axis=1))
