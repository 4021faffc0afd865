"""A kit as a MaterialX document (Academy Software Foundation 2024): planes of tiled images, mixed by their masks."""

from __future__ import annotations

import math
from pathlib import Path

import MaterialX as mx

from elvatch.core.kit.document import Kit, KitLayer, KitTile, Plane

_CHANNELS = {"red": 0, "green": 1, "blue": 2, "alpha": 3}


class _Graph:
    """A graph of nodes, each added with its inputs."""

    def __init__(self, graph: mx.NodeGraph) -> None:
        self.graph = graph

    def node(self, category: str, type: str, name: str, **inputs: object) -> mx.Node:
        """Add a node; inputs are other nodes, or values with their types told by what they are."""
        made = self.graph.addNode(category, self.graph.createValidChildName(name), type)
        for key, value in inputs.items():
            if isinstance(value, mx.Node):
                made.addInput(key, value.getType()).setConnectedNode(value)
            elif isinstance(value, str):
                made.addInput(key, "string").setValueString(value)
            elif isinstance(value, int):
                made.addInput(key, "integer").setValue(value, "integer")
            elif isinstance(value, float):
                made.addInput(key, "float").setValue(value, "float")
            elif isinstance(value, tuple):
                kind = f"vector{len(value)}"
                made.addInput(key, kind).setValueString(", ".join(f"{part:.9g}" for part in value))
            else:
                raise TypeError(f"{key} of {type} is no input")
        return made

    def image(self, type: str, name: str, file: str, at: mx.Node, tiled: bool, space: str = "") -> mx.Node:
        """Add an image at texture coordinates, repeated or held at its edges."""
        if tiled:
            made = self.node("tiledimage", type, name, texcoord=at)
        else:
            made = self.node("image", type, name, texcoord=at, uaddressmode="clamp", vaddressmode="clamp")
        chosen = made.addInput("file", "filename")
        chosen.setValueString(file)
        if space:
            chosen.setColorSpace(space)
        return made


def _minus(g: _Graph, layer: KitLayer, place: mx.Node) -> mx.Node:
    return g.node("subtract", "vector3", f"place_{layer.number}", in1=place, in2=layer.offset_m)


def _along(g: _Graph, name: str, of: mx.Node, way: tuple[float, float, float]) -> mx.Node:
    return g.node("dotproduct", "float", name, in1=of, in2=way)


def _coordinates(g: _Graph, layer: KitLayer, plane: Plane, place: mx.Node, normal: mx.Node) -> mx.Node:
    """Add the texture coordinates of a plane, as :func:`elvatch.core.kit.reading.coordinates` has them."""
    mirror = -1.0 if layer.mirrored else 1.0
    name = f"{layer.number}_{plane.faces.replace(' ', '_')}"
    up = (0.0, 1.0, 0.0) if plane.faces == "up" else (0.0, 0.0, 1.0)
    if plane.faces == "up":
        across = _along(g, f"across_{name}", place, (mirror, 0.0, 0.0))
    elif plane.faces == "a side":
        side = math.radians(layer.side_deg)
        way = (-mirror * math.cos(side), mirror * math.sin(side), 0.0)
        across = _along(g, f"across_{name}", place, way)
    else:
        east = plane.faces == "east or west"
        way = (0.0, mirror, 0.0) if east else (-mirror, 0.0, 0.0)
        flat = _along(g, f"flat_{name}", place, way)
        facing = _along(g, f"facing_{name}", normal, (1.0, 0.0, 0.0) if east else (0.0, 1.0, 0.0))
        turned = g.node("sign", "float", f"sign_{name}", **{"in": facing})
        across = g.node("multiply", "float", f"across_{name}", in1=flat, in2=turned)
    upward = _along(g, f"upward_{name}", place, up)
    both = g.node("combine2", "vector2", f"plane_{name}", in1=across, in2=upward)
    turned_by = g.node("rotate2d", "vector2", f"turned_{name}", **{"in": both, "amount": float(plane.turn_deg)})
    return g.node("divide", "vector2", f"uv_{name}", in1=turned_by, in2=(layer.tile_m, layer.tile_up_m))


def _plane_shares(g: _Graph, layer: KitLayer, normal: mx.Node) -> list[mx.Node | None]:
    """Add how much each plane counts: its part of the normal, to the power of the edge."""
    if len(layer.planes) == 1:
        return [None]
    ways = {"up": (0.0, 0.0, 1.0), "east or west": (1.0, 0.0, 0.0), "north or south": (0.0, 1.0, 0.0)}
    strong = []
    for plane in layer.planes:
        name = f"{layer.number}_{plane.faces.replace(' ', '_')}"
        part = g.node("absval", "float", f"abs_{name}", **{"in": _along(g, f"dot_{name}", normal, ways[plane.faces])})
        strong.append(g.node("power", "float", f"power_{name}", in1=part, in2=float(layer.plane_edge)))
    total = strong[0]
    for one in strong[1:]:
        total = g.node("add", "float", f"total_{layer.number}", in1=total, in2=one)
    return [g.node("divide", "float", f"share_{layer.number}", in1=one, in2=total) for one in strong]


def _weighted(g: _Graph, name: str, type: str, parts: list[tuple[mx.Node, mx.Node | None]]) -> mx.Node:
    """Add a sum of nodes times their shares; one without a share is all there is."""
    total: mx.Node | None = None
    for of, share in parts:
        one = of if share is None else g.node("multiply", type, f"{name}_part", in1=of, in2=share)
        total = one if total is None else g.node("add", type, f"{name}_sum", in1=total, in2=one)
    if total is None:
        raise ValueError("a sum of nothing")
    return total


_KINDS = (("colour", "color3", "srgb_texture"), ("normal", "vector3", ""), ("surface", "vector3", ""))


def _layer(g: _Graph, layer: KitLayer, place: mx.Node, normal: mx.Node) -> dict[str, mx.Node]:
    shares = _plane_shares(g, layer, normal)
    at = _minus(g, layer, place)
    found: dict[str, list[tuple[mx.Node, mx.Node | None]]] = {name: [] for name, _, _ in _KINDS}
    for plane, share in zip(layer.planes, shares, strict=True):
        steep = plane.faces not in ("up", "a side") and layer.steep_maps is not None
        maps = layer.steep_maps if steep and layer.steep_maps else layer.maps
        uv = _coordinates(g, layer, plane, at, normal)
        for name, type, space in _KINDS:
            called = f"{name}_{layer.number}_{plane.faces.replace(' ', '_')}"
            image = g.image(type, called, getattr(maps, name), uv, True, space)
            found[name].append((image, share))
    return {name: _weighted(g, f"{name}_of_{layer.number}", type, found[name]) for name, type, _ in _KINDS}


def _masks(g: _Graph, kit: Kit, tile: int, at: mx.Node) -> list[mx.Node]:
    images: dict[str, mx.Node] = {}
    out = []
    for layer in kit.layers:
        file = layer.weight.files[tile]
        if layer.weight.channel == "grey":
            out.append(g.image("float", f"mask_{layer.number}", file, at, False))
            continue
        if file not in images:
            images[file] = g.image("vector4", f"weights_{len(images)}", file, at, False)
        channel = _CHANNELS[layer.weight.channel]
        out.append(g.node("extract", "float", f"mask_{layer.number}", **{"in": images[file], "index": channel}))
    return out


def _on_tile(g: _Graph, kit: Kit, tile: KitTile, place: mx.Node) -> mx.Node:
    """Add texture coordinates over a tile, from its south-west corner."""
    corner = (tile.west * kit.width_m, tile.south * kit.depth_m, 0.0)
    over = (tile.east - tile.west) * kit.width_m, (tile.north - tile.south) * kit.depth_m
    from_corner = g.node("subtract", "vector3", "from_corner", in1=place, in2=corner)
    east = _along(g, "east", from_corner, (1.0, 0.0, 0.0))
    north = _along(g, "north", from_corner, (0.0, 1.0, 0.0))
    both = g.node("combine2", "vector2", "metres_over_tile", in1=east, in2=north)
    return g.node("divide", "vector2", "uv_over_tile", in1=both, in2=over)


def document(kit: Kit, tile: int) -> mx.Document:
    """Return the material of one tile of the ground.

    Parameters
    ----------
    kit : Kit
        What it says of itself; weights as splat maps or masks.
    tile : int
        Which of its tiles.
    """
    made = mx.createDocument()
    made.setColorSpace("lin_rec709")
    g = _Graph(made.addNodeGraph("cover"))
    place = g.node("position", "vector3", "place", space="object")
    normal = g.node("normal", "vector3", "facing", space="object")
    over = _on_tile(g, kit, kit.tiles[tile], place)
    masks = _masks(g, kit, tile, over)
    layers = [_layer(g, layer, place, normal) for layer in kit.layers]
    sums = {
        name: _weighted(g, name, type, [(of[name], mask) for of, mask in zip(layers, masks, strict=True)])
        for name, type, _ in _KINDS
    }
    colour = sums["colour"]
    if kit.tint:
        tint = g.image("color3", "tint", kit.tint[tile], over, False)
        most = g.node("multiply", "color3", "tint_factor", in1=tint, in2=float(kit.tint_most))
        colour = g.node("multiply", "color3", "tinted", in1=colour, in2=most)
    bumped = g.node("normalmap", "vector3", "bumped", **{"in": sums["normal"]})
    rough = g.node("extract", "float", "rough", **{"in": sums["surface"], "index": 1})
    metal = g.node("extract", "float", "metal", **{"in": sums["surface"], "index": 2})
    _surface(
        made,
        g,
        {"base_color": colour, "specular_roughness": rough, "base_metalness": metal, "geometry_normal": bumped},
    )
    return made


def _surface(made: mx.Document, g: _Graph, outputs: dict[str, mx.Node]) -> None:
    shader = made.addNode("open_pbr_surface", "ground", "surfaceshader")
    for name, of in outputs.items():
        output = g.graph.addOutput(name, of.getType())
        output.setConnectedNode(of)
        shader.addInput(name, of.getType()).setConnectedOutput(output)
    made.addMaterialNode("site", shader)


def write(path: Path, kit: Kit, tile: int) -> None:
    """Write the material of one tile; it is checked against MaterialX's own definitions first."""
    made = document(kit, tile)
    checked = mx.createDocument()
    checked.copyContentFrom(made)
    library = mx.createDocument()
    mx.loadLibraries(mx.getDefaultDataLibraryFolders(), mx.getDefaultDataSearchPath(), library)
    checked.setDataLibrary(library)
    valid, message = checked.validate()
    if not valid:
        raise ValueError(f"the document is not valid: {message[:400]}")
    mx.writeToXmlFile(made, str(path))
