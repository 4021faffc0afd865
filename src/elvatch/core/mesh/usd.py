"""Meshes as OpenUSD, in metres, covered by a preview surface; layers' shares as primvars."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from pxr import Gf, Sdf, Usd, UsdGeom, UsdShade, Vt

from elvatch.core.mesh.carried import Carried
from elvatch.core.mesh.mesh import Mesh, y_up


def _image(stage: Usd.Stage, material: Sdf.Path, name: str, file: str, colour: bool) -> UsdShade.Shader:
    shader = UsdShade.Shader.Define(stage, material.AppendChild(name))
    shader.CreateIdAttr("UsdUVTexture")
    shader.CreateInput("file", Sdf.ValueTypeNames.Asset).Set(Sdf.AssetPath(f"./{file}"))
    shader.CreateInput("sourceColorSpace", Sdf.ValueTypeNames.Token).Set("sRGB" if colour else "raw")
    for side in ("wrapS", "wrapT"):
        shader.CreateInput(side, Sdf.ValueTypeNames.Token).Set("clamp")
    if name == "normal":
        # stored 0..1, meant -1..1
        shader.CreateInput("scale", Sdf.ValueTypeNames.Float4).Set(Gf.Vec4f(2, 2, 2, 1))
        shader.CreateInput("bias", Sdf.ValueTypeNames.Float4).Set(Gf.Vec4f(-1, -1, -1, 0))
    return shader


_WIRED = (
    ("diffuseColor", "Color3f", "colour", "rgb", "Float3"),
    ("opacity", "Float", "colour", "a", "Float"),
    ("occlusion", "Float", "surface", "r", "Float"),
    ("roughness", "Float", "surface", "g", "Float"),
    ("metallic", "Float", "surface", "b", "Float"),
    ("normal", "Normal3f", "normal", "rgb", "Float3"),
    ("emissiveColor", "Color3f", "emission", "rgb", "Float3"),
)
"""Inputs of a preview surface: their types, the map, which of it, and its type."""
HOLES = 0.5
"""Less opaque than this, a leaf is a hole."""


def preview(
    stage: Usd.Stage,
    path: Sdf.Path,
    maps: Mapping[str, str],
    roughness: float = 0.9,
    holes: bool = False,
    emission: float = 1.0,
) -> UsdShade.Material:
    """Return a preview surface of textures beside the file, plain grey without any.

    Parameters
    ----------
    stage : Usd.Stage
        Where it is defined.
    path : Sdf.Path
        Under which path.
    maps : mapping
        File names of ``colour``, ``surface`` (occlusion, roughness, metal), ``normal`` and ``emission``, those that
        there are.
    roughness : float
        Where no map tells it.
    holes : bool
        Whether the colour's alpha is cut out.
    emission : float
        What the map of emission is multiplied by.
    """
    material = UsdShade.Material.Define(stage, path)
    surface = UsdShade.Shader.Define(stage, path.AppendChild("surface"))
    surface.CreateIdAttr("UsdPreviewSurface")
    material.CreateSurfaceOutput().ConnectToSource(surface.ConnectableAPI(), "surface")
    types = Sdf.ValueTypeNames
    if "surface" not in maps:
        surface.CreateInput("roughness", types.Float).Set(roughness)
    if "colour" not in maps:
        surface.CreateInput("diffuseColor", types.Color3f).Set(Gf.Vec3f(0.5, 0.5, 0.5))
        return material
    if holes:
        surface.CreateInput("opacityThreshold", types.Float).Set(HOLES)
    reader = UsdShade.Shader.Define(stage, path.AppendChild("coordinates"))
    reader.CreateIdAttr("UsdPrimvarReader_float2")
    reader.CreateInput("varname", types.String).Set("st")
    reader.CreateOutput("result", types.Float2)
    images = {
        name: _image(stage, path, "values" if name == "surface" else name, file, name in ("colour", "emission"))
        for name, file in maps.items()
    }
    if "emission" in images:
        images["emission"].CreateInput("scale", types.Float4).Set(Gf.Vec4f(emission, emission, emission, 1))
    for image in images.values():
        image.CreateInput("st", types.Float2).ConnectToSource(reader.ConnectableAPI(), "result")
    for name, kind, of, output, type in _WIRED:
        if of in images and (holes or name != "opacity"):
            images[of].CreateOutput(output, getattr(types, type))
            surface.CreateInput(name, getattr(types, kind)).ConnectToSource(images[of].ConnectableAPI(), output)
    return material


def triangles(
    stage: Usd.Stage,
    path: str,
    places: NDArray[np.floating],
    normals: NDArray[np.floating],
    corners: NDArray[np.integer],
    uv: NDArray[np.floating] | None = None,
) -> UsdGeom.Mesh:
    """Return a mesh of triangles with a normal a vertex; texture coordinates (n, 2) have their second downwards."""
    made = UsdGeom.Mesh.Define(stage, path)
    made.CreatePointsAttr(Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(places, np.float32)))
    made.CreateFaceVertexCountsAttr(Vt.IntArray.FromNumpy(np.full(len(corners), 3, np.int32)))
    made.CreateFaceVertexIndicesAttr(Vt.IntArray.FromNumpy(np.ascontiguousarray(corners.reshape(-1), np.int32)))
    made.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.none)
    made.CreateNormalsAttr(Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(normals, np.float32)))
    made.SetNormalsInterpolation(UsdGeom.Tokens.vertex)
    made.CreateExtentAttr(Vt.Vec3fArray.FromNumpy(np.stack([places.min(0), places.max(0)]).astype(np.float32)))
    if uv is not None:
        primvars = UsdGeom.PrimvarsAPI(made)
        st = primvars.CreatePrimvar("st", Sdf.ValueTypeNames.TexCoord2fArray, UsdGeom.Tokens.vertex)
        st.Set(Vt.Vec2fArray.FromNumpy(np.stack([uv[:, 0], 1 - uv[:, 1]], 1).astype(np.float32)))
    return made


def begun(path: Path, up: str, root: str) -> Usd.Stage:
    """Return a new stage in metres whose default is a group called ``root``."""
    stage = Usd.Stage.CreateNew(str(path))
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y if up == "y" else UsdGeom.Tokens.z)
    UsdGeom.SetStageMetersPerUnit(stage, 1.0)
    stage.SetDefaultPrim(UsdGeom.Xform.Define(stage, f"/{root}").GetPrim())
    return stage


def write(path: Path, mesh: Mesh, carried: Carried) -> None:
    """Write a mesh, metres; binary or text as the path's ending says."""
    places, normals = (y_up(of) if carried.up == "y" else of for of in (mesh.places, mesh.normals))
    stage = begun(path, carried.up, "site")
    stage.GetRootLayer().documentation = carried.title
    made = triangles(stage, "/site/mesh", places, normals, mesh.triangles, mesh.uv)
    primvars = UsdGeom.PrimvarsAPI(made)
    if carried.shares == "values":
        for k, name in enumerate(carried.layers):
            share = primvars.CreatePrimvar(f"share_{k}", Sdf.ValueTypeNames.FloatArray, UsdGeom.Tokens.vertex)
            share.Set(Vt.FloatArray.FromNumpy(np.ascontiguousarray(mesh.shares[:, k])))
            share.GetAttr().SetDocumentation(name)
    elif carried.shares == "colours":
        colours = np.zeros((len(places), 3), np.float32)
        colours[:, : mesh.shares.shape[1]] = mesh.shares[:, :3]
        made.CreateDisplayColorPrimvar(UsdGeom.Tokens.vertex).Set(Vt.Vec3fArray.FromNumpy(colours))
    of = carried.textures
    maps = {"colour": of.colour, "surface": of.surface, "normal": of.normal} if of else {}
    material = preview(stage, Sdf.Path("/site/ground"), maps)
    UsdShade.MaterialBindingAPI.Apply(made.GetPrim()).Bind(material)
    stage.GetRootLayer().Save()
