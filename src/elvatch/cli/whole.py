"""Commands that write one thing whole: a kit, a mesh, the ground, a site; and the one that opens a site."""

from __future__ import annotations

import argparse
import secrets
import shutil
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import Any, get_args

from elvatch.cli.handoff import state_of, tiles_of, write
from elvatch.cli.stock import Command
from elvatch.cli.terminal import bar, tell, workshop
from elvatch.core.document.recipe import part_from_data
from elvatch.core.document.sheet import Entry, Fine, Sheet
from elvatch.core.document.sheet_entry import GroundEntry, HeightFormat, KitEntry, KitSize, MeshEntry
from elvatch.core.handoff.manifest import FILE_NAME
from elvatch.core.mesh.carried import ShareForm
from elvatch.core.mesh.forms import MESH_FORMS
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run

_HEIGHT_ENDINGS: dict[str, HeightFormat] = {
    ".png": "png",
    ".tif": "tiff",
    ".tiff": "tiff",
    ".exr": "exr",
    ".raw": "raw",
    ".npy": "npy",
    ".asc": "asc",
}


def _beside(options: argparse.Namespace, entry: Entry, sheet: Sheet) -> None:
    """Write an entry's files into the folder of the file that was named, without a manifest."""
    out = Path(options.out)
    part = out.parent / f".elvatch-{secrets.token_hex(4)}"
    shop, state = workshop(options), state_of(options)
    sheet = sheet.model_copy(update={"entries": (entry,)})
    try:
        written = shop.handoffs.bake(state.title, state.recipe, sheet, part, Run(progress=bar()))
        # a point in a pattern's name is not its ending
        placed = [path.replace(out.parent / path.name) for path in written if path.name != FILE_NAME]
    finally:
        shutil.rmtree(part, ignore_errors=True)
    data = [{"name": path.name, "bytes": path.stat().st_size} for path in placed]
    tell(options, data, [f"{path}  {path.stat().st_size / 1e6:.2f} MB" for path in placed])


def _stem(options: argparse.Namespace, known: dict[str, Any], what: str) -> tuple[str, Any]:
    """Return the name without ending of the file to be written, and what its ending stands for."""
    path = Path(options.out)
    ending = path.suffix.lower()
    if ending not in known:
        raise RefusalError("--out", path.name, f"{what} that ends in {', '.join(known)}", "choose an ending")
    return path.stem, known[ending]


def _kit(options: argparse.Namespace) -> None:
    wanted = {
        "id": "kit0",
        "set_px": options.size,
        "weights": options.weights,
        "most_a_tile": options.most_a_tile,
        "tint": not options.no_tint,
        "material": options.weights != "strongest",
        "weight_type": f"uint{options.bits}",
    }
    sheet = Sheet(id="kits", name="Kit", fine=Fine(value=options.weights_size), tiles=tiles_of(options.tiles, 0))
    entry = part_from_data(KitEntry, "kit", wanted)
    write(options, state_of(options), sheet.model_copy(update={"entries": (entry,)}))


def _mesh(options: argparse.Namespace) -> None:
    stem, form = _stem(options, {f".{name}": name for name in MESH_FORMS}, "a file")
    cut = tiles_of(options.tiles, 0)
    several = ("_{level}" if options.levels > 1 else "") + ("_{row}{column}" if cut.columns * cut.rows > 1 else "")
    by = {"by": "grid", "cell_m": options.cell} if options.cell else {"greatest_error_m": options.greatest_error}
    wanted = by | {
        "id": "mesh",
        "file": stem.replace("{", "{{").replace("}", "}}") + several,
        "format": form,
        "relief": options.relief,
        "columns": cut.columns,
        "rows": cut.rows,
        "levels": options.levels,
        "skirts": options.skirts,
        "shares": options.shares,
        "maps": options.maps,
        "maps_px": options.maps_size,
        "up": options.up,
    }
    sheet = Sheet(id="mesh", name="Mesh", fine=Fine(value=options.relief_size))
    _beside(options, part_from_data(MeshEntry, "mesh", wanted), sheet)


def _ground(options: argparse.Namespace) -> None:
    stem, form = _stem(options, _HEIGHT_ENDINGS, "a file")
    types = {"png": "uint16", "raw": "uint16"}
    wanted = {
        "id": "ground",
        "file": stem.replace("{", "{{").replace("}", "}}"),
        "format": form,
        "type": options.type or types.get(form, "float32"),
        "longer_px": options.samples,
        "low_byte_first": not options.high_byte_first,
        "flip_north_south": options.flip_north_south,
        "flip_east_west": options.flip_east_west,
        "traces": options.traces,
    }
    _beside(options, part_from_data(GroundEntry, "ground", wanted), Sheet(id="ground", name="Ground"))


def _pack(options: argparse.Namespace) -> None:
    out, state = Path(options.out), state_of(options)
    if not out.name.lower().endswith(".elvatch.zip"):
        raise RefusalError("--out", out.name, "a file that ends in .elvatch.zip", "choose such a name")
    lines = workshop(options).packs.pack(state.title, state.recipe, out, Run(progress=bar()))
    tell(options, {"name": out.name, "bytes": out.stat().st_size}, [*lines, str(out)])


def _open(options: argparse.Namespace) -> None:
    shop, path = workshop(options), Path(options.file)
    facts = shop.packs.facts(path)
    if options.look:
        known = f", {facts.known_sets} of them in the stock already" if facts.known_sets else ""
        tell(options, asdict(facts), [facts.told[0], facts.told[1] + known])
        return
    state = shop.packs.open(path, Run(progress=bar()))
    tell(options, {"id": state.id, "title": state.title}, [f"{state.title} ({plain_name(state.id)}) is open"])


def commands(command: Command, with_data: Callable[[argparse.ArgumentParser], argparse.ArgumentParser]) -> None:
    """Add the commands that write one thing whole."""
    made = with_data(command("kit", _kit, "write the layers themselves: maps, weights, how they lie"))
    made.add_argument("site", help="name or id")
    made.add_argument("--out", required=True, metavar="DIR")
    made.add_argument("--size", type=int, default=1024, choices=get_args(KitSize), help="pixels of each layer's maps")
    made.add_argument("--weights-size", type=int, default=1024, metavar="PX", help="longer side of the weights")
    made.add_argument("--weights", choices=("splat", "masks", "strongest"), default="splat")
    made.add_argument("--bits", type=int, choices=(8, 16), default=8, help="of the weights")
    made.add_argument("--most-a-tile", type=int, choices=(0, 4), default=0, help="layers on a tile; 0 is all")
    made.add_argument("--tiles", metavar="CxR", help="columns and rows of the weights, like 4x4")
    made.add_argument("--no-tint", action="store_true", help="without the map of what tiled sets cannot carry")
    _mesh_command(command, with_data)
    made = with_data(command("ground", _ground, "write the heights of the ground, its true size beside them"))
    made.add_argument("site", help="name or id")
    made.add_argument("--out", required=True, metavar="F.raw|.png|.tif|.exr|.npy|.asc")
    made.add_argument("--type", choices=("uint8", "uint16", "float16", "float32"), help="of samples")
    made.add_argument("--samples", type=int, default=0, metavar="N", help="longer side, like 1025; 0 its own")
    made.add_argument("--high-byte-first", action="store_true", help="of RAW files")
    made.add_argument("--flip-north-south", action="store_true", help="the first row is the southern one")
    made.add_argument("--flip-east-west", action="store_true", help="the first column is the eastern one")
    made.add_argument("--traces", action="store_true", help="what shaping wore, dropped and let flow beside it")
    made = with_data(command("pack", _pack, "write a whole site as one file, to be opened elsewhere"))
    made.add_argument("site", help="name or id")
    made.add_argument("--out", required=True, metavar="F.elvatch.zip")
    made = with_data(command("open", _open, "open a packed site"))
    made.add_argument("file", metavar="F.elvatch.zip")
    made.add_argument("--look", action="store_true", help="only say what it holds")


def _mesh_command(command: Command, with_data: Callable[[argparse.ArgumentParser], argparse.ArgumentParser]) -> None:
    made = with_data(command("mesh", _mesh, "write the ground as triangles"))
    made.add_argument("site", help="name or id")
    made.add_argument("--out", required=True, metavar="F.glb|.obj|.ply|.usdc|.usda")
    made.add_argument("--greatest-error", type=float, default=0.5, metavar="M", help="metres (default 0.5)")
    made.add_argument("--cell", type=float, default=0.0, metavar="M", help="a regular grid of such cells instead")
    made.add_argument("--relief", action="store_true", help="with the relief of the cover")
    made.add_argument("--relief-size", type=int, default=2048, metavar="PX", help="its samples, longer side")
    made.add_argument("--tiles", metavar="CxR", help="columns and rows, like 4x4")
    made.add_argument("--levels", type=int, default=1, metavar="N", help="of detail, each with twice the error")
    made.add_argument("--skirts", action="store_true", help="walls down from the tiles' borders")
    made.add_argument("--shares", choices=get_args(ShareForm), default="none", help="of layers at its vertices")
    made.add_argument("--maps", choices=("none", "linked", "inside"), default="none", help="baked maps that cover it")
    made.add_argument("--maps-size", type=int, default=2048, metavar="PX", help="their longer side")
    made.add_argument("--up", choices=("y", "z"), default="z", help="where the format does not say")
