"""Pictures of a site: which parts are kept while only something else changes.

A picture is made in stages, each a pure function of its inputs and kept under their names:
what the pixels see (ground, stand, size), where the sun reaches (and the sun), the cover there
(and the layers), and the light on it. An edit of a layer leaves the first two alone; a turn of
the sun leaves the first and the third.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.cover import alone, function, standing, stretch
from elvatch.core.cover.material import Material
from elvatch.core.document.recipe import Peg, Recipe, Stand
from elvatch.core.document.rule import Rule
from elvatch.core.ground import places as cover_places
from elvatch.core.ground.places import Places
from elvatch.core.light.lighting import Lighting, lighting
from elvatch.core.light.panorama import Panorama
from elvatch.core.light.sun import Direction
from elvatch.core.light.water import pool
from elvatch.core.parallel import Token
from elvatch.core.picture import (
    bed,
    beyond,
    camera,
    crowded,
    gbuffer,
    modes,
    on_surface,
    shade,
    strewn,
)
from elvatch.core.picture.beyond import BeyondColours, Outer
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.covering import Coverings, all_ready
from elvatch.core.picture.drape import Drape
from elvatch.core.picture.fragments import GBuffer, PixelLooks
from elvatch.core.picture.kinds import BEYOND
from elvatch.core.picture.laid import AskedPlaces, LaidCover
from elvatch.core.picture.laying import AskedCovers, LaidCovers
from elvatch.core.picture.remembered import Looked, since
from elvatch.core.picture.scene_changes import changed_boxes, pixels_of, sunny_still
from elvatch.core.picture.shaded import NamedLight
from elvatch.core.picture.stages import KeptStages, Sight
from elvatch.core.picture.sunlit import SunBefore, SunSeen, sunlit
from elvatch.core.picture.terrain import Terrain, scene_of, strata_m
from elvatch.core.rules import program, rules
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.strew.field import Field

StandName = Literal["far", "mid", "near"]


@dataclass(frozen=True)
class View:
    """Which picture is wanted.

    ``looks`` is 1 while something moves and 4 at rest; ``mode`` a name of
    :data:`elvatch.core.picture.modes.MODES`; ``layer`` the index in the recipe that masks and coverage are about, or
    of the strew among those that are on; ``solo`` the one that is shown alone, -1 for all; ``wear`` the index of the
    wear that is looked at alone.
    """

    stand: StandName
    width_px: int
    height_px: int
    looks: int = 4
    mode: modes.Mode = "lit"
    layer: int = -1
    solo: int = -1
    wear: int = -1

    @property
    def moves(self) -> bool:
        """Whether it is made while something moves: quickly, with one look a pixel."""
        return self.looks == 1


class Setting(NamedTuple):
    """What lights a site in place of its sky, where its light has an image, and what is strewn over it; whether what
    is remembered for the next edit is brought to this picture, though all of it may be kept."""

    panorama: Panorama | None = None
    field: Field | None = None
    catches_up: bool = False


AS_IT_IS = Setting()


@dataclass(frozen=True)
class Facts:
    """The small line under a picture: metres to its subject and millimetres a pixel there.

    ``peg`` is where the peg's foot lies on the picture, 0..1 from left and top, hidden or not;
    None when it lies behind the eye. ``things`` are drawn as shapes.
    """

    distance_m: float
    mm_per_pixel: float
    peg: tuple[float, float] | None
    things: int = 0


@dataclass(frozen=True)
class Picture:
    """Pixels of shape (height, width, 3), sRGB 8 bit, with their facts."""

    pixels: NDArray[np.uint8]
    facts: Facts


def goes_on(land: Terrain, recipe: Recipe) -> bool:
    """Return whether the ground is seen to go on beyond its edge; a face ends there."""
    return recipe.light.beyond == "ground" and land.upright is None


def light_of(land: Terrain, recipe: Recipe, panorama: Panorama | None = None) -> Lighting:
    """Return the light of a recipe over its ground, in the ground's own axes; with the panorama that lights it, where
    it has one."""
    ground = land.ground
    diagonal = math.hypot(ground.width_m, ground.depth_m)
    return lighting(recipe.light, diagonal, ground.lowest_m, recipe.water_over, panorama, land.axes)


class Renderer:
    """Makes pictures and keeps their stages. One for the whole application.

    Parameters
    ----------
    keep : int
        How many pictures' stages are kept, of those that move and of those at rest.
    """

    def __init__(self, keep: int = 6) -> None:
        self._kept = {moves: KeptStages(keep) for moves in (True, False)}
        self._covers = LaidCovers(keep)
        self._further = AskedCovers(4)
        self._standing = Cache[float](keep)
        self._outer = Cache[Outer](4)
        self._grids = Cache[Places](4)
        self._around = Cache[BeyondColours](keep)
        self._lights = Cache[NamedLight](keep)
        self._crowds = Cache[crowded.Small](4)
        self._stood = Cache[strewn.DrawnThings](12)
        self._coverings = Coverings(2 * keep)

    def _of(self, seen: Sight) -> KeptStages:
        # what is seen does not hold what holds it: it would stay until somebody looks for circles
        return self._kept[seen.moves]

    def take(
        self,
        land: Terrain,
        recipe: Recipe,
        sets: Mapping[str, Pyramid],
        view: View,
        token: Token | None = None,
        drape: Drape | None = None,
        evidence: Evidence | None = None,
        marked: Rule | None = None,
        setting: Setting = AS_IT_IS,
    ) -> Picture:
        """Return a picture of a site.

        Parameters
        ----------
        land, recipe, view
            The recipe's ground; what lies on it, the stands, the light; which picture.
        sets, evidence
            Stored texture sets by content name; what rules may read.
        token : Token, optional
            Asked between bands.
        drape : Drape, optional
            Laid over the ground instead of the cover's colour.
        marked : Rule, optional
            Places that it lets in are lit up.
        setting : Setting
            What lights the site in place of its sky, and what is strewn over it.

        Raises
        ------
        CancelledError
            When it was cancelled; stages finished so far are kept.
        """
        evidence, (panorama, field, catches_up) = evidence or Evidence(image=land.image), setting
        laid = self._covers.lay(land, recipe, sets, evidence, view.solo)
        seen, prepared = self._look(land, recipe, laid, view, field, token), laid.prepared
        material = self._ask(seen, laid, view, token, catches_up)
        if drape is not None:
            material = material._replace(colour=drape.over(seen.on_ground, land.survey))
        light = self._light(land, recipe, panorama)
        lighting = light.light
        lit = self._sunlit(seen, land, lighting.sun, recipe.light.sun_width_deg, view, token)
        around = self._colours_beyond(seen, land, recipe, laid, token)
        small = self._small(seen, field, lighting, token) or crowded.none()
        buffer = self._dressed(seen, recipe, sets, evidence, field, view, token)
        parts = shade.LitParts(buffer, material, seen.index, lit, around, small)
        lights = self._of(seen).shadings.shaded(seen.from_where, (seen.name, seen.since), parts, light, token)
        shown = shade.toned(lights, lighting.exposure)
        if view.mode != "lit":
            layer = prepared.positions[view.layer] if 0 <= view.layer < len(prepared.positions) else -1
            measured = self._crowd(seen, field, view, token)
            if measured is None:
                measured = self._measured(laid, seen, material, view, layer, token)
            shown = modes.apply(view.mode, buffer, seen.on_ground, material, seen.index, shown, layer, measured)
        if marked is not None:
            programs = program.compiled([("chart", marked)], evidence, recipe.layers)
            lit_up = rules.presences(programs, 0, seen.on_ground, token)
            shown = modes.lit_up(seen.buffer, seen.on_ground, shown, lit_up)
        return Picture(shade.resolve(seen.buffer, shown), self._facts(seen, land, view, recipe))

    def pick(
        self,
        land: Terrain,
        recipe: Recipe,
        sets: Mapping[str, Pyramid],
        view: View,
        evidence: Evidence,
        field: Field,
        spot: tuple[float, float],
    ) -> strewn.Met | None:
        """Return the thing that is seen at a spot of a picture (0..1 from left and top); None where there is none."""
        laid = self._covers.lay(land, recipe, sets, evidence, view.solo)
        seen = self._look(land, recipe, laid, view, field, None)
        return strewn.met(seen.drawn, seen.buffer, spot)

    def on_thing(
        self,
        land: Terrain,
        recipe: Recipe,
        sets: Mapping[str, Pyramid],
        view: View,
        evidence: Evidence,
        field: Field,
        asked: tuple[str, Sequence[tuple[float, float]]],
    ) -> on_surface.SpotsOnThing | None:
        """Return the places on a thing, by its id, that spots of a picture show; None where they show none of it."""
        laid = self._covers.lay(land, recipe, sets, evidence, view.solo)
        seen = self._look(land, recipe, laid, view, field, None)
        return on_surface.met_on(seen.drawn.things, seen.buffer, field.stocked, *asked)

    def _dressed(
        self,
        seen: Sight,
        recipe: Recipe,
        sets: Mapping[str, Pyramid],
        evidence: Evidence,
        field: Field | None,
        view: View,
        token: Token | None,
    ) -> GBuffer:
        """Return what is seen with the covers of its things."""
        ready = all_ready(recipe.things, sets, evidence) if field is not None else {}
        if field is None or not ready:
            return seen.buffer
        taps = 2 if view.moves else function.TAPS
        return self._coverings.dressed(seen.name, seen.buffer, seen.drawn.things, field.stocked, ready, taps, token)

    @staticmethod
    def _measured(
        laid: LaidCover, seen: Sight, material: Material, view: View, layer: int, token: Token | None
    ) -> NDArray[np.float32] | None:
        """Return what a mode shows that is no map: stretch or texel density of a layer, or of what lies on top where
        none is chosen; a wear alone."""
        mode, fitted = view.mode, laid.prepared.wears.positions
        if mode in ("overlay", "wear"):
            wear = fitted[view.wear] if 0 <= view.wear < len(fitted) else -1
            if wear < 0:
                return np.zeros(len(material.relief_m), np.float32)
            if mode == "overlay":
                return alone.overlay(laid.prepared, wear, seen.on_ground, token)
            return alone.mask(laid.prepared, wear, seen.on_ground, material, token)
        if mode not in modes.LEGENDS:
            return None
        if layer >= 0:
            found = stretch.of_layer(laid.prepared, layer, seen.on_ground, token, material.slope)
        else:
            found = stretch.of_cover(laid.prepared, seen.on_ground, material.shares, token, material.slope)
        return found[0] if mode == "stretch" else found[1]

    def _look(
        self, land: Terrain, recipe: Recipe, laid: LaidCover, view: View, field: Field | None, token: Token | None
    ) -> Sight:
        far, peg, moves = view.stand == "far", recipe.peg, view.moves
        stand: Stand = getattr(recipe.stands, view.stand)
        size, kept = (view.width_px, view.height_px), self._kept[moves]
        from_where = digest.of_json(
            [land.name, None if far else peg.model_dump(), stand.model_dump(), size, view.looks]
        )
        taken_from = camera.of_stand(view.stand, stand, peg, *size, land.ground, land.axes)
        picture = digest.of_json([land.name, view.stand, size, view.looks])
        raised = bed.plain() if far else self._bed(land, laid, taken_from, (picture, from_where), moves, token)
        stands = 0.0 if far else self._stands(land, laid, peg)
        water = pool(recipe.water_over)
        rippled = [water.level_m, water.ripple_m, water.east, water.north] if recipe.water_over.on else None
        further = goes_on(land, recipe)
        drawn = self._drawn(laid, field, taken_from, view, token)
        but_for_bed = digest.of_json([from_where, rippled, further, drawn.name])
        name = digest.of_json([but_for_bed, raised.name, stands])

        def make() -> Sight:
            outer = self._outer.get(land.name, lambda: beyond.outer(land.ground)) if further else None
            place = scene_of(land, None if far else peg, raised.bed, stands, outer, water, drawn.things)
            last = kept.last.peek(but_for_bed)
            boxes = changed_boxes(last.scene, place) if last is not None else None
            before = self._before(last, boxes)
            buffer = gbuffer.look(place, taken_from, *size, view.looks, token, before)
            fragments = buffer.fragments
            ground = np.flatnonzero(fragments.on_ground())
            index = np.zeros(len(fragments.kind), np.int64)
            index[ground] = np.arange(len(ground))
            on_ground = cover_places.some(fragments.places, ground)
            pixel = fragments.pixel[ground]
            differs = since(last.name, last.buffer.fragments, fragments, boxes) if last is not None else None
            names = name, drawn, from_where, picture
            return Sight(taken_from, place, buffer, on_ground, index, *names, pixel, moves, differs)

        seen = kept.seen.get(name, make)
        if kept.last.peek(but_for_bed) is not seen:
            kept.last.put(but_for_bed, seen)
        return seen

    @staticmethod
    def _before(last: Sight | None, boxes: NDArray[np.float64] | None) -> tuple[PixelLooks, NDArray[np.bool_]] | None:
        """Return the looks of the same picture of another cover, and which of its pixels may see where it differs."""
        if last is None or last.buffer.looks is None or boxes is None:
            return None
        mask = pixels_of(boxes, last.camera, last.buffer.width_px, last.buffer.height_px)
        return None if mask is None else (last.buffer.looks, mask)

    def _bed(
        self,
        land: Terrain,
        laid: LaidCover,
        taken_from: Camera,
        names: tuple[str, str],
        moves: bool,
        token: Token | None,
    ) -> bed.NamedBed:
        """Return the relief that a picture shows as shape; of it too what did not change is kept. What is told first
        names the picture, then where it looks from."""
        kept, (picture, from_where) = self._kept[moves], names

        def relief_at(k: int, at: Places) -> NDArray[np.float32]:
            patch = digest.of_json([picture, "bed", k])
            found = kept.asked.ask(patch, Looked(from_where, at), laid, 1, token)
            return function.joined(laid.prepared, at, found, token, 1).relief_m

        def make() -> bed.NamedBed:
            sites = kept.sites.get(from_where, lambda: bed.PatchPlan(taken_from, land.survey, land.ground, moves))

            def known(name: str, join: Callable[[], bed.Bed]) -> bed.Bed:
                # the same relief on another ground is another bed
                return kept.raised.get(digest.of_json([from_where, name]), join)

            return bed.lay(sites, relief_at, token, known)

        return kept.beds.get(digest.of_json([from_where, laid.shapes]), make)

    def _drawn(
        self, laid: LaidCover, field: Field | None, taken_from: Camera, view: View, token: Token | None
    ) -> strewn.DrawnThings:
        """Return the things that a picture shows as shapes; in Far they stand on the plain ground, as all does.

        While a cover moves they stand on its relief as it last was at rest: letting all stand anew takes as long as
        the rest of such a picture.
        """
        if field is None or not (field.strews or field.stocked.singles):
            return strewn.nothing()

        def relief_at(at: Places) -> NDArray[np.float32]:
            return function.borne(laid.prepared, at, token)

        if view.stand == "far":
            return strewn.drawn(field, taken_from, token=token)
        name = digest.of_json([field.name, list(taken_from)])
        known = self._stood.peek(name) if view.moves else None
        if known is None:
            known = strewn.drawn(field, taken_from, relief_at, laid.reliefs, token)
            self._stood.put(name, known)
        return known

    def _light(self, land: Terrain, recipe: Recipe, panorama: Panorama | None) -> NamedLight:
        own = digest.of_part(recipe.light), digest.of_part(recipe.water_over)
        name = " ".join([*own, panorama.name if panorama else ""])

        def make() -> NamedLight:
            return NamedLight(light_of(land, recipe, panorama), strata_m(land.ground), name)

        return self._lights.get(f"{land.name} {name}", make)

    def _stands(self, land: Terrain, laid: LaidCover, peg: Peg) -> float:
        """Return how far above the plain ground the figure stands, metres."""
        name = digest.of_json([land.name, laid.shapes, peg.model_dump()])
        return self._standing.get(name, lambda: standing.on_top(laid.prepared, land.survey, peg.east_m, peg.north_m))

    def _ask(self, seen: Sight, laid: LaidCover, view: View, token: Token | None, catches_up: bool) -> Material:
        taps = 2 if view.moves else function.TAPS

        def ask() -> Material:
            # whatever is seen from there: most pixels see what they saw before
            at = Looked(seen.from_where, seen.on_ground, seen.pixel)
            return self._of(seen).asked.ask(seen.picture, at, laid, taps, token)

        asked = AskedPlaces(seen.name, seen.buffer, seen.on_ground, seen.index)
        found = self._of(seen).materials.of(asked, laid, taps, ask, token)
        if catches_up:
            ask()
        return found

    def _sunlit(
        self, seen: Sight, land: Terrain, sun: Direction, width_deg: float, view: View, token: Token | None
    ) -> NDArray[np.float32]:
        lift = 0.04 * min(land.relief.cell_x_m, land.relief.cell_y_m)
        rays, kept, differs = 1 if view.moves else 4, self._of(seen).sun, seen.since

        def named(sight: str) -> str:
            return digest.of_json([sight, sun, rays, width_deg])

        def make() -> SunSeen:
            known = kept.peek(named(differs.name)) if differs is not None else None
            before = None
            if differs is not None and differs.boxes is not None and known is not None:
                still = sunny_still(differs.boxes, seen.scene, seen.buffer.fragments, sun, width_deg, lift, token)
                before = SunBefore(known, np.where(still, differs.rows, -1))
            return sunlit(seen.scene, seen.buffer, sun, width_deg, rays, lift, token, before)

        return kept.get(named(seen.name), make).part

    def _colours_beyond(
        self, seen: Sight, land: Terrain, recipe: Recipe, laid: LaidCover, token: Token | None
    ) -> BeyondColours:
        """Return the colours of the ground beyond the edge, where it is seen: the cover's own, at few places."""
        if not goes_on(land, recipe) or not (seen.buffer.fragments.kind == BEYOND).any():
            return beyond.no_around(land.upright is not None)

        def make() -> BeyondColours:
            cols, rows = beyond.map_size(land.ground, seen.moves)
            at = self._grids.get(where, lambda: cover_places.on_grid(land.survey, cols, rows, 0, rows))
            found = self._further.ask(where, Looked(where, at), laid, 2, token)
            return beyond.around(found, rows, cols, land.ground)

        where = f"{land.name} {seen.moves}"
        return self._around.get(f"{where} {laid.bare}", make)

    def _density(self, seen: Sight, field: Field, token: Token | None) -> NDArray[np.float32]:
        name = digest.of_json([seen.name, field.name])
        return self._of(seen).dense.get(name, lambda: crowded.density_at(field, seen.on_ground, token))

    def _crowd(self, seen: Sight, field: Field | None, view: View, token: Token | None) -> NDArray[np.float32] | None:
        """Return how densely things lie, or cover the ground: of the strew that is looked at, or all of them; None in
        other modes."""
        if view.mode not in ("strewn", "crowd"):
            return None
        if field is None or not field.strews:
            return np.zeros(len(seen.on_ground.x_m), np.float32)
        only = view.layer if 0 <= view.layer < len(field.strews) else None
        return crowded.told(field, self._density(seen, field, token), view.mode == "strewn", only)

    def _small(
        self, seen: Sight, field: Field | None, light: Lighting, token: Token | None
    ) -> crowded.Crowded | None:
        """Return what things too small to be shapes do where the cover was asked."""
        if field is None or not field.strews:
            return None
        f, at, pixel = seen.buffer.fragments, seen.on_ground, seen.camera.pixel
        name = digest.of_json([seen.name, field.name, "small"])
        density = self._of(seen).dense.get(name, lambda: crowded.density_of_small(field, f, at, pixel, token))
        if not density.any():
            return None
        of = self._crowds.get(field.kinds, lambda: crowded.small(field))
        return crowded.crowded(of, f, at, pixel, light, density, token)

    @staticmethod
    def _facts(seen: Sight, land: Terrain, view: View, recipe: Recipe) -> Facts:
        distance, peg = float(getattr(recipe.stands, view.stand).distance_m), recipe.peg
        foot = peg.east_m, peg.north_m, land.ground.elevation_at(peg.east_m, peg.north_m)
        return Facts(
            distance,
            distance * seen.camera.pixel * 1000.0,
            camera.project(seen.camera, foot),
            len(seen.drawn.known),
        )
