"""A bake of four layers against plain NumPy and OpenCV giving the same maps; its memory at two sizes."""

from __future__ import annotations

import io
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.measure import Line, best_of
from benchmarks.scale import Scale
from elvatch.app.workshop import Workshop
from elvatch.core import noise
from elvatch.core.document import begin_sheet
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.core.document.rule import OnMeasure, Rule, on
from elvatch.core.document.sheet import Fine, Sheet
from elvatch.core.ground.clauses import between
from elvatch.core.ground.description import FileSource, Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import Survey, survey
from elvatch.core.handoff import job
from elvatch.core.handoff.listing import Source
from elvatch.core.stock import generators
from elvatch.core.stock.pyramid import CHANNELS, HEIGHT, OCCLUSION, ROUGH, SCALE, SHIFT, SLOPE_X, SLOPE_Y, Pyramid
from elvatch.store.store import Store
from tests.conftest import put_set

Image = NDArray[np.float32]
SIZE = 2048
KINDS = ("slate-bedrock", "slate-scree", "wet-silt", "rough-grass")
TILES = (2.3, 2.9, 3.7, 4.1)


def _from_file(file: str, low: float, high: float) -> Ground:
    source = FileSource(file=file, file_name="made.npy", lowest_m=low, highest_m=high)
    return Ground(width_m=900, depth_m=900, source=source)


def site(size: int, samples: int, px: int) -> tuple[Recipe, Survey, dict[str, Pyramid]]:
    """Four layers over a ground of so many samples, of sets of so many pixels."""
    heights = noise.periodic(samples, 3, 5, 8, 0.5) * 60 + 100
    ground = Heightfield(heights.astype(np.float32), 900.0, 900.0)
    made = [generators.stored(generators.draw(kind, px, 3)) for kind in KINDS]
    names = [f"{k}" * 40 for k in range(4)]
    rules = (
        Rule(),
        Rule(clauses=(on(between("elevation", lower=95, soft_lower=12)),)),
        Rule(clauses=(on(between("slope", lower=14, soft_lower=8)),)),
        Rule(
            clauses=(on(between("slope", lower=24, soft_lower=6)), on(between("elevation", upper=125, soft_upper=10)))
        ),
    )
    layers = tuple(
        Layer(
            id=f"layer{k}",
            name=f"layer {k}",
            set=names[k],
            rule=rules[k],
            fit=Fit(tile_m=TILES[k], relief_m=0.1),
            edge=Edge(width_m=0.02),
            look=Look(variation=0),
        )
        for k in range(4)
    )
    recipe = Recipe(
        ground=_from_file("a" * 40, ground.lowest_m, ground.highest_m),
        layers=layers,
        peg=Peg(east_m=450, north_m=450),
    )
    return recipe, survey(ground), dict(zip(names, made, strict=True))


def _levels(pyramid: Pyramid) -> list[Image]:
    out, start, side = [], 0, pyramid.size
    while side:
        level = pyramid.texels[start : start + side * side].reshape(side, side, CHANNELS)
        out.append((level * SCALE + SHIFT).astype(np.float32))
        start, side = start + side * side, side // 2
    return out


def _opencv(image: Image, x: Image, y: Image, wrapped: bool) -> Image:
    border = cv2.BORDER_WRAP if wrapped else cv2.BORDER_REPLICATE
    channels = [
        cv2.remap(np.ascontiguousarray(image[..., k : k + 4]), x, y, cv2.INTER_LINEAR, borderMode=border)
        for k in range(0, image.shape[2], 4)
    ]
    return np.concatenate([c if c.ndim == 3 else c[..., None] for c in channels], axis=2)


def _exactly(image: Image, x: Image, y: Image, wrapped: bool) -> Image:
    """The same without OpenCV's rounding of places to 1/32 of a texel, which a step in heights makes much of."""
    rows, cols = image.shape[:2]
    first = np.floor(y).astype(int), np.floor(x).astype(int)
    v, u = (np.asarray(at - k, np.float32)[..., None] for at, k in zip((y, x), first, strict=True))
    ends = [
        (k % n, (k + 1) % n) if wrapped else (k.clip(0, n - 1), (k + 1).clip(0, n - 1))
        for k, n in zip(first, (rows, cols), strict=True)
    ]
    (north, south), (west, east) = ends
    top = image[north, west] * (1 - u) + image[north, east] * u
    return np.asarray(top * (1 - v) + (image[south, west] * (1 - u) + image[south, east] * u) * v, np.float32)


Remap = Callable[[Image, Image, Image, bool], Image]
"""Looks an image up at columns and rows, which go round or end."""


def plain_maps(
    recipe: Recipe, land: Survey, sets: dict[str, Pyramid], size: int, remap: Remap = _opencv
) -> dict[str, Image]:
    """The same maps with whole-image NumPy and OpenCV, as one would write them plainly."""
    steps = ((np.arange(size) + 0.5) / size).astype(np.float64)
    east, north = np.meshgrid(steps * land.width_m, land.depth_m - steps * land.depth_m)
    at_col = (east / land.cell_x_m).astype(np.float32)
    at_row = ((land.depth_m - north) / land.cell_y_m).astype(np.float32)
    elevation = remap(land.heights[..., None], at_col, at_row, False)[..., 0]
    rise = remap(land.gradient, at_col, at_row, False)
    slope = np.degrees(np.arctan(np.hypot(rise[..., 0], rise[..., 1])))

    def ramp(inside: Image, soft: float) -> Image:
        t = np.clip(inside / soft + 1, 0, 1)
        smooth: Image = t * t * (3 - 2 * t)
        return smooth

    total = np.zeros((size, size, CHANNELS), np.float32)
    shares: list[Image] = []
    for k, layer in enumerate(recipe.layers):
        pyramid = sets[layer.set]
        tile = layer.fit.tile_m
        detail = np.log2(np.clip(land.width_m / size / tile * pyramid.size, 1, pyramid.size))
        fine, blend = int(detail), float(detail - int(detail))
        levels = _levels(pyramid)
        one = np.zeros_like(total)
        for level, weight in ((fine, 1 - blend), (min(fine + 1, len(levels) - 1), blend)):
            side = levels[level].shape[0]
            x = np.mod(east / tile * side - 0.5, side).astype(np.float32)
            y = np.mod(-north / tile * side - 0.5, side).astype(np.float32)
            one += remap(levels[level], x, y, True) * np.float32(weight)
        gain = (layer.fit.relief_m / pyramid.relief_m) * (pyramid.tile_m / tile)
        sx, sy = one[..., SLOPE_X] * gain, one[..., SLOPE_Y] * gain
        lost = np.maximum((one[..., SLOPE_Y + 1] * gain) ** 2 - sx * sx - sy * sy, 0)
        one[..., ROUGH] = np.minimum(np.sqrt(np.sqrt(one[..., ROUGH] ** 4 + np.minimum(lost, 0.5))), 1)
        one[..., SLOPE_X], one[..., SLOPE_Y] = sx, sy
        one[..., HEIGHT] = (one[..., HEIGHT] - pyramid.mean[HEIGHT]) * layer.fit.relief_m
        if k == 0:
            total, shares = one, [np.ones((size, size), np.float32)]
            continue
        presence = np.ones((size, size), np.float32)
        for clause in layer.rule.clauses:
            if not isinstance(clause, OnMeasure):
                raise TypeError(clause)
            value = (slope if clause.measure == "slope" else elevation).astype(np.float32)
            if clause.lower is not None:
                presence = presence * ramp(value - clause.lower, clause.soft_lower)
            else:
                presence = presence * ramp((clause.upper or 0) - value, clause.soft_upper)
        lead = (one[..., HEIGHT] - total[..., HEIGHT]) / layer.edge.width_m
        share = presence / (presence + (1 - presence) * np.exp(np.clip(-lead, -60, 60)) + 1e-12)
        total = total + (one - total) * share[..., None]
        shares = [s * (1 - share) for s in shares] + [share.astype(np.float32)]
    return {
        "colour": total[..., :3],
        "roughness": total[..., ROUGH],
        "occlusion": total[..., OCCLUSION],
        "slope": total[..., SLOPE_X : SLOPE_Y + 1],
        "height": elevation + total[..., HEIGHT],
        "shares": np.stack(shares, axis=-1),
    }


def plain_files(maps: dict[str, Image], folder: Path) -> None:
    """Encode and write them as OpenCV does, at the same compression."""

    def write(name: str, values: Image, bits: int) -> None:
        most = 255 if bits == 8 else 65535
        scaled = np.clip(values, 0, 1) * most + 0.5
        coded = scaled.astype(np.uint8) if bits == 8 else scaled.astype(np.uint16)
        if coded.ndim == 3:
            coded = coded[..., ::-1].copy()
        cv2.imwrite(str(folder / f"{name}.png"), coded, [cv2.IMWRITE_PNG_COMPRESSION, 1])

    linear = np.clip(maps["colour"], 0, 1)
    write("colour", np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055), 8)
    normal = np.dstack([-maps["slope"], np.ones_like(maps["roughness"])])
    write("normal", normal / np.linalg.norm(normal, axis=2, keepdims=True) * 0.5 + 0.5, 16)
    write("roughness", maps["roughness"], 8)
    write("occlusion", maps["occlusion"], 8)
    low, high = maps["height"].min(), maps["height"].max()
    write("height", (maps["height"] - low) / (high - low), 16)
    for k in range(maps["shares"].shape[2]):
        write(f"share_{k}", maps["shares"][..., k], 16)


def lay_out(folder: Path) -> None:
    """A site with four sets of 1024 px in a data folder, without the time that drawing them takes."""
    workshop = Workshop(Store(folder))
    layers = []
    for k in range(4):
        name = put_set(workshop.store, 0.2 * (k + 1), f"set {k}", 1024, 2.0)
        layers.append(
            Layer(id=f"layer{k}", name=f"layer {k}", set=name, opacity=0.7, fit=Fit(tile_m=TILES[k], relief_m=0.1))
        )
    stream = io.BytesIO()
    np.save(stream, noise.periodic(1024, 3, 5, 8, 0.5) * 60 + 100)
    ground = _from_file(workshop.store.files.put(stream.getvalue()), 40, 160)
    workshop.store.sites.add("Made", Recipe(ground=ground, layers=tuple(layers), peg=Peg(east_m=1, north_m=1)))


def peak_mb(data: Path, size: int) -> float:
    """Bake through the command line in a process of its own; return its peak memory, MB."""
    watched = (
        "import sys; from elvatch.cli import main; code = main(sys.argv[1:]); "
        "print([line.split()[1] for line in open('/proc/self/status') if line.startswith('VmHWM')][0], "
        "file=sys.stderr); sys.exit(code)"
    )
    out = tempfile.mkdtemp(dir=data.parent)
    command = [sys.executable, "-c", watched, "bake", "Made", "--data", str(data), "--size", str(size), "--out", out]
    said = subprocess.run(command, capture_output=True, text=True, check=True)
    return float(said.stderr.splitlines()[-1]) / 1024


def _read(path: Path) -> Image:
    found = cv2.imread(str(path), cv2.IMREAD_UNCHANGED)
    if found is None:
        raise AssertionError(f"{path.name} is no image")
    return found.astype(np.float32)


def _alike(ours: Path, theirs: Path, near: tuple[float, float, float]) -> list[float]:
    """Return how much of colour, roughness and a layer's share is the same within so many codes of 255."""
    out = []
    for one, other, codes in zip(
        ("colour", "roughness", "share_03_layer-2"), ("colour", "roughness", "share_2"), near, strict=True
    ):
        a, b = (_read(path) for path in (ours / f"made_{one}.png", theirs / f"{other}.png"))
        out.append(float((np.abs(a - b) / (255 if a.max() < 256 else 65535) < codes / 255).mean()))
    return out


def run(scale: Scale) -> Iterator[Line]:
    """Compare maps, then times, then memory."""
    size = scale.side(SIZE)
    recipe, land, sets = site(size, scale.side(1024), scale.side(512))
    measures = Measures(Shaped(Heightfield(land.heights, land.width_m, land.depth_m)))
    with tempfile.TemporaryDirectory() as folder:
        ours_at, theirs_at = Path(folder) / "ours", Path(folder) / "theirs"
        theirs_at.mkdir()
        sheet = begin_sheet.plain(("colour", "normal", "roughness", "occlusion", "height", "shares"), size)
        source = Source("made", recipe, land, measures, sets)
        job.write(sheet, source, ours_at)
        plain_files(plain_maps(recipe, land, sets, size, _exactly), theirs_at)
        exactly = _alike(ours_at, theirs_at, (1.5, 1.5, 0.5))
        if min(exactly) < 0.9999:
            raise AssertionError(f"the two do not write the same maps: {exactly}")
        # with OpenCV's rounded places, through an edge by height of 20 mm, shares move by up to some 2%
        plain_files(plain_maps(recipe, land, sets, size), theirs_at)
        apart = _alike(ours_at, theirs_at, (1.5, 6.5, 8))
        if min(apart) < 0.99:
            raise AssertionError(f"what is timed does not write the same maps: {apart}")

        def plain() -> None:
            plain_files(plain_maps(recipe, land, sets, size), theirs_at)

        finer = sheet.model_copy(update={"fine": Fine(value=2 * size)})

        def bake(wanted: Sheet) -> None:
            # what would come out the same is not written anew where it lies already
            shutil.rmtree(ours_at)
            job.write(wanted, source, ours_at)

        mine, theirs = best_of(scale.times(3), lambda: bake(sheet), plain)
        mine_again, large_time = best_of(scale.times(2), lambda: bake(sheet), lambda: bake(finer))
    note = f"ours {mine:.2f} s with files; {min(apart[:2]):.2%} of colours and "
    note += f"roughness as OpenCV rounds them, {min(exactly):.2%} of all within 1.5/255 where it does not"
    yield Line("bake of 2048x2048 with 4 layers, against NumPy and OpenCV", theirs / mine, 8, "x", True, note)
    yield Line("time of 4096 against four of 2048", large_time / (4 * mine_again), 1.1, "x", False)
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "data"
        lay_out(data)
        # the first also makes what sets are looked up from
        first, small, large = (peak_mb(data, px) for px in (size, size, 2 * size))
    yield Line("peak memory of a 2048 bake of sets that were never looked up", first, 700, " MB", False)
    yield Line("peak memory of a 2048 bake", small, 500, " MB", False)
    yield Line("peak memory of a 4096 bake", large, 500, " MB", False)
    yield Line("memory of 4096 against 2048", large / small, 1.1, "x", False)
