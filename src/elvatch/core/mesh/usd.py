"""A mesh as OpenUSD: one file, in metres, covered by a preview surface; layers' shares as primvars."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from pxr import Gf, Sdf, Usd, UsdGeom, UsdShade, Vt

from elvatch.core.mesh.carried import Carried, Textures
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


def _material(stage: Usd.Stage, root: Sdf.Path, textures: Textures | None) -> UsdShade.Material:
    path = root.AppendChild("ground")
    material = UsdShade.Material.Define(stage, path)
    surface = UsdShade.Shader.Define(stage, path.AppendChild("surface"))
    surface.CreateIdAttr("UsdPreviewSurface")
    material.CreateSurfaceOutput().ConnectToSource(surface.ConnectableAPI(), "surface")
    types = Sdf.ValueTypeNames
    if textures is None:
        surface.CreateInput("diffuseColor", types.Color3f).Set(Gf.Vec3f(0.5, 0.5, 0.5))
        surface.CreateInput("roughness", types.Float).Set(0.9)
        return material
    reader = UsdShade.Shader.Define(stage, path.AppendChild("coordinates"))
    reader.CreateIdAttr("UsdPrimvarReader_float2")
    reader.CreateInput("varname", types.String).Set("st")
    reader.CreateOutput("result", types.Float2)
    images = {
        name: _image(stage, path, name, file, name == "colour")
        for name, file in (("colour", textures.colour), ("values", textures.surface), ("normal", textures.normal))
    }
    wired = (
        ("diffuseColor", types.Color3f, "colour", "rgb", types.Float3),
        ("occlusion", types.Float, "values", "r", types.Float),
        ("roughness", types.Float, "values", "g", types.Float),
        ("metallic", types.Float, "values", "b", types.Float),
        ("normal", types.Normal3f, "normal", "rgb", types.Float3),
    )  # fmt: skip
    for image in images.values():
        image.CreateInput("st", types.Float2).ConnectToSource(reader.ConnectableAPI(), "result")
    for name, kind, image, output, type in wired:
        images[image].CreateOutput(output, type)
        surface.CreateInput(name, kind).ConnectToSource(images[image].ConnectableAPI(), output)
    return material


def write(path: Path, mesh: Mesh, carried: Carried) -> None:
    """Write a mesh, metres; binary or text as the path's ending says."""
    places, normals = (y_up(of) if carried.up == "y" else of for of in (mesh.places, mesh.normals))
    stage = Usd.Stage.CreateNew(str(path))
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y if carried.up == "y" else UsdGeom.Tokens.z)
    UsdGeom.SetStageMetersPerUnit(stage, 1.0)
    root = UsdGeom.Xform.Define(stage, "/site")
    stage.SetDefaultPrim(root.GetPrim())
    stage.GetRootLayer().documentation = carried.title
    made = UsdGeom.Mesh.Define(stage, "/site/mesh")
    made.CreatePointsAttr(Vt.Vec3fArray.FromNumpy(places.astype(np.float32)))
    made.CreateFaceVertexCountsAttr(Vt.IntArray.FromNumpy(np.full(len(mesh.triangles), 3, np.int32)))
    made.CreateFaceVertexIndicesAttr(Vt.IntArray.FromNumpy(np.ascontiguousarray(mesh.triangles.reshape(-1))))
    made.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.none)
    made.CreateNormalsAttr(Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(normals, np.float32)))
    made.SetNormalsInterpolation(UsdGeom.Tokens.vertex)
    made.CreateExtentAttr(Vt.Vec3fArray.FromNumpy(np.stack([places.min(0), places.max(0)]).astype(np.float32)))
    primvars = UsdGeom.PrimvarsAPI(made)
    st = primvars.CreatePrimvar("st", Sdf.ValueTypeNames.TexCoord2fArray, UsdGeom.Tokens.vertex)
    st.Set(Vt.Vec2fArray.FromNumpy(np.stack([mesh.uv[:, 0], 1 - mesh.uv[:, 1]], 1).astype(np.float32)))
    if carried.shares == "values":
        for k, name in enumerate(carried.layers):
            share = primvars.CreatePrimvar(f"share_{k}", Sdf.ValueTypeNames.FloatArray, UsdGeom.Tokens.vertex)
            share.Set(Vt.FloatArray.FromNumpy(np.ascontiguousarray(mesh.shares[:, k])))
            share.GetAttr().SetDocumentation(name)
    elif carried.shares == "colours":
        colours = np.zeros((len(places), 3), np.float32)
        colours[:, : mesh.shares.shape[1]] = mesh.shares[:, :3]
        made.CreateDisplayColorPrimvar(UsdGeom.Tokens.vertex).Set(Vt.Vec3fArray.FromNumpy(colours))
    material = _material(stage, Sdf.Path("/site"), carried.textures)
    UsdShade.MaterialBindingAPI.Apply(made.GetPrim()).Bind(material)
    stage.GetRootLayer().Save()
