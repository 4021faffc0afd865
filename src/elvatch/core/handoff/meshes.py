"""A sheet's meshes: how near each level comes to the ground, and their files."""

from __future__ import annotations

import base64
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import NamedTuple

import numpy as np

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.cover import function, plan
from elvatch.core.document.sheet import Fine, Region, Sheet, ValueName
from elvatch.core.document.sheet_entry import MeshEntry
from elvatch.core.formats import png
from elvatch.core.ground import places
from elvatch.core.ground.survey import Survey
from elvatch.core.handoff.dependence import Dependence
from elvatch.core.handoff.derived import textures
from elvatch.core.handoff.file_names import Row, check, fields_of, name_of
from elvatch.core.handoff.listing import Source, files_of
from elvatch.core.handoff.manifest import MadeSaid, made
from elvatch.core.handoff.values import lifted
from elvatch.core.handoff.whole import Whole
from elvatch.core.mesh import lattice as lattices
from elvatch.core.mesh import read_back, triangulation
from elvatch.core.mesh import seen as pictures
from elvatch.core.mesh.carried import Carried, Textures
from elvatch.core.mesh.forms import MESH_FORMS, MeshForm
from elvatch.core.mesh.lattice import Heights, Lattice, SitePart
from elvatch.core.mesh.mesh import Mesh, normals_of, places_of, stood_up, uv_of, with_skirt
from elvatch.core.mesh.obj import material_name
from elvatch.core.mesh.seen import MeshEye
from elvatch.core.mesh.triangulation import Hierarchy, Triangulated
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.run import Run

_AT_ONCE = 200_000
_MOST_TRIANGLES = 30_000_000
_MOST_DRAWN = 4_000_000
_SKIRT_ERRORS = 2.0
"""Two neighbours may each be off by their level's error."""


class Level(NamedTuple):
    """A level of detail: its grid with heights, the error that triangles may make (None takes every cell), and the
    error told: no place lies further from the ground."""

    lattice: Lattice
    heights: Heights
    hierarchy: Hierarchy | None
    greatest_m: float
    told_m: float

    def tile(self, row: int, column: int) -> Triangulated:
        """Return the triangles of a tile."""
        window = self.lattice.tile(row, column)
        if self.hierarchy is None:
            return triangulation.regular(self.lattice, window)
        return triangulation.triangulated(self.hierarchy, self.greatest_m, window)

    def triangles(self, row: int, column: int) -> int:
        """Return how many triangles a tile has; those of a regular grid are not made for that."""
        top, bottom, left, right = self.lattice.tile(row, column)
        if self.hierarchy is None:
            return 2 * (bottom - top) * (right - left)
        return len(self.tile(row, column).triangles)


_ready = Cache[list[Level]](2)
_tiles_made = Cache[list[Mesh]](4)
_counted = Cache[int](64)


def part_of(sheet: Sheet, source: Source) -> SitePart:
    """Return the part of the site that a sheet covers."""
    ground = source.recipe.ground
    of = sheet.region or Region(east_m=0, north_m=0, width_m=ground.width_m, depth_m=ground.depth_m)
    if of.east_m + of.width_m > ground.width_m * (1 + 1e-9) or of.north_m + of.depth_m > ground.depth_m * (1 + 1e-9):
        raise RefusalError(
            f"part of {sheet.name}",
            f"{of.width_m:g} x {of.depth_m:g} m from {of.east_m:g}, {of.north_m:g}",
            f"a part of {ground.width_m:g} x {ground.depth_m:g} m",
            "draw it on the ground",
        )
    return SitePart(of.east_m, of.north_m, of.width_m, of.depth_m)


def _texel_m(fine: Fine, survey: Survey) -> float:
    longer = max(survey.width_m, survey.depth_m)
    return {"pixels": longer / fine.value, "px-per-m": 1 / fine.value, "m-per-texel": fine.value}[fine.by]


def _with_relief(lattice: Lattice, source: Source, run: Run) -> Heights:
    """Return the heights of the ground with the cover's relief at all samples of a grid."""
    prepared = plan.prepare(source.recipe.layers, source.sets, source.evidence, wears=source.recipe.wears)
    x, y = lattice.x_m(), lattice.y_m()
    out = np.empty((len(y), len(x)), np.float32)
    step = max(1, _AT_ONCE // len(x))
    for first in range(0, len(y), step):
        rows = y[first : first + step]
        at = places.on_ground(source.survey, np.tile(x, len(rows)), np.repeat(rows, len(x)), max(lattice.cell_m))
        out[first : first + len(rows)] = lifted(at, function.ask(prepared, at, run.token)).reshape(len(rows), -1)
        run.at((first + len(rows)) / len(y))
    return out


def levels_of(entry: MeshEntry, sheet: Sheet, source: Source, run: Run | None = None) -> list[Level]:
    """Return the levels of detail of a mesh, the finest first.

    Parameters
    ----------
    entry : MeshEntry
        What is wanted.
    sheet : Sheet
        Of which part; how fine its texels are, which relief stands on.
    source : Source
        Of what.
    run : Run, optional
        Told how far it is while the cover is asked for its relief.
    """
    run = run or Run()
    return _ready.get(_name_of(entry, sheet, source), lambda: _levels(entry, sheet, source, run))


def _name_of(entry: MeshEntry, sheet: Sheet, source: Source) -> str:
    """Return a name for the shape of a mesh."""
    wanted = entry.model_dump(include={"by", "greatest_error_m", "cell_m", "relief", "columns", "rows", "levels"})
    of = Dependence(source).of(["height" if entry.relief else "elevation"])
    fine = sheet.fine.model_dump() if entry.relief else None
    region = sheet.region.model_dump() if sheet.region else None
    heights = source.survey.heights
    some = digest.of_array(np.ascontiguousarray(heights[:: max(1, len(heights) // 64)]))
    return digest.of_json([wanted, of, some, fine, region])


def _levels(entry: MeshEntry, sheet: Sheet, source: Source, run: Run) -> list[Level]:
    part, survey = part_of(sheet, source), source.survey
    if entry.by == "grid":
        return _regular(entry, part, source, run)
    if entry.relief:
        texel = _texel_m(sheet.fine, survey)
        lattice = lattices.lattice_of(part, (part.width_m / texel, part.depth_m / texel), entry.columns, entry.rows)
        heights, apart = _with_relief(lattice, source, run), 0.0
    else:
        lattice, heights, apart = lattices.fine_enough(
            survey, part, entry.greatest_error_m, entry.columns, entry.rows, run.token
        )
    found = triangulation.hierarchy(lattice, heights, run.token)
    out = []
    for k in range(entry.levels):
        left = max(entry.greatest_error_m * 2**k - apart, 0.0)
        out.append(Level(lattice, heights, found, left, apart + max(left, found.least_m)))
    return out


def _regular(entry: MeshEntry, part: SitePart, source: Source, run: Run) -> list[Level]:
    out: list[Level] = []
    for k in range(entry.levels):
        cell_m = entry.cell_m * 2**k
        lattice = lattices.lattice_of(part, (part.width_m / cell_m, part.depth_m / cell_m), entry.columns, entry.rows)
        if entry.relief:
            heights, apart = _with_relief(lattice, source, run), 0.0
        else:
            heights = lattices.heights_of(source.survey, lattice, run.token)
            apart = lattices.apart_m(source.survey, lattice, heights, run.token)
        bend = float(lattices.bends_m(heights, run.token).max())
        out.append(Level(lattice, heights, None, 0.0, apart + bend))
    return out


@dataclass(frozen=True)
class _Tile:
    """One file of a mesh."""

    name: str
    level: int
    row: int
    column: int


def _tiles(entry: MeshEntry, source: Source) -> Iterator[_Tile]:
    check(entry.file)
    for level in range(entry.levels):
        for row in range(entry.rows):
            for column in range(entry.columns):
                fields = fields_of(source.title, "mesh", row, column, entry.rows, level)
                yield _Tile(name_of(entry.file, fields, entry.format), level, row, column)


def _shares(entry: MeshEntry, source: Source, at_m: np.ndarray, across_m: float, run: Run) -> np.ndarray:
    if entry.shares == "none":
        return np.empty((len(at_m), 0), np.float32)
    prepared = plan.prepare(source.recipe.layers, source.sets, source.evidence, wears=source.recipe.wears)
    out = []
    for first in range(0, len(at_m), _AT_ONCE):
        some = at_m[first : first + _AT_ONCE]
        at = places.on_ground(
            source.survey, np.ascontiguousarray(some[:, 0]), np.ascontiguousarray(some[:, 1]), across_m
        )
        out.append(function.ask(prepared, at, run.token).shares)
    return np.concatenate(out)


def mesh_of(
    entry: MeshEntry, source: Source, levels: list[Level], level: int, row: int, column: int, run: Run
) -> Mesh:
    """Return a tile of a level as it leaves."""
    of = levels[level]
    _check_count(entry, of.triangles(row, column) if of.hierarchy is None else 0, _MOST_TRIANGLES, "in a file")
    found = of.tile(row, column)
    _check_count(entry, len(found.triangles), _MOST_TRIANGLES, "in a file")
    normals = normals_of(of.lattice, of.heights, found.vertices)
    at = places_of(of.lattice, of.heights, found.vertices)
    if entry.relief and entry.maps != "none":
        # its map tells the relief against the ground below
        normals = _ground_normals(source.survey, at)
    shares = _shares(entry, source, at, max(of.lattice.cell_m), run)
    mesh = Mesh(at, normals, uv_of(of.lattice, found.vertices), found.triangles, shares)
    if entry.skirts:
        mesh = with_skirt(mesh, found, of.lattice.tile(row, column), _SKIRT_ERRORS * levels[-1].told_m)
    upright = source.recipe.ground.upright
    return stood_up(mesh, upright.foot_m) if upright else mesh


@result
class MeshLevel:
    """A level of detail: its triangles and vertices, and the distance that no place exceeds, metres."""

    triangles: int
    vertices: int
    told_m: float


@result
class MeshLook:
    """A mesh looked at before it is written: a PNG in base 64, and the level that is seen."""

    picture: str
    level: MeshLevel


def look(
    entry: MeshEntry, sheet: Sheet, source: Source, level: int, seen: MeshEye, size: tuple[int, int], run: Run
) -> MeshLook:
    """Return a picture of a level as it would leave, its shares and maps aside.

    Parameters
    ----------
    entry, sheet, source
        Which mesh, of what.
    level : int
        0 is the finest; one that there is not is the coarsest.
    seen : MeshEye
        From where.
    size : tuple of int
        Pixels across and down.
    run : Run
        Told how far it is; asked whether to go on.
    """
    plain = entry.model_copy(update={"shares": "none", "maps": "none"})
    levels = levels_of(plain, sheet, source, run)
    level = min(level, len(levels) - 1)
    _check_count(entry, _count(plain, sheet, source, levels, level), _MOST_DRAWN, "to be drawn")
    key = digest.of_json([_name_of(plain, sheet, source), level, plain.skirts])
    tiles = _tiles_made.get(
        key,
        lambda: [
            mesh_of(plain, source, levels, level, row, column, run)
            for row in range(entry.rows)
            for column in range(entry.columns)
        ],
    )
    pixels = pictures.picture(tiles, seen, *size)
    told = MeshLevel(
        sum(len(one.triangles) for one in tiles), sum(len(one.places) for one in tiles), levels[level].told_m
    )
    return MeshLook(base64.b64encode(png.encode(pixels)).decode(), told)


def _ground_normals(survey: Survey, at: np.ndarray) -> np.ndarray:
    here = places.on_ground(survey, np.ascontiguousarray(at[:, 0]), np.ascontiguousarray(at[:, 1]), 1.0)
    up = np.stack([-here.rise_east, -here.rise_north, np.ones_like(here.rise_east)], 1)
    found: np.ndarray = (up / np.linalg.norm(up, axis=1, keepdims=True)).astype(np.float32)
    return found


def _check_count(entry: MeshEntry, count: int, most: int, what: str) -> None:
    if count > most:
        raise RefusalError(
            entry.file,
            f"{count / 1e6:.0f} million triangles {what}",
            f"at most {most / 1e6:.0f} million",
            "allow a greater error, larger cells or cut it into tiles",
        )


def _count(entry: MeshEntry, sheet: Sheet, source: Source, levels: list[Level], level: int) -> int:
    """Return how many triangles all tiles of a level have, counted once for as long as the mesh is the same."""
    tiles = [(row, column) for row in range(entry.rows) for column in range(entry.columns)]
    name = digest.of_json([_name_of(entry, sheet, source), level])
    return _counted.get(name, lambda: sum(levels[level].triangles(*tile) for tile in tiles))


def _triangles_about(entry: MeshEntry, sheet: Sheet, source: Source) -> int:
    """Return about how many triangles all files of a mesh have: as many as without relief."""
    ground = entry.model_copy(update={"relief": False})
    levels = levels_of(ground, sheet, source)
    return sum(_count(ground, sheet, source, levels, level) for level in range(len(levels)))


def _check(entry: MeshEntry, form: MeshForm, layers: int) -> None:
    """Refuse what a format does not carry."""
    several = entry.columns * entry.rows * entry.levels
    wrong = {
        ("shares by name", "none or colours"): entry.shares == "values" and not form.values,
        ("maps", "none"): entry.maps != "none" and not form.textures,
        ("maps inside", "linked ones"): entry.maps == "inside" and not form.inside,
    }
    for (found, expected), refused in wrong.items():
        if refused:
            raise RefusalError(entry.file, f"{found} of {form.label}", expected, "choose these or another format")
    if entry.maps == "inside" and several > 1:
        raise RefusalError(
            entry.file, f"maps inside each of {several} files", "maps that lie there once", "link them"
        )
    if entry.shares == "colours" and form.colours and layers > form.colours:
        raise RefusalError(
            entry.file,
            f"{layers} layers",
            f"at most {form.colours} as colours of {form.label}",
            "carry them by name or choose GLB",
        )


def wholes(entry: MeshEntry, sheet: Sheet, source: Source) -> list[Whole]:
    """Return what makes the files of a mesh.

    Raises
    ------
    RefusalError
        When it carries what its format does not.
    """
    form, shown = MESH_FORMS[entry.format], [layer.name for layer in source.shown]
    _check(entry, form, len(shown))
    tiles = list(_tiles(entry, source))
    names = [tile.name for tile in tiles]
    if form.name == "obj" and entry.maps != "none":
        names += [material_name(Path(name)).name for name in names]
    count = _triangles_about(entry, sheet, source)
    about = round(count * (form.triangle_bytes + form.vertex_bytes / 2))

    def make(folder: Path, run: Run) -> list[MadeSaid]:
        levels = levels_of(entry, sheet, source, run.part(0, 0.6))
        covered = _covered(entry, sheet, source, folder)
        carried = Carried(
            source.title, tuple(shown), entry.shares, covered, form.ups[0] if len(form.ups) == 1 else entry.up
        )
        out = []
        for k, tile in enumerate(tiles):
            run.at(0.6 + 0.4 * k / len(tiles))
            out += _write(entry, source, levels, tile, form, carried, folder, run)
        return out

    return [Whole(entry.id, tuple(names), about, _made_of(entry, sheet, source), make)]


def _made_of(entry: MeshEntry, sheet: Sheet, source: Source) -> str:
    """Return a name for all that a mesh depends on."""
    values: list[ValueName] = ["elevation"]
    if entry.relief:
        values.append("height")
    if entry.shares != "none":
        values.append("shares")
    if entry.maps == "inside":
        values += ["colour", "occlusion", "roughness", "metallic", "normal"]
    how = [entry.model_dump(mode="json"), sheet.model_dump(mode="json", include={"fine", "region"}), source.title]
    names = [layer.name for layer in source.shown]
    return digest.of_json([how, names, Dependence(source).of(values)])


def _covered(entry: MeshEntry, sheet: Sheet, source: Source, folder: Path) -> Textures | None:
    found = textures(entry, sheet)
    if not found:
        return None
    alone = found[0][0].model_copy(update={"entries": tuple(one for _, one in found)})
    names = [file.name for file in files_of(alone, source)]
    return Textures(names[0], names[1], names[2], folder, entry.maps == "inside")


def _write(
    entry: MeshEntry,
    source: Source,
    levels: list[Level],
    tile: _Tile,
    form: MeshForm,
    carried: Carried,
    folder: Path,
    run: Run,
) -> list[MadeSaid]:
    mesh = mesh_of(entry, source, levels, tile.level, tile.row, tile.column, run)
    path = folder / tile.name
    form.write(path, mesh, carried)
    read_back.check(path, mesh, carried.up == "y")
    level = levels[tile.level]
    over = "the ground with relief at its samples" if entry.relief else "the ground"
    told = [
        f"{len(mesh.triangles)} triangles, {len(mesh.places)} vertices, metres, {carried.up} is up",
        f"no place further than {level.told_m:.4g} m from {over}",
    ]
    if entry.levels > 1:
        told.append(f"level {tile.level}, 0 is the finest")
    if entry.rows * entry.columns > 1:
        told.append(f"tile {Row(tile.row + 1)}{tile.column + 1} of {entry.columns} x {entry.rows}")
    out = [made(path, entry.id, f"{form.label}, a mesh", told)]
    if form.name == "obj" and carried.textures is not None:
        out.append(made(material_name(path), entry.id, "the material of a mesh"))
    return out
