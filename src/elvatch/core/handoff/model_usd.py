"""Models of things as OpenUSD: one file each, z up, the longest side 1 m; its levels of detail are variants."""

from __future__ import annotations

import functools
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path

import numpy as np
from pxr import Sdf, Usd, UsdGeom, UsdShade, Vt

from elvatch.core.handoff.baked import Baked
from elvatch.core.handoff.baked_files import brightest
from elvatch.core.mesh import usd
from elvatch.core.thing.solid import Solid

_ROOT = "thing"
LEVELS = "level"
"""The variant set of the levels of detail: level0 the finest, which is chosen."""


def _written(path: Path, levels: Sequence[Callable[[Usd.Stage], None]]) -> None:
    stage = usd.begun(path, "z", _ROOT)
    variants = stage.GetDefaultPrim().GetVariantSets().AddVariantSet(LEVELS)
    for k, define in enumerate(levels):
        variants.AddVariant(f"level{k}")
        variants.SetVariantSelection(f"level{k}")
        with variants.GetVariantEditContext():
            define(stage)
    variants.SetVariantSelection("level0")
    stage.GetRootLayer().Save()


def _bind(prim: Usd.Prim, material: UsdShade.Material) -> None:
    UsdShade.MaterialBindingAPI.Apply(prim).Bind(material)


def _define_baked(stage: Usd.Stage, of: Baked, maps: Mapping[str, str]) -> None:
    solid, rows = of.unwrapped.solid, of.corners.row
    made = usd.triangles(
        stage,
        f"/{_ROOT}/mesh",
        solid.places[rows],
        solid.normals[rows],
        of.corners.triangles,
        of.unwrapped.flat[rows],
    )
    _bind(made.GetPrim(), usd.preview(stage, Sdf.Path(f"/{_ROOT}/material"), maps, emission=brightest(of)))


def _define_plain(stage: Usd.Stage, of: Solid, images: Sequence[str]) -> None:
    textured = bool(len(of.images))
    made = usd.triangles(stage, f"/{_ROOT}/mesh", of.places, of.normals, of.triangles, of.uv if textured else None)
    colours = np.ascontiguousarray(np.clip(of.colours, 0, 1), np.float32)
    made.CreateDisplayColorPrimvar(UsdGeom.Tokens.vertex).Set(Vt.Vec3fArray.FromNumpy(colours))
    made.CreateDoubleSidedAttr(bool(of.leaf.max(initial=0.0) > 0) or textured)
    binding = UsdShade.MaterialBindingAPI.Apply(made.GetPrim())
    for number, name in enumerate(images):
        faces = np.flatnonzero(of.image == number).astype(np.int32)
        if len(faces):
            path = Sdf.Path(f"/{_ROOT}/texture_{number}")
            material = usd.preview(stage, path, {"colour": name}, float(of.roughness.mean()), holes=True)
            subset = binding.CreateMaterialBindSubset(f"texture_{number}", Vt.IntArray.FromNumpy(faces))
            _bind(subset.GetPrim(), material)


def write_baked(path: Path, levels: Sequence[Baked], maps: Sequence[Mapping[str, str]]) -> None:
    """Write a baked thing; ``maps`` names the textures of each level beside the file, by kind."""
    _written(path, [functools.partial(_define_baked, of=of, maps=own) for of, own in zip(levels, maps, strict=True)])


def write_plain(path: Path, levels: Sequence[Solid], images: Sequence[str]) -> None:
    """Write a thing with the colours of its corners; ``images`` names its own textures beside the file."""
    _written(path, [functools.partial(_define_plain, of=of, images=images) for of in levels])
