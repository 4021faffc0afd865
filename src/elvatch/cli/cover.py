"""Commands about covers: what lies at a place and why, masks taken apart and written."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path

from elvatch.cli.stock import Command
from elvatch.cli.terminal import bar, read_file, tell, workshop, write_beside
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import OnPainted, Rule
from elvatch.core.ground.measures import KINDS, asked_of
from elvatch.core.refusal import RefusalError
from elvatch.core.rules import mask_image
from elvatch.core.run import Run


def layer_index(names: list[str], wanted: str) -> int:
    """Return which layer is meant, by its name or number from the bottom."""
    for index, name in enumerate(names):
        if wanted.lower() == name.lower() or wanted == str(index + 1):
            return index
    raise RefusalError("layer", repr(wanted), "one of " + ", ".join(names), "choose one of these")


def _probe(options: argparse.Namespace) -> None:
    first, found, second = options.at.partition(",")
    try:
        if not found:
            raise ValueError
        east, north = float(first), float(second)
    except ValueError:
        raise RefusalError("--at", repr(options.at), "east and north in metres, like 600,420", "correct it") from None
    shop = workshop(options)
    recipe = shop.store.sites.find(options.site).recipe
    size = recipe.ground.width_m, recipe.ground.depth_m
    if not (0 <= east <= size[0] and 0 <= north <= size[1]):
        raise RefusalError(
            "--at", options.at, f"a place on the ground, 0,0 to {size[0]:g},{size[1]:g} m", "correct it"
        )
    spot = shop.covers.place(recipe, east, north, asked_of(recipe.water.on), Run(progress=bar()))
    shares = shop.covers.shares(recipe, east, north)
    told = shop.covers.account(recipe, east, north)
    measures = {name: {"value": value, "unit": KINDS[name].unit} for name, value in spot.measures.items()}
    layers = [
        {"name": layer.name, "share": share, **{k: v for k, v in asdict(one).items() if k != "layer"}}
        for layer, share, one in zip(recipe.layers, shares, told, strict=True)
    ]
    fit = shop.fits.at(recipe, shop.covers.at(recipe, east, north))
    worn = shop.wears.at(recipe, shop.covers.at(recipe, east, north))
    facts = {
        "east_m": east,
        "north_m": north,
        "measures": measures,
        "relief_m": fit.relief_m,
        "stretch": fit.stretch,
        "density_px_per_m": fit.density,
        "layers": layers,
        "wear": [asdict(one) for one in worn],
    }
    lines = [f"{KINDS[name].title}: {value:.6g} {KINDS[name].unit}" for name, value in spot.measures.items()]
    lines.append(f"Relief: {fit.relief_m * 1000:.1f} mm, stretch {fit.stretch:.2f}, {fit.density:.0f} px/m")
    for layer, share, one in reversed(list(zip(recipe.layers, shares, told, strict=True))):
        lines.append(f"{layer.name}: share {share:.1%}, rule lets in {one.presence:.1%}")
        lines += [
            f"    {'' if k == 0 and c.join == 'and' else c.join + ' '}{c.words}: lets in {c.lets_in:.1%}"
            f"{' - keeps it out' if c.decides else ''}"
            for k, c in enumerate(one.clauses)
        ]
    lines += [f"{one.name}: let in {one.let_in:.1%}, its overlay says {one.overlay:.2f}" for one in reversed(worn)]
    tell(options, facts, lines)


def _repetition(options: argparse.Namespace) -> None:
    shop = workshop(options)
    recipe = shop.store.sites.find(options.site).recipe
    k = layer_index([layer.name for layer in recipe.layers], options.layer)
    found, fit = shop.fits.repetition(recipe, k), recipe.layers[k].fit
    facts = {
        "layer": recipe.layers[k].name,
        "tile_m": fit.tile_m,
        "against": fit.repeats.kind,
        "strength": fit.repeats.strength,
        **asdict(found),
    }
    tell(
        options,
        facts,
        [
            f"{recipe.layers[k].name}: tile {fit.tile_m:g} m, against repeats: {fit.repeats.kind}",
            f"from afar {found.far_before:.2f} before, {found.far_after:.2f} after (0 none, 1 all of it)",
            f"from nearer {found.near_before:.2f} before, {found.near_after:.2f} after",
        ],
    )


def _wear(options: argparse.Namespace) -> None:
    shop = workshop(options)
    recipe = shop.store.sites.find(options.site).recipe
    shop.grounds.land(recipe.ground, None, Run(progress=bar()))
    names = {layer.id: layer.name for layer in recipe.layers}
    data, lines = [], []
    for k, wear in reversed(list(enumerate(recipe.wears))):
        told, depth = shop.wears.told(recipe, k), shop.wears.depth(recipe, k)
        over = [names.get(id, "a layer that is gone") for id in wear.over]
        data.append(
            {
                "name": wear.name,
                "on": wear.on,
                "on_layer": names.get(wear.place or ""),
                "over": over,
                "follows": wear.follows.kind,
                "limited": depth.reason if depth else None,
                **asdict(told),
            }
        )
        lines.append(f"{wear.name}{'' if wear.on else ' (hidden)'}: {told.sentence}")
        if depth and depth.reason:
            lines.append(f"    {depth.reason}")
    tell(options, data, lines or ["no wear on this site"])


def _apart(options: argparse.Namespace) -> None:
    path = Path(options.image)
    packed = mask_image.apart(path.name, read_file(path, "an image"))
    channels = [asdict(one) for one in packed.facts()]
    facts = {
        "width_px": packed.width_px,
        "height_px": packed.height_px,
        "format": packed.format,
        "bits": packed.bits,
        "notes": list(packed.notes),
        "channels": channels,
    }
    lines = [f"{path.name}: {packed.format}, {packed.width_px} x {packed.height_px} pixels, {packed.bits} bits"]
    lines += [
        f"{one.channel}: {one.lowest:.4g} to {one.highest:.4g}, share {one.share:.2%}, {one.levels} levels"
        for one in packed.facts()
    ]
    tell(options, facts, lines + [f"note: {note}" for note in packed.notes])


def _chosen(recipe: Recipe, options: argparse.Namespace) -> tuple[str, Rule, float]:
    """Return what is to be written: a mask, one clause of a layer's rule, or its whole presence."""
    if options.mask is not None:
        for one in recipe.marks.masks:
            if one.name.lower() == options.mask.lower():
                return one.name, Rule(clauses=(OnPainted(mask=one.id, called=one.name),)), 1.0
        names = ", ".join(one.name for one in recipe.marks.masks) or "none yet"
        raise RefusalError("--mask", repr(options.mask), f"one of this site's ({names})", "choose one of these")
    if options.layer is None:
        raise RefusalError("presence", "no layer and no --mask", "one of them", "name one")
    layer = recipe.layers[layer_index([one.name for one in recipe.layers], options.layer)]
    if options.clause is None:
        return layer.name, layer.rule, layer.opacity
    if not 1 <= options.clause <= len(layer.rule.clauses):
        raise RefusalError("--clause", str(options.clause), f"1 to {len(layer.rule.clauses)}", "correct it")
    clause = layer.rule.clauses[options.clause - 1].model_copy(update={"join": "and"})
    return f"{layer.name} clause {options.clause}", Rule(clauses=(clause,)), 1.0


def _presence(options: argparse.Namespace) -> None:
    shop = workshop(options)
    recipe = shop.store.sites.find(options.site).recipe
    name, rule, opacity = _chosen(recipe, options)
    data, (width, height) = shop.marks.presence_png(recipe, rule, opacity, options.size, name)
    write_beside(Path(options.out), data)
    facts = {"out": options.out, "of": name, "width_px": width, "height_px": height, "bits": 16}
    tell(options, facts, [f"{options.out}: presence of {name}, {width} x {height}, 16 bits"])


def commands(command: Command, with_data: Callable[[argparse.ArgumentParser], argparse.ArgumentParser]) -> None:
    """Add the commands about covers."""
    made = with_data(command("probe", _probe, "say what lies at a place of a site, and why, clause by clause"))
    made.add_argument("site", help="name or id")
    made.add_argument("--at", required=True, metavar="EAST,NORTH", help="metres from the south-west corner")
    made = with_data(
        command("repetition", _repetition, "say how much of a layer's tile the eye finds again, before and after")
    )
    made.add_argument("site", help="name or id")
    made.add_argument("layer", help="name or number of a layer")
    made = with_data(command("wear", _wear, "say what each wear of a site does, in numbers, from the top down"))
    made.add_argument("site", help="name or id")
    made = command("apart", _apart, "take a packed image apart: each channel with its range and share")
    made.add_argument("image", metavar="IMAGE")
    made.add_argument("--json", action="store_true", help="print JSON")
    made = with_data(command("presence", _presence, "write where a layer, a clause or a mask lies as a 16-bit image"))
    made.add_argument("site", help="name or id")
    made.add_argument("layer", nargs="?", help="name or number of a layer")
    made.add_argument("--clause", type=int, metavar="N", help="only the layer's clause N, counted from 1")
    made.add_argument("--mask", metavar="NAME", help="a painted mask instead of a layer")
    made.add_argument(
        "--size", type=int, default=1024, metavar="PX", help="pixels along the longer side (default 1024)"
    )
    made.add_argument("--out", required=True, metavar="FILE.png")
