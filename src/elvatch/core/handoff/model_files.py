"""Files of things' models among those of a sheet: GLB and OpenUSD, plain or with textures of all they look like."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

import numpy as np

from elvatch.core.cover.on_thing import prepare, shines
from elvatch.core.document.sheet_entry import ThingsEntry
from elvatch.core.formats import png
from elvatch.core.ground import places as ground_places
from elvatch.core.handoff import baked_files, instances
from elvatch.core.handoff.baked import Baked, baked, can_be
from elvatch.core.handoff.file_names import fields_of, name_of
from elvatch.core.handoff.instances import Instances
from elvatch.core.handoff.listing import Source
from elvatch.core.handoff.manifest import MadeSaid, made
from elvatch.core.handoff.own_models import Key, Of, OwnModels, stands_as
from elvatch.core.handoff.whole import Whole
from elvatch.core.plain_name import plain_name
from elvatch.core.run import Run

_ABOUT_A_TRIANGLE, _ABOUT_A_TEXEL = 60, 8
"""Bytes, to begin with."""
_MAPS = {
    "colour": "base colour, sRGB",
    "surface": "occlusion, roughness, metal in R, G, B",
    "normal": "normals",
    "emission": "what shines by itself, sRGB",
}
_DARK = png.encode(np.zeros((1, 1, 3), np.uint8))
"""Of a thing that could shine and nowhere does."""


class ModelFiles(NamedTuple):
    """The files of one model: ``glb`` and ``usd`` None where not wanted; ``maps`` its textures by kind, for each
    level that has files of its own; ``images`` those that it came with, beside an OpenUSD file."""

    glb: str | None
    usd: str | None
    maps: tuple[dict[str, str], ...]
    images: tuple[str, ...]

    def all(self) -> tuple[str, ...]:
        """Return their names, the models first."""
        models = [name for name in (self.glb, self.usd) if name]
        return (*models, *(name for level in self.maps for name in level.values()), *self.images)


def files_of(entry: ThingsEntry, source: Source, key: Key, model: Of) -> ModelFiles:
    """Return the names of a model's files."""

    def named(word: str, ending: str) -> str:
        whole = "_".join([plain_name(key[0]), str(key[1]), *([word] if word else [])])
        return name_of(entry.file, fields_of(source.title, whole), ending)

    glb = named("", "glb") if "glb" in entry.model_forms else None
    usd = named("", "usdc") if "usd" in entry.model_forms else None
    if entry.bake_px == 0 or not can_be(model.levels[0]):
        images = [named(f"texture_{k}", "png") for k in range(len(model.levels[0].images))] if usd else []
        return ModelFiles(glb, usd, (), tuple(images))
    levels = len(model.levels) if usd else 1
    words = [*baked_files.MAPS, *([baked_files.GLOW] if shines(model.thing.cover, source.sets) else [])]
    maps = [{word: named(f"{word}_level_{k}" if k else word, "png") for word in words} for k in range(levels)]
    return ModelFiles(glb, usd, tuple(maps), ())


def wholes(
    entry: ThingsEntry, source: Source, models: OwnModels, of: str, all_of: Callable[[Run], Instances]
) -> list[Whole]:
    """Return what makes the files of all models; ``of`` names what they are made of, ``all_of`` gives all things as
    they stand."""
    out = []
    for key, model in models.of.items():
        files = files_of(entry, source, key, model)

        def make(
            folder: Path, run: Run, files: ModelFiles = files, key: Key = key, model: Of = model
        ) -> list[MadeSaid]:
            if files.maps:
                return _baked(entry, source, folder, files, (key, model), all_of, run)
            return plain(entry, folder, files, key, model)

        triangles = sum(len(level.triangles) for level in model.levels)
        texels = sum((entry.bake_px >> k) ** 2 for k in range(len(files.maps)))
        about = len(entry.model_forms) * _ABOUT_A_TRIANGLE * triangles + _ABOUT_A_TEXEL * texels
        out.append(Whole(entry.id, files.all(), about, of, make))
    return out


def plain(entry: ThingsEntry, folder: Path, files: ModelFiles, key: Key, model: Of) -> list[MadeSaid]:
    """Write a model with the colours of its corners and the textures that it came with; return what is told of it."""
    told = [f"level {k}: {len(level.triangles):,} triangles" for k, level in enumerate(model.levels)]
    if entry.bake_px:
        told.append("not baked: leaves and holes keep their own textures")
    if files.glb:
        instances.write_model(folder / files.glb, key[0], model.levels)
    if files.usd:
        for name, image in zip(files.images, model.levels[0].images, strict=True):
            (folder / name).write_bytes(png.encode(image.texels))
        from elvatch.core.handoff import model_usd  # takes long to load, and is wanted seldom

        model_usd.write_plain(folder / files.usd, model.levels, files.images)
    said = [made(folder / name, entry.id, f"{key[0]}: a texture of its own", []) for name in files.images]
    return [*_said(entry, folder, files, key, told, ""), *said]


def _said(entry: ThingsEntry, folder: Path, files: ModelFiles, key: Key, told: list[str], how: str) -> list[MadeSaid]:
    """Return what is told of the models themselves."""
    both = ((files.glb, "GLB"), (files.usd, "OpenUSD"))
    return [
        made(folder / name, entry.id, f"{key[0]}, {form}{how}, longest side 1 m", told) for name, form in both if name
    ]


def _asked(
    entry: ThingsEntry, source: Source, of: tuple[Key, Of], all_of: Callable[[Run], Instances], run: Run
) -> list[Baked]:
    """Return the levels of a model with their textures: each half as large as the one before."""
    key, model = of
    survey = source.survey
    x, y = survey.width_m / 2, survey.depth_m / 2
    under = ground_places.on_ground(survey, np.array([x]), np.array([y]), 1.0)
    stands = stands_as(key, all_of(run.part(0, 0.1)), (x, y, float(under.elevation_m[0])))
    cover, evidence = model.thing.cover, source.evidence
    ready = prepare(cover, source.sets, evidence) if cover.shows and evidence is not None else None
    levels = model.levels
    return [
        baked(
            level,
            stands,
            survey,
            ready,
            max(entry.bake_px >> k, 64),
            entry.bake_normals,
            model.form(key),
            run.part(0.1 + 0.8 * k / len(levels), 0.1 + 0.8 * (k + 1) / len(levels)),
        )
        for k, level in enumerate(levels)
    ]


def _baked(
    entry: ThingsEntry,
    source: Source,
    folder: Path,
    files: ModelFiles,
    of: tuple[Key, Of],
    all_of: Callable[[Run], Instances],
    run: Run,
) -> list[MadeSaid]:
    """Write a model with its textures."""
    key = of[0]
    done = _asked(entry, source, of, all_of, run)
    told = [line for k, level in enumerate(done) for line in (f"level {k}: {told}" for told in level.told())]
    said = []
    for k, names in enumerate(files.maps):
        whole = baked_files.maps(done[k], 16)
        for word, name in names.items():
            (folder / name).write_bytes(whole.get(word, _DARK))
            what = f"{_MAPS[word]}, green up, {entry.bake_normals} axes, 16 bit" if word == "normal" else _MAPS[word]
            size = f"{max(entry.bake_px >> k, 64)} px"
            said.append(made(folder / name, entry.id, f"{key[0]}: {what}", [size, *([f"level {k}"] if k else [])]))
    if files.glb:
        baked_files.write_model(folder / files.glb, key[0], done, entry.bake_normals)
    if files.usd:
        # a preview surface has no place for normals in the model's own axes
        shown = [
            {word: name for word, name in names.items() if word != "normal" or entry.bake_normals == "tangent"}
            for names in files.maps
        ]
        from elvatch.core.handoff import model_usd

        model_usd.write_baked(folder / files.usd, done, shown)
    return [*_said(entry, folder, files, key, told, " with textures"), *said]
