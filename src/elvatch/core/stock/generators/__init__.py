"""Sample-set generators: materials drawn from things, seamless by construction."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import NamedTuple, Protocol

from elvatch.core import parallel
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import loaded, pyramid
from elvatch.core.stock.canonical import KeptMap
from elvatch.core.stock.description import Category
from elvatch.core.stock.generators import (
    ash_cinder,
    beach_shingle,
    boards,
    brick_paving,
    cast_concrete,
    common,
    corrugated_metal,
    coursed_masonry,
    cracked_mud,
    gravel_track,
    lawn,
    leaf_litter,
    lime_plaster,
    limestone_pavement,
    moor_peat,
    moss,
    pebbles,
    ploughed_soil,
    quarried_limestone,
    red_sandstone,
    rippled_sand,
    rough_grass,
    slate_bedrock,
    slate_scree,
    tarmac,
    wet_silt,
    wind_crust,
)
from elvatch.core.stock.generators.controls import Control, complete
from elvatch.core.stock.pyramid import Pyramid

SIZES = (256, 512, 1024, 2048)
_Range = tuple[float, float]


class _Module(Protocol):
    """A module that draws one kind."""

    @property
    def TILE_M(self) -> float:
        """Metres per repeat."""

    @property
    def CONTROLS(self) -> tuple[Control, ...]:
        """Its numbers."""

    @property
    def draw(self) -> Callable[[common.Wanted], common.Drawing]:
        """What draws it."""


class Generator(NamedTuple):
    """A kind of material that can be made: its title, where it is filed, its controls, what draws it.

    ``reflects`` and ``rough`` are between what its mean linear reflectance and roughness lie in nature, as usual
    controls make it; where they come from stands in docs/guide/sets.md.
    """

    title: str
    category: Category
    tile_m: float
    controls: tuple[Control, ...]
    draw: Callable[[common.Wanted], common.Drawing]
    reflects: _Range
    rough: _Range


def _made_by(title: str, category: Category, module: _Module, reflects: _Range, rough: _Range) -> Generator:
    return Generator(title, category, module.TILE_M, module.CONTROLS, module.draw, reflects, rough)


GENERATORS = {
    "slate-bedrock": _made_by("Slate bedrock", "rock", slate_bedrock, (0.10, 0.17), (0.40, 0.80)),
    "red-sandstone": _made_by("Red sandstone", "rock", red_sandstone, (0.14, 0.26), (0.60, 0.95)),
    "limestone-pavement": _made_by("Limestone pavement", "rock", limestone_pavement, (0.20, 0.36), (0.60, 0.95)),
    "quarried-limestone": _made_by("Quarried limestone", "rock", quarried_limestone, (0.25, 0.40), (0.60, 0.95)),
    "slate-scree": _made_by("Slate scree", "scree and gravel", slate_scree, (0.12, 0.20), (0.50, 0.85)),
    "pebbles": _made_by("Pebbles", "scree and gravel", pebbles, (0.15, 0.30), (0.45, 0.85)),
    "beach-shingle": _made_by("Beach shingle", "scree and gravel", beach_shingle, (0.14, 0.26), (0.40, 0.80)),
    "gravel-track": _made_by("Gravel track", "scree and gravel", gravel_track, (0.25, 0.40), (0.65, 0.95)),
    "ash-cinder": _made_by("Ash and cinder", "scree and gravel", ash_cinder, (0.04, 0.10), (0.60, 0.95)),
    "rippled-sand": _made_by("Rippled sand", "sand", rippled_sand, (0.15, 0.30), (0.50, 0.90)),
    "wet-silt": _made_by("Wet silt", "soil and mud", wet_silt, (0.09, 0.16), (0.30, 0.65)),
    "cracked-mud": _made_by("Cracked mud", "soil and mud", cracked_mud, (0.20, 0.32), (0.70, 0.95)),
    "moor-peat": _made_by("Moor peat", "soil and mud", moor_peat, (0.03, 0.06), (0.65, 0.95)),
    "ploughed-soil": _made_by("Ploughed soil", "soil and mud", ploughed_soil, (0.05, 0.12), (0.70, 0.95)),
    "rough-grass": _made_by("Rough grass", "grass and plants", rough_grass, (0.07, 0.13), (0.55, 0.85)),
    "lawn": _made_by("Lawn", "grass and plants", lawn, (0.07, 0.13), (0.50, 0.80)),
    "moss": _made_by("Moss", "grass and plants", moss, (0.04, 0.10), (0.70, 0.95)),
    "leaf-litter": _made_by("Leaf litter", "grass and plants", leaf_litter, (0.06, 0.13), (0.50, 0.80)),
    "wind-crust": _made_by("Wind-crusted snow", "snow and ice", wind_crust, (0.70, 0.85), (0.40, 0.75)),
    "cast-concrete": _made_by("Cast concrete", "concrete", cast_concrete, (0.30, 0.42), (0.55, 0.85)),
    "lime-plaster": _made_by("Lime plaster", "concrete", lime_plaster, (0.35, 0.60), (0.65, 0.95)),
    "coursed-masonry": _made_by("Coursed masonry", "rock", coursed_masonry, (0.12, 0.26), (0.65, 0.95)),
    "tarmac": _made_by("Tarmac", "paving", tarmac, (0.05, 0.12), (0.60, 0.95)),
    "brick-paving": _made_by("Brick paving", "paving", brick_paving, (0.09, 0.20), (0.55, 0.90)),
    "boards": _made_by("Boards", "wood", boards, (0.12, 0.30), (0.50, 0.85)),
    "corrugated-metal": _made_by("Corrugated metal", "metal", corrugated_metal, (0.28, 0.50), (0.30, 0.70)),
}


def draw(
    kind: str, size_px: int, seed: int, controls: Mapping[str, float] | None = None, run: Run | None = None
) -> common.MadeSet:
    """Draw a sample set.

    Parameters
    ----------
    kind : str
        A key of :data:`GENERATORS`.
    size_px : int
        Pixels along a side, 16 to 2048, even.
    seed : int
        Which one; the same seed and controls give the same set.
    controls : mapping, optional
        Values of its controls by name; the others are as usual.
    run : Run, optional
        Told how far it is.

    Raises
    ------
    RefusalError
        When kind, size or a control is none that it has.
    """
    controls = check(kind, size_px, controls or {})
    run = run or Run()
    wanted = common.Wanted(common.drawn_px(size_px), seed, controls, run.part(0, 0.9))
    with parallel.watching(run.token):
        drawn = GENERATORS[kind].draw(wanted)
        run.at(0.9)
        return common.finish(drawn, size_px)


def check(kind: str, size_px: int, controls: Mapping[str, float]) -> dict[str, float]:
    """Refuse a kind, size or control that there is none of; return a value for every control."""
    if kind not in GENERATORS:
        raise RefusalError("kind", repr(kind[:40]), "one of " + ", ".join(GENERATORS), "choose one of these")
    if not 16 <= size_px <= SIZES[-1] or size_px % 2:
        raise RefusalError("size", f"{size_px} px", f"an even number from 16 to {SIZES[-1]}", "correct it")
    return complete(GENERATORS[kind].controls, controls)


def kept(made: common.MadeSet) -> list[KeptMap]:
    """Return a drawn set as maps to be kept: height and normal in 16 bits, the rest in 8."""
    of = loaded.kept
    return [
        of("colour", made.colour, 8, ""),
        of("normal", made.normal, 16, ""),
        of("roughness", made.roughness, 8, ""),
        of("occlusion", made.occlusion, 8, ""),
        of("height", made.height, 16, ""),
    ]


def stored(made: common.MadeSet) -> Pyramid:
    """Return a drawn set stored for lookups."""
    maps = pyramid.Maps(made.colour, made.normal, made.roughness, made.height, made.occlusion)
    return pyramid.build(maps, made.tile_m, made.relief_m)
