"""What can be done with a ground: shape it, measure it, map it, cut it.

Keeps what is costly: read files, the ground after each step, measured grounds.
"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from elvatch.app.height_files import HeightFiles
from elvatch.app.stages import Stages
from elvatch.core import colour, digest
from elvatch.core.cache import Cache
from elvatch.core.document.water import Water
from elvatch.core.formats import isolated, png
from elvatch.core.ground import heights, measures, places, shaping
from elvatch.core.ground.begin import Beginnings, beginnings
from elvatch.core.ground.description import FileSource, Ground
from elvatch.core.ground.measures import MeasureName, Measures, Scale, Unit
from elvatch.core.ground.sampling import nearest_samples
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.shaping import Preview
from elvatch.core.ground.step import Extent
from elvatch.core.kernel import sources_digest
from elvatch.core.light.air import usual_visibility_km
from elvatch.core.mapping import ground_image
from elvatch.core.mapping.ground_image import GroundImage
from elvatch.core.parallel import Token, in_background
from elvatch.core.picture import ramp, relief_map
from elvatch.core.picture.drape import Drape
from elvatch.core.picture.terrain import Terrain, terrain
from elvatch.core.refusal import RefusalError
from elvatch.core.results import Millimetres, result
from elvatch.core.rules.mask import usual_sample_m
from elvatch.core.run import Run
from elvatch.store.store import Store

_CUT = 512
VAST = 20_000_000
"""Samples: more are measured for so long that something coarser is shown meanwhile."""
_COARSE = 1025


@result
class GroundFacts:
    """A shaped ground in numbers.

    ``share_lowest`` and ``share_highest`` of its samples that lie at either limit, 0..1: a plateau
    or a clipped summit shows there. ``left`` says whether shaping left anything behind; ``mask_sample_m`` how fine a
    painted mask of it is; ``visibility_km`` how clear the air over it is unless it is told, ``water_m`` where water
    begins that is let in; ``begin`` what can be begun on it.
    """

    rows: int
    cols: int
    cell_x_m: float
    cell_y_m: float
    lowest_m: float
    highest_m: float
    steepest_deg: float
    mean_deg: float
    share_lowest: float
    share_highest: float
    left: bool
    mask_sample_m: float
    visibility_km: float
    water_m: float
    begin: Beginnings


@result
class Cut:
    """A cut along a line: distance and elevation, metres."""

    distance_m: Millimetres
    elevation_m: Millimetres


@result
class StepReady:
    """A step that what comes before it is shaped of."""

    step: str


@result
class BroughtImage:
    """A colour image that was brought in."""

    file: str
    file_name: str
    width_px: int
    height_px: int


@result
class AtPlace:
    """A place's elevation, and a measure's value there."""

    elevation_m: float
    value: float | None


@result
class MeasureKind:
    """A measure as it is shown: what it is, its unit and scale, and the words for what lies above and below."""

    name: MeasureName
    title: str
    short: str
    unit: Unit
    scale: Scale
    about: str
    radius_m: float | None
    above: str
    below: str
    of_water: bool


@result
class MeasureKinds:
    """All measures."""

    measures: list[MeasureKind]


def measure_kinds() -> MeasureKinds:
    """Return all measures as they are shown."""
    return MeasureKinds(
        [
            MeasureKind(
                name,
                kind.title,
                kind.short,
                kind.unit,
                kind.scale,
                kind.about,
                kind.radius_m,
                kind.above,
                kind.below,
                kind.of_water,
            )
            for name, kind in measures.KINDS.items()
        ]
    )


def _first_water_m(measured: Measures) -> float:
    """Return a level at which water stands in the lowest few hundredths of a ground, to the nearest 0.05 m."""
    elevation = measured.map("elevation")
    sampled = elevation[:: max(1, len(elevation) // 512), :: max(1, elevation.shape[1] // 512)]
    return round(float(np.percentile(sampled, 4)) * 20) / 20


class Grounds:
    """Shaped and measured grounds of one store.

    Parameters
    ----------
    store : Store
        Height files, and grounds shaped before.
    """

    def __init__(self, store: Store) -> None:
        self._store = store
        self.files = HeightFiles(store)
        self._stages = Stages(store.made, VAST)
        self._shaped = Cache[Shaped](6)
        self._terrains = Cache[Terrain](6)
        self._measures = Cache[Measures](4)
        self._photos = Cache[NDArray[np.uint8]](2)
        self._images = Cache[GroundImage](2)

    def _elevations(self, source: FileSource) -> NDArray[np.float32]:
        file = self.files.read(source.file, source.file_name, source.reading)
        placed = heights.place(file, 1.0, 1.0, source.lowest_m, source.highest_m).heights_m
        if placed.size > VAST:
            self.files.let_go(source.file, source.reading)
        return placed

    def shaped(self, ground: Ground, preview: Preview | None = None, run: Run | None = None) -> Shaped:
        """Return a ground as its steps leave it; a finished one also survives a restart.

        Parameters
        ----------
        ground : Ground
            The description.
        preview : Preview, optional
            Coarser and quicker.
        run : Run, optional
            Progress and cancelling.
        """
        run = run or Run()
        name = shaping.name_seen(ground, preview)

        def make() -> Shaped:
            # another build of the kernels may give other bits
            disk_name = digest.of_json([name, sources_digest()])
            lasting = preview is None
            found = self._store.made.get(disk_name) if lasting else None
            if found is not None:
                return found
            made = shaping.seen(ground, self._elevations, self._stages, run, preview)
            if lasting:
                self._store.made.put(disk_name, made)
            return made

        return self._shaped.get(name, make)

    def make_ready(self, ground: Ground, step: str, run: Run | None = None) -> StepReady:
        """Shape a ground up to a step, so that an edit of that step repeats nothing of what comes before it, and
        little of what comes after."""
        places = [at for at, one in enumerate(ground.steps) if one.id == step]
        if not places:
            raise RefusalError("step", f"no step {step[:40]!r}", "one of the ground's", "choose another")
        with in_background():
            shaping.make_ready(ground, places[0], self._elevations, self._stages, run or Run())
        return StepReady(step)

    def land(self, ground: Ground, preview: Preview | None = None, run: Run | None = None) -> Terrain:
        """Return a ground measured for pictures."""
        name = shaping.name_seen(ground, preview)
        token = run.token if run else None
        image = self.image(ground)
        key = f"{name} {image.name if image else None}"
        # another build of the kernels may give other bits
        lasting = digest.of_json([name, sources_digest()]) if preview is None else None

        def make() -> Terrain:
            surveys = self._store.surveys
            found = surveys.get(lasting, image, ground.upright) if lasting else None
            if found is not None:
                return found
            heights = self.shaped(ground, preview, run).ground
            if lasting and surveys.measure(lasting, heights, ground.upright, token):
                # mapped: its pages can be had again from disk
                found = surveys.get(lasting, image, ground.upright)
            return found or terrain(heights, token, image, ground.upright)

        return self._terrains.get(key, make)

    def while_measured(self, ground: Ground) -> Preview | None:
        """Return the coarser ground that is shown while a vast one is measured for the first time; None where the
        whole is at hand or soon will be."""
        name = shaping.name_of(ground)
        if self._store.surveys.has(digest.of_json([name, sources_digest()])):
            return None
        shaped = self._shaped.peek(name)
        return Preview(_COARSE, thinned=True) if shaped and shaped.ground.heights_m.size > VAST else None

    def _photo(self, file: str, file_name: str) -> NDArray[np.uint8]:
        return self._photos.get(file, lambda: isolated.photo(file_name, self._store.files.get(file)))

    def image(self, ground: Ground) -> GroundImage | None:
        """Return the colour image over a ground, stored for lookups; None where there is none."""
        picture = ground.picture
        if picture is None:
            return None
        key = f"{picture.file} {ground.width_m} {ground.depth_m}"
        return self._images.get(
            key,
            lambda: ground_image.prepare(
                self._photo(picture.file, picture.file_name), ground.width_m, ground.depth_m, picture.file
            ),
        )

    def bring_image(self, name: str, data: bytes) -> BroughtImage:
        """Keep a colour image once it has proved readable."""
        pixels = isolated.photo(name, data)
        return BroughtImage(self._store.files.put(data), name, pixels.shape[1], pixels.shape[0])

    def measures(
        self, ground: Ground, preview: Preview | None = None, run: Run | None = None, water: Water | None = None
    ) -> Measures:
        """Return a ground's measures, made as they are asked for; of water, where it is told, as well."""
        name = shaping.name_seen(ground, preview)
        found = self._measures.get(name, lambda: Measures(self.shaped(ground, preview, run), ground.upright))
        return found.with_water(water.level() if water else None)

    def facts(self, ground: Ground, preview: Preview | None = None, run: Run | None = None) -> GroundFacts:
        """Return a shaped ground in numbers."""
        shaped = self.shaped(ground, preview, run)
        land = shaped.ground
        measured = self.measures(ground, preview, run)
        steep = measured.map("slope")
        at_low = np.count_nonzero(land.heights_m == np.float32(land.lowest_m))
        at_high = np.count_nonzero(land.heights_m == np.float32(land.highest_m))
        return GroundFacts(
            land.rows,
            land.cols,
            land.cell_x_m,
            land.cell_y_m,
            land.lowest_m,
            land.highest_m,
            float(steep.max()),
            float(steep.mean(dtype=np.float64)),
            at_low / land.heights_m.size,
            at_high / land.heights_m.size,
            shaped.traces is not None,
            usual_sample_m(land.width_m, land.depth_m),
            usual_visibility_km(math.hypot(land.width_m, land.depth_m)),
            _first_water_m(measured),
            beginnings(Extent(land.width_m, land.depth_m, land.lowest_m, land.highest_m, ground.upright)),
        )

    def image_drape(self, ground: Ground) -> Drape:
        """Return the colour image over a ground, to be looked at on it."""
        if ground.picture is None:
            raise RefusalError("ground", "no colour image over it", "one", "choose an image for it")
        pixels = self._photo(ground.picture.file, ground.picture.file_name)
        step = max(1, max(pixels.shape[:2]) // 2048)
        return Drape(colour.to_linear(pixels[::step, ::step].astype(np.float32) / np.float32(255)))

    def drape(
        self,
        ground: Ground,
        measure: MeasureName,
        radius_m: float | None,
        preview: Preview | None,
        token: Token | None,
        water: Water | None = None,
    ) -> Drape:
        """Return a measure with the ramp that shows it."""
        run = Run(token) if token else None
        values = self.measures(ground, preview, run, water).map(measure, radius_m, token)
        scale = measures.KINDS[measure].scale
        return Drape(values, scale, *ramp.limits(values, scale))

    def draped(
        self,
        ground: Ground,
        what: MeasureName | Literal["image"] | None,
        radius_m: float | None,
        preview: Preview | None = None,
        token: Token | None = None,
        water: Water | None = None,
    ) -> Drape | None:
        """Return what is to be laid over a ground: a measure, its colour image, or nothing."""
        if what is None:
            return None
        return (
            self.image_drape(ground) if what == "image" else self.drape(ground, what, radius_m, preview, token, water)
        )

    def map_png(
        self,
        ground: Ground,
        size_px: tuple[int, int],
        contour_m: float,
        drape: Drape | None,
        preview: Preview | None,
        token: Token | None = None,
    ) -> bytes:
        """Return the relief map as PNG, its colours a measure's where one is given."""
        survey = self.land(ground, preview, Run(token) if token else None).survey
        tint = drape.colours(*nearest_samples(drape.values.shape, *size_px)) if drape else None
        return png.encode(relief_map.draw(survey, *size_px, contour_m, tint, token))

    def cut(
        self, ground: Ground, start: tuple[float, float], end: tuple[float, float], preview: Preview | None = None
    ) -> Cut:
        """Return the elevation along a line between two places, metres from the south-west corner."""
        along = np.linspace(0.0, 1.0, _CUT)
        x = start[0] + (end[0] - start[0]) * along
        y = start[1] + (end[1] - start[1]) * along
        length = float(np.hypot(end[0] - start[0], end[1] - start[1]))
        at = places.on_ground(self.land(ground, preview).survey, x, y, length / _CUT)
        return Cut(along * length, at.elevation_m)

    def at(
        self, ground: Ground, east_m: float, north_m: float, drape: Drape | None, preview: Preview | None = None
    ) -> AtPlace:
        """Return elevation and the measure's nearest value at a place."""
        land = self.land(ground, preview).ground
        east = min(max(east_m, 0.0), land.width_m)
        north = min(max(north_m, 0.0), land.depth_m)
        value = None
        if drape is not None:
            row = round((land.depth_m - north) / land.cell_y_m)
            col = round(east / land.cell_x_m)
            value = float(drape.values[min(row, land.rows - 1), min(col, land.cols - 1)])
        return AtPlace(land.elevation_at(east, north), value)
