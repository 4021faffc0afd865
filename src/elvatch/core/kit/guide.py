"""A written guide to a kit, for whoever sets it up in an engine."""

from __future__ import annotations

from elvatch.core.kit.document import Kit, KitLayer, Near


def _near(of: Near) -> str:
    return (
        f"{of.mean:.2f} on the mean, {of.most_of_20_in_19:.2f} in 19 of 20 places, {of.worst:.2f} at worst "
        f"({of.places} places, each {of.across_m:.3g} m across)"
    )


def _layer(layer: KitLayer) -> list[str]:
    maps, turn = layer.maps, ", ".join(f"{plane.faces} {plane.turn_deg:g}°" for plane in layer.planes)
    lines = [
        f"## {layer.number + 1}. {layer.name}",
        "",
        f"- maps: `{maps.colour}` (sRGB), `{maps.normal}`, `{maps.surface}`, `{maps.height}` "
        f"(0 is {maps.low_m:.4g} m, the highest code {maps.high_m:.4g} m)",
        f"- one repeat: {layer.tile_m:.4g} m across, {layer.tile_up_m:.4g} m up; offset {layer.offset_m[0]:g}, "
        f"{layer.offset_m[1]:g}, {layer.offset_m[2]:g} m{', mirrored' if layer.mirrored else ''}",
        f"- planes and turns: {turn}"
        + (f"; they meet by the power {layer.plane_edge:g}" if len(layer.planes) > 1 else ""),
        f"- relief: {layer.relief_m:.4g} m, {layer.meets}; edge: {layer.edge}, {layer.edge_width_m:.3g} m",
        f"- weight: {layer.weight.channel} of " + ", ".join(f"`{name}`" for name in layer.weight.files),
    ]
    if layer.steep_maps is not None:
        lines.append(f"- steep planes: `{layer.steep_maps.colour}`, `{layer.steep_maps.normal}`")
    if layer.not_carried:
        lines.append("- not carried: " + "; ".join(layer.not_carried))
    return [*lines, ""]


def text(kit: Kit) -> str:
    """Return the guide, in plain Markdown."""
    most = max(tile.layers for tile in kit.tiles)
    lines = [
        f"# {kit.site}: the layers themselves",
        "",
        f"{kit.width_m:g} x {kit.depth_m:g} m; x east, y north, z up, metres from the south-west corner. "
        "Row 0 of every map is north.",
        "",
        "The colour of a place is the sum over all layers of weight times that layer's colour"
        + (f", times `tint` times {kit.tint_most:g}." if kit.tint else "."),
        "A layer's texture coordinates are metres, less its offset, across the plane and up it, turned by the "
        "plane's turn (counter-clockwise, facing it), over the length of a repeat; v runs up.",
        "A MaterialX document has colour, roughness, metal and normals; relief and emission stand in the list.",
        f"Normals are in tangent space, green {kit.green}. "
        "Surface maps: red occlusion, green roughness, blue metallic.",
        "Layers can be mixed by height: the higher of weight plus height wins, over the width of its edge.",
        f"At most {most} layers lie on a tile"
        + (f"; {kit.dropped:.2%} of the ground is of layers that were dropped." if kit.dropped > 0 else "."),
        "",
        "How near this kit comes to the cover (CIEDE2000; 1 can just be seen):",
        "",
        f"- from afar: {_near(kit.from_afar)}",
    ]
    if kit.tint:
        lines.append(f"- from afar without the tint: {_near(kit.from_afar_without_tint)}")
    lines.append(f"- close by: {_near(kit.close)}")
    if kit.not_carried:
        lines += ["", "A kit cannot carry:", "", *(f"- {one}" for one in kit.not_carried)]
    lines.append("")
    for layer in kit.layers:
        lines += _layer(layer)
    return "\n".join(lines)
