"""Things laid in a seamless square, the higher one on top: broken plates and blades."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.noise import gradient_noise
from elvatch.core.parallel import over_bands

SIDES = 7
"""Most sides of a plate."""

# columns of a plate's numbers
_X, _Y, _Z, _TILT_X, _TILT_Y, _REACH, _BEVEL, _STEEP, _WARP, _RIDGE, _RIDGE_ANGLE, _LEDGES = range(12)
_ANGLES, _OFFSETS = 12, 12 + SIDES
PLATE_NUMBERS = 12 + 2 * SIDES


@dataclass
class Scattered:
    """What lies in the square so far.

    ``height`` in metres; ``owner`` the number of the thing on top (-1 the floor); ``inner`` how
    far inside its outline the pixel lies in metres (plates), or how far along it, 0..1 (blades).
    """

    height: NDArray[np.float32]
    owner: NDArray[np.int32]
    inner: NDArray[np.float32]
    pixel_m: float

    @classmethod
    def floor(cls, height: NDArray[np.float32], pixel_m: float) -> Scattered:
        """Begin with a bare floor of the given height in metres."""
        return cls(height.copy(), np.full(height.shape, -1, np.int32), np.zeros_like(height), pixel_m)


@kernel
def _plate_rows(
    plates: NDArray[np.float32],
    first: int,
    pixel_m: float,
    height: NDArray[np.float32],
    owner: NDArray[np.int32],
    inner: NDArray[np.float32],
    outward: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    size = height.shape[0]
    out_x, out_y = outward[0], outward[1]
    for k in range(plates.shape[0]):
        p = plates[k]
        for s in range(SIDES):
            out_x[s], out_y[s] = math.cos(p[_ANGLES + s]), math.sin(p[_ANGLES + s])
        # further inside than this the ragged outline cannot be felt
        calm = max(p[_BEVEL], 0.03) + 1.5 * p[_WARP]
        centre_row, centre_col = p[_Y] / pixel_m, p[_X] / pixel_m
        reach = p[_REACH] / pixel_m
        ridge_x, ridge_y = math.cos(p[_RIDGE_ANGLE]), math.sin(p[_RIDGE_ANGLE])
        grain = 6.0 / p[_REACH]
        for r in range(math.floor(centre_row - reach), math.ceil(centre_row + reach) + 1):
            row = r % size
            if row < a or row >= b:
                continue
            dy = (r - centre_row) * pixel_m
            for c in range(math.floor(centre_col - reach), math.ceil(centre_col + reach) + 1):
                dx = (c - centre_col) * pixel_m
                inside = p[_OFFSETS] - (out_x[0] * dx + out_y[0] * dy)
                for s in range(1, SIDES):
                    inside = min(inside, p[_OFFSETS + s] - (out_x[s] * dx + out_y[s] * dy))
                if inside < -1.5 * p[_WARP]:
                    continue
                if inside < calm:
                    ragged = gradient_noise(dx * grain + 17.0 * k, dy * grain, 7, 0)
                    ragged += 0.5 * gradient_noise(dx * grain * 3.1, dy * grain * 3.1 + 13.0 * k, 8, 0)
                    inside += p[_WARP] * ragged
                if inside <= 0.0:
                    continue
                top = p[_Z] + p[_TILT_X] * dx + p[_TILT_Y] * dy
                top -= p[_RIDGE] * abs(ridge_x * dx + ridge_y * dy)
                edge = max(0.0, p[_BEVEL] - inside)
                if p[_LEDGES] > 0.5:
                    edge = p[_BEVEL] * math.ceil(edge / p[_BEVEL] * p[_LEDGES] - 0.35) / p[_LEDGES]
                    edge = max(edge, 0.0)
                top -= edge * p[_STEEP]
                col = c % size
                if top > height[row, col]:
                    height[row, col] = top
                    owner[row, col] = first + k
                    inner[row, col] = inside


def lay_plates(bed: Scattered, plates: NDArray[np.float32], first: int) -> None:
    """Lay plates into the bed; where two meet the higher wins, whatever their order.

    Parameters
    ----------
    bed : Scattered
        Changed in place.
    plates : ndarray, shape (n, PLATE_NUMBERS), float32
        As made by :func:`plates`.
    first : int
        Number of the first plate, for ``owner``.
    """
    rows = bed.height.shape[0]
    over_bands(
        rows,
        lambda a, b: _plate_rows(
            plates,
            first,
            bed.pixel_m,
            bed.height,
            bed.owner,
            bed.inner,
            np.empty((2, SIDES), np.float32),
            a,
            b,
        ),
    )


@dataclass(frozen=True)
class PlateStyle:
    """What the plates of one size class have in common; lengths in metres, angles in radians."""

    radius: float
    stretch: float
    along: float | None
    tilt: float
    dip: tuple[float, float]
    thickness: float
    bevel: float
    steep: float
    warp: float
    ridge: float
    ledges: int


def plates(
    rng: np.random.Generator, places: NDArray[np.float64], base_m: NDArray[np.float64], style: PlateStyle
) -> NDArray[np.float32]:
    """Describe irregular convex plates with ragged edges.

    Parameters
    ----------
    rng : Generator
        Source of their differences.
    places : ndarray, shape (n, 2)
        Centres (x, y), metres, y down the picture.
    base_m : ndarray, shape (n,)
        Height of what each lies on, metres.
    style : PlateStyle
        What they have in common.

    Returns
    -------
    ndarray, shape (n, PLATE_NUMBERS), float32
        For :func:`lay_plates`.
    """
    n = len(places)
    out = np.zeros((n, PLATE_NUMBERS), np.float32)
    radius = style.radius * np.clip(rng.lognormal(0, 0.28, n), 0.55, 1.6)
    turn = rng.uniform(0, 2 * math.pi, n) if style.along is None else rng.normal(style.along, 0.22, n)
    long = style.stretch * np.clip(rng.lognormal(0, 0.25, n), 0.6, 1.7)
    for s in range(SIDES):
        angle = 2 * math.pi * (s + rng.uniform(-0.42, 0.42, n)) / SIDES
        # an ellipse's support function keeps the outline convex whatever its stretch
        offset = radius * np.hypot(np.cos(angle) * long, np.sin(angle)) * rng.uniform(0.62, 1.0, n)
        out[:, _ANGLES + s] = angle + turn
        out[:, _OFFSETS + s] = offset
    # a long plate lies flatter: none stands up further than it is thick and a third as wide
    most = (style.thickness + 0.33 * style.radius) / (radius * np.maximum(long, 1.0))
    tilt_x = style.dip[0] + np.clip(rng.normal(0, style.tilt, n), -most, most)
    tilt_y = style.dip[1] + np.clip(rng.normal(0, style.tilt, n), -most, most)
    out[:, _X], out[:, _Y] = places[:, 0], places[:, 1]
    out[:, _Z] = base_m + style.thickness * rng.uniform(0.45, 1.3, n) * (radius / style.radius)
    out[:, _TILT_X], out[:, _TILT_Y] = tilt_x, tilt_y
    out[:, _REACH] = radius * np.maximum(long, 1.0) * 1.25 + style.warp
    out[:, _BEVEL] = style.bevel * rng.uniform(0.6, 1.4, n)
    out[:, _STEEP] = style.steep * rng.uniform(0.6, 1.4, n)
    out[:, _WARP] = style.warp * radius / style.radius
    out[:, _RIDGE] = np.abs(rng.normal(0, style.ridge, n))
    out[:, _RIDGE_ANGLE] = rng.uniform(0, 2 * math.pi, n)
    out[:, _LEDGES] = rng.integers(0, style.ledges + 1, n) if style.ledges else 0
    return out


def pixels(places: NDArray[np.float64], size: int, tile_m: float) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Return the rows and columns of places (x, y in metres) in a seamless square."""
    at = (places / (tile_m / size)).astype(np.int64) % size
    return at[:, 1], at[:, 0]


def hollows(
    rng: np.random.Generator, lying: NDArray[np.float32], count: int, tile_m: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return places that are drawn towards hollows, and how high each lies, metres.

    Of two places the lower is kept.
    """
    size = lying.shape[0]
    places, others = rng.uniform(0, tile_m, (count, 2)), rng.uniform(0, tile_m, (count, 2))
    here, there = lying[pixels(places, size, tile_m)], lying[pixels(others, size, tile_m)]
    lower = there < here
    places[lower] = others[lower]
    return places, np.where(lower, there, here).astype(np.float64)


# columns of a blade's numbers
_BX, _BY, _BZ, _LENGTH, _HEADING, _BEND, _WIDTH, _RISE = range(8)
BLADE_NUMBERS = 8


@kernel
def _blade_rows(
    blades: NDArray[np.float32],
    first: int,
    pixel_m: float,
    height: NDArray[np.float32],
    owner: NDArray[np.int32],
    along: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    size = height.shape[0]
    for k in range(blades.shape[0]):
        blade = blades[k]
        # most blades lie in other bands: none reaches further than its length and half its width
        reach = (blade[_LENGTH] + blade[_WIDTH]) / pixel_m + 1.0
        low, high = blade[_BY] / pixel_m - reach, blade[_BY] / pixel_m + reach
        meets = False
        for turn in (-size, 0, size):
            meets = meets or (low + turn < b and high + turn >= a)
        if not meets:
            continue
        steps = max(4, int(blade[_LENGTH] / pixel_m * 1.3))
        x, y, heading = blade[_BX], blade[_BY], blade[_HEADING]
        stride = blade[_LENGTH] / steps
        for step in range(steps):
            t = step / steps
            x += math.cos(heading) * stride
            y += math.sin(heading) * stride
            heading += blade[_BEND] / steps
            half = 0.5 * blade[_WIDTH] * (1.0 - t * t) / pixel_m
            arch = blade[_BZ] + blade[_RISE] * (1.0 - (1.0 - t / 0.62) ** 2)
            side_x, side_y = -math.sin(heading), math.cos(heading)
            count = int(half * 2.0 + 1.5)
            for i in range(count):
                across = (i / max(count - 1, 1) - 0.5) * 2.0 if count > 1 else 0.0
                px = x / pixel_m + side_x * across * half
                py = y / pixel_m + side_y * across * half
                row = math.floor(py) % size
                if row < a or row >= b:
                    continue
                col = math.floor(px) % size
                top = arch - abs(across) * blade[_WIDTH] * 0.35
                if top > height[row, col]:
                    height[row, col] = top
                    owner[row, col] = first + k
                    along[row, col] = t


def lay_blades(bed: Scattered, blades: NDArray[np.float32], first: int) -> None:
    """Lay curved blades (x, y, z, length, heading, bend, width, rise) into the bed.

    Parameters
    ----------
    bed : Scattered
        Changed in place; ``inner`` receives how far along the blade the pixel lies, 0..1.
    blades : ndarray, shape (n, BLADE_NUMBERS), float32
        Metres and radians; headings are measured from east towards the bottom of the picture.
    first : int
        Number of the first blade, for ``owner``.
    """
    rows = bed.height.shape[0]
    over_bands(
        rows,
        lambda a, b: _blade_rows(blades, first, bed.pixel_m, bed.height, bed.owner, bed.inner, a, b),
    )
