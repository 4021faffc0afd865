"""Things as an OpenUSD PointInstancer over a prototype for each model, z up, metres."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

import numpy as np
import scipy
from numpy.typing import NDArray
from pxr import Gf, Sdf, Usd, UsdGeom, Vt

from elvatch.core.handoff.instances import Instances
from elvatch.core.mesh import usd
from elvatch.core.thing.solid import Solid

_THINGS = "/Site/Things"


def write(
    path: Path, of: Instances, models: Mapping[tuple[str, int], Solid], files: Mapping[tuple[str, int], str]
) -> None:
    """Write things.

    Parameters
    ----------
    path : Path
        Binary or text as its ending says.
    of : Instances
        Where each stands.
    models : mapping
        Their shapes by thing and variant.
    files : mapping
        OpenUSD files beside it that hold models; the others' shapes are in the file itself, in the colours of their
        corners.
    """
    stage = usd.begun(path, "z", "Site")
    made = UsdGeom.PointInstancer.Define(stage, _THINGS)
    order = {}
    for k, (key, solid) in enumerate(models.items()):
        place = f"{_THINGS}/Prototypes/{_token(key[0])}_{key[1]}"
        if key in files:
            stage.DefinePrim(place, "Xform").GetReferences().AddReference(f"./{files[key]}")
        else:
            mesh = usd.triangles(stage, place, solid.places, solid.normals, solid.triangles)
            colours = np.ascontiguousarray(np.clip(solid.colours, 0, 1), np.float32)
            mesh.CreateDisplayColorPrimvar(UsdGeom.Tokens.vertex).Set(Vt.Vec3fArray.FromNumpy(colours))
        made.CreatePrototypesRel().AddTarget(Sdf.Path(place))
        order[key] = k
    which = np.array([order[t, int(v)] for t, v in zip(of.thing, of.variant, strict=True)], np.int32)
    made.CreateProtoIndicesAttr(Vt.IntArray.FromNumpy(which))
    made.CreatePositionsAttr(Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(of.at, np.float32)))
    turns = Vt.QuathArray([Gf.Quath(float(w), float(x), float(y), float(z)) for x, y, z, w in of.turn.tolist()])
    made.CreateOrientationsAttr(turns)
    scale = np.ascontiguousarray(np.repeat(of.scale[:, None], 3, axis=1), np.float32)
    made.CreateScalesAttr(Vt.Vec3fArray.FromNumpy(scale))
    made.CreateIdsAttr(Vt.Int64Array([int(n) for n in of.number]))
    if len(of.thing):
        made.CreateExtentAttr(Vt.Vec3fArray.FromNumpy(_extent(of, list(models.values()), which)))
    stage.GetRootLayer().Save()


def _extent(of: Instances, models: list[Solid], which: NDArray[np.int32]) -> NDArray[np.float32]:
    """Return the lowest and highest place of the boxes about all things, (2, 3)."""
    boxes = np.array([[one.places.min(axis=0), one.places.max(axis=0)] for one in models], np.float64)
    ends = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)])
    corners = np.where(ends == 1, boxes[:, 1:], boxes[:, :1])
    turns = scipy.spatial.transform.Rotation.from_quat(of.turn).as_matrix()
    at = np.einsum("nij,nkj->nki", turns, corners[which]) * of.scale[:, None, None] + of.at[:, None]
    low, high = at.reshape(-1, 3).min(axis=0), at.reshape(-1, 3).max(axis=0)
    extent: NDArray[np.float32] = np.stack([low, high]).astype(np.float32)
    return extent


def _token(name: str) -> str:
    plain = "".join(letter if letter.isascii() and letter.isalnum() else "_" for letter in name)
    return f"t_{plain}" if not plain or plain[0].isdigit() else plain


def read(path: Path) -> NDArray[np.float64]:
    """Return the places of all things that a file holds, (n, 3)."""
    stage = Usd.Stage.Open(str(path))
    made = UsdGeom.PointInstancer(stage.GetPrimAtPath(_THINGS))
    return np.array(made.GetPositionsAttr().Get(), np.float64).reshape(-1, 3)
