"""Things among the files of a sheet: where each stands, their models, and how densely each strew lies."""

from __future__ import annotations

import csv
import json
from collections.abc import Callable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.cover import function, plan
from elvatch.core.document.sheet_entry import ThingsEntry
from elvatch.core.formats import png
from elvatch.core.ground import places as ground_places
from elvatch.core.ground.places import Places, ReliefAt
from elvatch.core.handoff import instances, model_files
from elvatch.core.handoff.file_names import check, fields_of, name_of
from elvatch.core.handoff.instances import Instances
from elvatch.core.handoff.listing import Source
from elvatch.core.handoff.manifest import MadeSaid, made
from elvatch.core.handoff.model_files import files_of
from elvatch.core.handoff.own_models import OwnModels, models_of
from elvatch.core.handoff.whole import Whole
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.strew import single
from elvatch.core.strew.field import Field
from elvatch.core.strew.laid import radii
from elvatch.core.strew.standing import stood

_A_THING_BYTES = {"csv": 190, "json": 200, "glb": 44, "usd": 60}
_ENDINGS = {"csv": "csv", "json": "json", "glb": "glb", "usd": "usdc"}
_SAME_M = 1e-3
BY_HAND = "Set by hand"


def _field(entry: ThingsEntry, source: Source) -> Field:
    field = source.field() if source.field else None
    if field is None or not (field.strews or field.stocked.singles):
        raise RefusalError(
            entry.file,
            "a site without things",
            "a strew that is on, or a thing set by hand",
            "strew or set things first",
        )
    return field


def standing(source: Source, field: Field, models: OwnModels, run: Run) -> Instances:
    """Return all things of a site, standing on its cover's relief."""
    evidence = source.evidence
    prepared = plan.prepare(source.recipe.layers, source.sets, evidence, wears=source.recipe.wears)

    def relief_at(at: Places) -> NDArray[np.float32]:
        return function.borne(prepared, at, run.token)

    parts: list[Instances] = []
    names = {thing.id: thing.name for thing in source.recipe.things}
    for k, strew in enumerate(field.strews):
        run.at(k / len(field.strews))
        found, stock = field.whole(k, run.token), field.stocks[k]
        stands = stood(strew, found, stock, source.survey, field.ways, relief_at if source.recipe.layers else None)
        variant = (stands.shape - stock.first[found.kind]) // stock.levels[found.kind]
        of = [names[one.thing] for one in strew.kinds]
        parts.append(
            Instances(
                [strew.name] * len(found.number),
                [of[int(kind)] for kind in found.kind],
                variant.astype(np.int64),
                found.number,
                stands.at,
                instances.quaternions(stands.turn),
                stands.size.astype(np.float64),
                radii(strew, found, field.on.foot),
                stands.tint.astype(np.float64),
            )
        )
    parts.append(_set_by_hand(source, field, models, relief_at if source.recipe.layers else None))
    return Instances(
        [name for part in parts for name in part.strew],
        [name for part in parts for name in part.thing],
        np.concatenate([part.variant for part in parts]),
        np.concatenate([part.number for part in parts]),
        np.concatenate([part.at for part in parts]),
        np.concatenate([part.turn for part in parts]),
        np.concatenate([part.scale for part in parts]),
        np.concatenate([part.radius_m for part in parts]),
        np.concatenate([part.tint for part in parts]),
    )


def _set_by_hand(source: Source, field: Field, models: OwnModels, relief_at: ReliefAt | None) -> Instances:
    singles = field.stocked.singles
    stands = single.stood(singles, source.survey, relief_at)
    wide = np.array([0.5 * one.of.size_m * max(one.of.along, one.of.across) for one in singles], np.float64)
    return Instances(
        [BY_HAND] * len(singles),
        [thing for thing, _ in models.single],
        np.array([number for _, number in models.single], np.int64),
        np.arange(len(singles), dtype=np.int64),
        stands.at,
        instances.quaternions(stands.turn),
        stands.size.astype(np.float64),
        wide,
        stands.tint.astype(np.float64),
    )


def wholes(entry: ThingsEntry, source: Source) -> list[Whole]:
    """Return what makes the files of a site's things.

    Raises
    ------
    RefusalError
        When nothing is strewn, or no form is chosen.
    """
    check(entry.file)
    field = _field(entry, source)
    models = models_of(source, field, entry.bake_px > 0 and entry.models)
    if not (entry.forms or entry.models or entry.density_px):
        raise RefusalError(entry.file, "no form", "a table, a scene, models or densities", "choose at least one")
    covers = [thing.cover for thing in source.recipe.things]
    of = digest.of_json(
        [
            entry.model_dump(mode="json"),
            source.title,
            field.name,
            source.contents,
            [digest.of_part(part) for part in (*source.recipe.layers, *covers)],
        ]
    )
    kept: dict[str, Instances] = {}

    def all_of(run: Run) -> Instances:
        if "all" not in kept:
            kept["all"] = standing(source, field, models, run)
        return kept["all"]

    out = []
    count = sum(field.count(k)[0] for k in range(len(field.strews))) + len(field.stocked.singles)
    tiles = [(row, col) for row in range(entry.rows) for col in range(entry.columns)]
    for form in entry.forms:
        for row, col in tiles:
            word = "things" if len(tiles) == 1 else f"things_{row}_{col}"
            name = name_of(entry.file, fields_of(source.title, word), _ENDINGS[form])
            make = _writer(entry, source, models, form, (row, col), name, all_of)
            out.append(Whole(entry.id, (name,), count * _A_THING_BYTES[form] // len(tiles) + 2_000_000, of, make))
    if entry.models:
        out += model_files.wholes(entry, source, models, of, all_of)
    if entry.density_px:
        out += _densities(entry, source, field, of)
    return out


def _writer(
    entry: ThingsEntry,
    source: Source,
    models: OwnModels,
    form: str,
    tile: tuple[int, int],
    name: str,
    all_of: Callable[[Run], Instances],
) -> Callable[[Path, Run], list[MadeSaid]]:
    def make(folder: Path, run: Run) -> list[MadeSaid]:
        whole = all_of(run.part(0, 0.6))
        wide, deep = source.survey.width_m / entry.columns, source.survey.depth_m / entry.rows
        col = np.minimum(whole.at[:, 0] // wide, entry.columns - 1)
        row = np.minimum((source.survey.depth_m - whole.at[:, 1]) // deep, entry.rows - 1)
        of = whole.some((row == tile[0]) & (col == tile[1]))
        finest = {key: of.levels[0] for key, of in models.of.items()}
        files = {key: files_of(entry, source, key, one) for key, one in models.of.items()} if entry.models else {}
        path = folder / name
        if form == "csv":
            instances.write_csv(path, of)
        elif form == "json":
            listed: dict[str, list[str]] = {thing: [] for thing, _ in models.of} if entry.models else {}
            for (thing, _), own in files.items():
                listed[thing] += [one for one in (own.glb, own.usd) if one]
            instances.write_json(path, of, listed)
        elif form == "glb":
            instances.write_glb(path, of, finest)
        else:
            from elvatch.core.handoff import instancer  # takes long to load, and is wanted seldom

            instancer.write(path, of, finest, {key: own.usd for key, own in files.items() if own.usd})
        _check(path, form, of)
        told = [f"{len(of.strew):,} things, {len(finest)} models, read back with their places"]
        return [made(path, entry.id, f"things, {form.upper()}", told)]

    return make


def _check(path: Path, form: str, of: Instances) -> None:
    """Refuse a file that reads back as other things than were written."""
    if form == "csv":
        with path.open(newline="", encoding="utf-8") as text:
            rows = [row[4:7] for row in csv.reader(text)][1:]
        there = np.array(rows, np.float64).reshape(-1, 3)
    elif form == "glb":
        nodes = instances.read_glb(path)
        there = np.concatenate([np.zeros((0, 3)), *(places for _, places, _, _ in nodes)])
        there = np.stack([there[:, 0], -there[:, 2], there[:, 1]], 1)
    elif form == "usd":
        from elvatch.core.handoff import instancer

        there = instancer.read(path)
    else:
        there = np.array([row[4:7] for row in json.loads(path.read_text())["rows"]], np.float64).reshape(-1, 3)
    same = len(there) == len(of.at)
    if same and len(there):
        far = np.abs(np.sort(there, axis=0) - np.sort(of.at, axis=0)).max()
        same = bool(far < max(_SAME_M, 1e-6 * float(np.abs(of.at).max())))
    if not same:
        raise RefusalError(
            path.name, "other places when it was read back", "those that were written", "write it again"
        )


def _densities(entry: ThingsEntry, source: Source, field: Field, of: str) -> list[Whole]:
    width, height = ground_places.size_of(source.survey.width_m, source.survey.depth_m, entry.density_px)
    out = []
    for k, strew in enumerate(field.strews):
        name = name_of(entry.file, fields_of(source.title, f"density_{plain_name(strew.name)}"), "png")

        def make(folder: Path, run: Run, name: str = name, k: int = k) -> list[MadeSaid]:
            at = ground_places.on_grid(source.survey, width, height, 0, height)
            density = field.densities(k, at, run.token).sum(axis=1) * 100
            most = max(float(density.max()), 1e-9)
            codes = np.rint(density / most * 65535).astype(np.uint16).reshape(height, width)
            (folder / name).write_bytes(png.encode(codes))
            told = [f"0 to {most:.6g} things on 100 m², linear, row 0 north"]
            return [made(folder / name, entry.id, f"density of {field.strews[k].name}, PNG 16 bit", told)]

        out.append(Whole(entry.id, (name,), width * height, of, make))
    return out
