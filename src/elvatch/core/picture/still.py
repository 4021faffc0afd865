"""A still: one picture of any size taken with many rays, and what goes beside it, pass by pass.

Each ray of a pixel goes through another place of it and asks for another place of the sun's disc; they add up as they
are shown. A still is taken in bands of rows, so that memory does not grow with its size, and the same recipe
gives the same pixels.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Literal, NamedTuple, get_args

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.cover import function, plan, standing
from elvatch.core.cover.material import Material
from elvatch.core.cover.on_thing import ReadyCover
from elvatch.core.document.recipe import Peg, Recipe, Stand
from elvatch.core.ground import places as cover_places
from elvatch.core.ground.places import Places
from elvatch.core.light.air import lost_over
from elvatch.core.light.lighting import Lighting
from elvatch.core.light.panorama import Panorama
from elvatch.core.light.sun import Direction
from elvatch.core.mapping import surface
from elvatch.core.picture import bed, beyond, camera, covering, crowded, gbuffer, shade, strewn
from elvatch.core.picture.beyond import BeyondColours
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.fragments import GBuffer
from elvatch.core.picture.kinds import SKY
from elvatch.core.picture.picture import goes_on, light_of
from elvatch.core.picture.scene import Scene
from elvatch.core.picture.sunlit import disc, sunlit
from elvatch.core.picture.terrain import Terrain, scene_of, strata_m
from elvatch.core.rules.evidence import Evidence
from elvatch.core.run import Run
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.strew.field import Field

PassName = Literal["radiance", "depth", "mist", "normal", "layers", "shares", "sun", "sky"]
PASSES: dict[PassName, str] = {
    "radiance": "Linear light, before exposure and the tone curve",
    "depth": "Distance in metres",
    "mist": "What the air takes, 0 to 1",
    "normal": "x east, y north, z up",
    "layers": "Number of the foremost layer, -1 where there is none",
    "shares": "A channel for each layer",
    "sun": "What the sun lights",
    "sky": "What all else lights",
}
assert tuple(PASSES) == get_args(PassName)
MOST_PX = 8192
MOST_RAYS = 64
_BAND_PIXELS = 1 << 19
_MOST_BED_PX = 1600
"""Rows of a picture whose relief is as fine as its pixels; larger stills show the same relief larger."""
NO_LAYER = -1.0

Pixels = NDArray[np.float32]


class Still(NamedTuple):
    """What is wanted: from where, how large, how many rays a pixel, what goes beside it.

    ``warmth`` -1..1 turns white towards blue or amber and ``contrast`` 0..1 is an S about middle grey; both are for
    the picture alone, never for a pass.
    """

    stand: Stand
    peg: Peg | None
    width_px: int
    height_px: int
    rays: int = 16
    passes: tuple[PassName, ...] = ()
    warmth: float = 0.0
    contrast: float = 0.0


class Taken(NamedTuple):
    """A still: ``pixels`` (height, width, 3) sRGB, and its passes by name, (height, width, channels) float32."""

    pixels: NDArray[np.uint8]
    passes: dict[PassName, Pixels]


class Place(NamedTuple):
    """All that a still is taken of."""

    land: Terrain
    recipe: Recipe
    prepared: plan.Prepared
    lighting: Lighting
    around: BeyondColours
    scene: Scene
    eye: Camera
    field: Field | None
    covered: Mapping[str, ReadyCover]


def channels_of(name: PassName, recipe: Recipe) -> list[str]:
    """Return the names of a pass's channels, as EXR viewers sort them."""
    if name in ("radiance", "sun", "sky"):
        return ["R", "G", "B"]
    if name == "normal":
        return ["X", "Y", "Z"]
    if name == "shares":
        return [layer.name for layer in recipe.layers if layer.on]
    return {"depth": ["Z"], "mist": ["mist"], "layers": ["layer"]}[name]


def _eye(land: Terrain, still: Still, height_px: int) -> Camera:
    width = max(1, round(still.width_px * height_px / still.height_px))
    if still.peg is None:
        target = camera.far_target(land.ground, land.axes)
    else:
        target = camera.peg_target(still.stand, still.peg, land.ground, land.axes)
    return camera.from_stand(still.stand, target, width, height_px, land.ground, land.axes)


def _window(eye: Camera, first: int, last: int, height: int, width: int, right: float, down: float) -> Camera:
    """Return the camera of some rows of a picture, moved by parts of a pixel."""
    up = 1.0 - (first + last + 2 * down) / height
    aside, part = 2.0 * right / width, (last - first) / height
    return eye._replace(
        forward_x=eye.forward_x + up * eye.up_x + aside * eye.right_x,
        forward_y=eye.forward_y + up * eye.up_y + aside * eye.right_y,
        forward_z=eye.forward_z + up * eye.up_z + aside * eye.right_z,
        up_x=eye.up_x * part,
        up_y=eye.up_y * part,
        up_z=eye.up_z * part,
    )


def _spread(rays: int) -> NDArray[np.float64]:
    """Return places in a pixel, -0.5..0.5, spread evenly (Roberts 2018); the first is its middle."""
    k = np.arange(rays)[:, None]
    golden = 1.32471795724474602596
    return np.asarray((0.5 + k * np.array([1 / golden, 1 / golden**2])) % 1.0 - 0.5)


def place_of(
    land: Terrain,
    recipe: Recipe,
    sets: Mapping[str, Pyramid],
    evidence: Evidence,
    still: Still,
    run: Run,
    panorama: Panorama | None = None,
    field: Field | None = None,
) -> Place:
    """Prepare all that a still is taken of, once for all its rays."""
    prepared = plan.prepare(recipe.layers, sets, evidence, wears=recipe.wears)
    eye = _eye(land, still, still.height_px)
    raised, stands, drawn = bed.plain().bed, 0.0, strewn.nothing()
    if still.peg is not None:
        coarse = _eye(land, still, min(still.height_px, _MOST_BED_PX))
        sites = bed.PatchPlan(coarse, land.survey, land.ground)

        def relief_at(_k: int, at: Places) -> Pixels:
            return function.ask(prepared, at, run.token, 1).relief_m

        raised = bed.lay(sites, relief_at, run.token).bed
        stands = standing.on_top(prepared, land.survey, still.peg.east_m, still.peg.north_m)
    if field is not None and (field.strews or field.stocked.singles):

        def ground_at(at: Places) -> Pixels:
            return function.borne(prepared, at, run.token)

        drawn = strewn.drawn(field, eye, ground_at if still.peg is not None else None, "still", run.token)
    lighting = light_of(land, recipe, panorama)
    outer, around = None, beyond.no_around(land.upright is not None)
    if goes_on(land, recipe):
        outer = beyond.outer(land.ground)
        cols, rows = beyond.map_size(land.ground)
        at = cover_places.on_grid(land.survey, cols, rows, 0, rows)
        around = beyond.around(function.ask(prepared, at, run.token, 2), rows, cols, land.ground)
    scene = scene_of(land, still.peg, raised, stands, outer, lighting.water, drawn.things)
    covered = covering.all_ready(recipe.things, sets, evidence) if field is not None else {}
    return Place(land, recipe, prepared, lighting, around, scene, eye, field, covered)


class _RayHits(NamedTuple):
    """One ray of each pixel of a band: what is seen, its material, how much of the sun it sees."""

    buffer: GBuffer
    material: Material
    row: NDArray[np.int64]
    sun: NDArray[np.float32]
    at: Places


def _look(of: Place, still: Still, first: int, last: int, ray: int, run: Run) -> _RayHits:
    right, down = _spread(still.rays)[ray]
    eye = _window(of.eye, first, last, still.height_px, still.width_px, float(right), float(down))
    buffer = gbuffer.look(of.scene, eye, still.width_px, last - first, 1, run.token)
    if of.field is not None and of.covered:
        buffer = covering.with_covers(buffer, of.scene.things, of.field.stocked, of.covered, function.TAPS, run.token)
    f = buffer.fragments
    ground = np.flatnonzero(f.on_ground())
    index = np.zeros(len(f.kind), np.int64)
    index[ground] = np.arange(len(ground))
    at = cover_places.some(f.places, ground)
    material = function.ask(of.prepared, at, run.token)
    sun = _aside(of.lighting.sun, disc(still.rays, of.recipe.light.sun_width_deg)[ray])
    lift = 0.04 * min(of.land.relief.cell_x_m, of.land.relief.cell_y_m)
    return _RayHits(buffer, material, index, sunlit(of.scene, buffer, sun, 0.0, 1, lift, run.token).part, at)


def _aside(sun: Direction, aside: NDArray[np.float64]) -> Direction:
    """Return the direction to a place of the sun's disc, given as slopes against its middle."""
    level = math.hypot(sun[0], sun[1]) + 1e-9
    p, q = float(aside[0]), float(aside[1])
    x = sun[0] - p * sun[1] / level - q * sun[2] * sun[0] / level
    y = sun[1] + p * sun[0] / level - q * sun[2] * sun[1] / level
    z = sun[2] + q * level
    length = math.sqrt(x * x + y * y + z * z)
    return x / length, y / length, z / length


def _radiance(of: Place, look: _RayHits, lighting: Lighting, run: Run) -> Pixels:
    strata = strata_m(of.land.ground)
    small = None
    if of.field is not None and of.field.strews:
        f, pixel = look.buffer.fragments, of.eye.pixel
        density = crowded.density_of_small(of.field, f, look.at, pixel, run.token)
        small = crowded.crowded(crowded.small(of.field), f, look.at, pixel, lighting, density, run.token)
    return shade.shade(look.buffer, look.material, look.row, look.sun, lighting, of.around, strata, run.token, small)


def _in_rows(look: _RayHits, values: Pixels) -> Pixels:
    """Return what fragments show as pixels: with one look a pixel they are in order, what is mirrored behind."""
    count = look.buffer.width_px * look.buffer.height_px
    return values[:count].reshape(look.buffer.height_px, look.buffer.width_px, *values.shape[1:])


def _of_ground(look: _RayHits, values: Pixels, elsewhere: float) -> Pixels:
    out = np.full((len(look.row), *values.shape[1:]), elsewhere, np.float32)
    out[np.flatnonzero(look.buffer.fragments.on_ground())] = values
    return out


def _told(of: Place, look: _RayHits, name: PassName) -> Pixels:
    """Return a pass that tells what is seen, from one look."""
    f = look.buffer.fragments
    if name == "depth":
        return np.where(f.kind == SKY, np.inf, f.depth_m).astype(np.float32)[:, None]
    if name == "mist":
        lost = lost_over(of.lighting.air, of.eye.eye_z, f.height_m, f.depth_m)
        return np.where(f.kind == SKY, 1.0, lost).astype(np.float32)[:, None]
    if name == "normal":
        normal = _of_ground(look, surface.normals(look.at.rise(), look.material.slope), 0.0)
        other = ~f.on_ground()
        normal[other] = f.normal[other]
        return normal
    shares = look.material.shares
    if name == "shares":
        return _of_ground(look, shares, 0.0)
    foremost = shares.argmax(axis=1).astype(np.float32) if shares.size else np.zeros(len(shares), np.float32)
    return _of_ground(look, foremost, NO_LAYER)[:, None]


def graded(toned: Pixels, warmth: float, contrast: float) -> Pixels:
    """Return a picture's linear colours with white turned and an S about middle grey.

    Parameters
    ----------
    toned : ndarray, shape (..., 3), float32
        0..1, linear.
    warmth : float
        -1 blue to 1 amber; level grey keeps its luminance.
    contrast : float
        0 leaves it, 1 is strong.
    """
    if warmth == 0.0 and contrast == 0.0:
        return toned
    gains = np.array([1 + 0.25 * warmth, 1.0, 1 - 0.3 * warmth])
    gains /= gains @ np.array([0.2126, 0.7152, 0.0722])
    code = colour.to_srgb(np.clip(toned * gains.astype(np.float32), 0, 1))
    bent = code * code * (3 - 2 * code)
    return colour.to_linear((code + (bent - code) * np.float32(contrast)).astype(np.float32))


def take(of: Place, still: Still, run: Run) -> Taken:
    """Take a still.

    Parameters
    ----------
    of : Place
        What there is, from :func:`place_of`.
    still : Still
        What is wanted.
    run : Run
        Told how far it is, and asked whether to go on.
    """
    height, width = still.height_px, still.width_px
    pixels = np.empty((height, width, 3), np.uint8)
    passes: dict[PassName, Pixels] = {
        name: np.zeros((height, width, len(channels_of(name, of.recipe))), np.float32) for name in still.passes
    }
    rows = max(8, _BAND_PIXELS // width)
    for first in range(0, height, rows):
        last = min(first + rows, height)
        shown = np.zeros((last - first, width, 3), np.float32)
        for ray in range(still.rays):
            run.at((first + (last - first) * ray / still.rays) / height)
            look = _look(of, still, first, last, ray, run)
            radiance = _in_rows(look, _radiance(of, look, of.lighting, run))
            shown += shade.toned(radiance.reshape(-1, 3), of.lighting.exposure).reshape(shown.shape)
            for name, into in passes.items():
                band = into[first:last]
                if name == "radiance":
                    band += radiance / still.rays
                elif name in ("sun", "sky"):
                    band += _apart(of, look, name, radiance, run) / still.rays
                elif ray == 0:
                    band[:] = _in_rows(look, _told(of, look, name))
        final = graded(shown / np.float32(still.rays), still.warmth, still.contrast)
        pixels[first:last] = (colour.to_srgb(final) * 255 + np.float32(0.5)).astype(np.uint8)
    run.at(1.0)
    return Taken(pixels, passes)


def _apart(of: Place, look: _RayHits, name: PassName, whole: Pixels, run: Run) -> Pixels:
    """Return what the sun lights and what all else does; they add up to the whole."""
    no_sun = of.lighting._replace(sun_colour=(0.0, 0.0, 0.0), disc=(0.0, 0.0, 0.0))
    sky = _in_rows(look, _radiance(of, look, no_sun, run))
    return sky if name == "sky" else whole - sky
