"""The command line: the same operations without a browser."""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import cast

from elvatch import __version__
from elvatch.core.cover.recipe import Ground
from elvatch.core.formats import heights
from elvatch.core.formats.limits import MOST_BYTES
from elvatch.core.picture.modes import MODES
from elvatch.core.picture.picture import View
from elvatch.core.refusal import RefusalError
from elvatch.demo import scenario
from elvatch.store.store import Store
from elvatch.workshop import Workshop

_SIZES = "WIDTHxDEPTH"


def _pair(text: str, separator: str, what: str, example: str) -> tuple[float, float]:
    first, found, second = text.partition(separator)
    try:
        if not found:
            raise ValueError
        return float(first), float(second)
    except ValueError:
        raise RefusalError(what, repr(text), f"two numbers like {example}", "correct it") from None


def _pixels(text: str) -> tuple[int, int]:
    width, height = _pair(text, "x", "--size", "960x600")
    if not (16 <= width <= 8192 and 16 <= height <= 8192):
        raise RefusalError("--size", text, "16 to 8192 pixels a side", "correct it")
    return int(width), int(height)


def _workshop(options: argparse.Namespace) -> Workshop:
    return Workshop(Store(Path(options.data).expanduser()))


def _say(text: str) -> None:
    print(text, file=sys.stderr, flush=True)


def _tell(options: argparse.Namespace, data: object, lines: list[str]) -> None:
    print(json.dumps(data, indent=2) if options.json else "\n".join(lines))


def _demo(options: argparse.Namespace) -> None:
    workshop = _workshop(options)
    scenario.lay_out(workshop, _say)
    if not options.no_serve:
        _run_server(workshop, options)


def _serve(options: argparse.Namespace) -> None:
    _run_server(_workshop(options), options)


def _run_server(workshop: Workshop, options: argparse.Namespace) -> None:
    from elvatch.web.server import run

    run(workshop, options.host, options.port, _say)


def _sites(options: argparse.Namespace) -> None:
    sites = _workshop(options).store.sites.all()
    data = [
        {"id": s.id, "title": s.title, "changed_at": s.changed_at, "width_m": s.recipe.ground.width_m,
         "depth_m": s.recipe.ground.depth_m, "lowest_m": s.recipe.ground.lowest_m,
         "highest_m": s.recipe.ground.highest_m, "layers": [layer.name for layer in s.recipe.layers]}
        for s in sites
    ]  # fmt: skip
    lines = [
        f"{s.id}  {s.title}  {s.recipe.ground.width_m:g} x {s.recipe.ground.depth_m:g} m, "
        f"{s.recipe.ground.lowest_m:g} to {s.recipe.ground.highest_m:g} m, {len(s.recipe.layers)} layers"
        for s in sites
    ]
    _tell(
        options,
        data,
        lines or ["No sites yet. Make one: elvatch new NAME --heights FILE --size 1200x1200 --range 84:226"],
    )


def _new(options: argparse.Namespace) -> None:
    workshop = _workshop(options)
    path = Path(options.heights)
    width, depth = _pair(options.size, "x", "--size", "1200x1200")
    low, high = _pair(options.range, ":", "--range", "84:226")
    try:
        with path.open("rb") as stream:
            data = stream.read(MOST_BYTES + 1)
    except OSError as error:
        raise RefusalError(str(path), error.strerror or "an error", "a height image", "check the path") from None
    file = heights.read(path.name, data)
    heights.place(file, width, depth, low, high)
    ground = Ground(
        file=workshop.store.files.put(data), file_name=path.name[:80],
        width_m=width, depth_m=depth, lowest_m=low, highest_m=high,
    )  # fmt: skip
    state = workshop.store.sites.add(options.name, workshop.new_recipe(ground))
    facts = {"id": state.id, "title": state.title, "format": file.format, "cols": file.cols, "rows": file.rows,
             "bits": file.bits, "levels": file.levels, "share_lowest": file.share_lowest,
             "share_highest": file.share_highest}  # fmt: skip
    _tell(options, facts, [f"{state.id}  {state.title}: {file.format} {file.cols} x {file.rows}, {file.bits} bit, "
                           f"{file.levels} levels"])  # fmt: skip


def _picture(options: argparse.Namespace) -> None:
    workshop = _workshop(options)
    width, height = _pixels(options.size)
    state = workshop.store.sites.find(options.site)
    layer = _layer_index([item.name for item in state.recipe.layers], options.layer)
    view = View(options.stand, width, height, 4, options.mode, layer)
    png, seen = workshop.picture_png(state.recipe, view)
    _write_beside(Path(options.out), png)
    facts = {"out": options.out, "width_px": width, "height_px": height, "distance_m": seen.distance_m,
             "mm_per_pixel": seen.mm_per_pixel}  # fmt: skip
    _tell(
        options,
        facts,
        [f"{options.out}: {options.stand}, {seen.distance_m:g} m away, {seen.mm_per_pixel:.3g} mm per pixel"],
    )


def _layer_index(names: list[str], wanted: str | None) -> int:
    if wanted is None:
        return -1
    for index, name in enumerate(names):
        if wanted.lower() == name.lower() or wanted == str(index + 1):
            return index
    raise RefusalError("--layer", repr(wanted), "one of " + ", ".join(names), "choose one of these")


def _write_beside(path: Path, data: bytes) -> None:
    beside = path.with_name(f".{path.name}.part")
    try:
        beside.write_bytes(data)
        beside.replace(path)
    except OSError as error:
        beside.unlink(missing_ok=True)
        raise RefusalError(str(path), error.strerror or "an error", "a file to write to", "choose another") from None


def _bake(options: argparse.Namespace) -> None:
    from elvatch.core.handoff import bake

    workshop = _workshop(options)
    state = workshop.store.sites.find(options.site)
    recipe = state.recipe
    if options.size:
        if not 16 <= options.size <= 32768:
            raise RefusalError("--size", str(options.size), "16 to 32768 pixels", "correct it")
        recipe = recipe.model_copy(update={"hand_off": recipe.hand_off.model_copy(update={"size_px": options.size})})
    written = bake.bake(
        state.title,
        recipe,
        workshop.land(recipe.ground).survey,
        workshop.store.stock,
        Path(options.out),
        _bar(),
    )
    data = [{"name": path.name, "bytes": path.stat().st_size} for path in written]
    _tell(options, data, [f"{path}  {path.stat().st_size / 1e6:.1f} MB" for path in written])


def _bar() -> Callable[[float], None]:
    shown = sys.stderr.isatty()

    def progress(share: float) -> None:
        if shown:
            print(f"\r{share:4.0%}", end="\n" if share >= 1 else "", file=sys.stderr, flush=True)

    return progress


def _warm(options: argparse.Namespace) -> None:
    from elvatch.warm import warm_up

    warm_up(_say)


def _schema(options: argparse.Namespace) -> None:
    from elvatch.core.cover import recipe

    print(json.dumps(recipe.schema(), indent=2, sort_keys=True))


def parser() -> argparse.ArgumentParser:
    """Return the parser of the command ``elvatch``."""
    home = os.environ.get("ELVATCH_DATA", "~/.elvatch")
    root = argparse.ArgumentParser(prog="elvatch", description="Builds terrain and large-surface materials.")
    root.add_argument("--version", action="version", version=f"elvatch {__version__}")
    commands = root.add_subparsers(dest="command", required=True, metavar="COMMAND")

    def command(name: str, run: Callable[[argparse.Namespace], None], about: str) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=about, description=about)
        made.set_defaults(run=run)
        return made

    def with_data(made: argparse.ArgumentParser, json_too: bool = True) -> argparse.ArgumentParser:
        made.add_argument("--data", default=home, metavar="DIR", help=f"data folder (default {home})")
        if json_too:
            made.add_argument("--json", action="store_true", help="print JSON")
        return made

    for name, run, about in (
        ("demo", _demo, "lay out the demo site where it is missing, then serve"),
        ("serve", _serve, "serve the application on this computer"),
    ):
        made = with_data(command(name, run, about), json_too=False)
        made.add_argument("--host", default="127.0.0.1", help="address to listen on (default 127.0.0.1)")
        made.add_argument("--port", type=int, default=8765, help="port to listen on (default 8765)")
        if name == "demo":
            made.add_argument("--no-serve", action="store_true", help="only lay it out")
    with_data(command("sites", _sites, "list the sites"))
    made = with_data(command("new", _new, "make a site from a height file"))
    made.add_argument("name")
    made.add_argument("--heights", required=True, metavar="FILE", help="PNG, TIFF or NPY")
    made.add_argument("--size", required=True, metavar=_SIZES, help="true size in metres, e.g. 1200x1200")
    made.add_argument("--range", required=True, metavar="LOW:HIGH", help="elevations in metres, e.g. 84:226")
    made = with_data(command("picture", _picture, "take a picture of a site"))
    made.add_argument("site", help="name or id")
    made.add_argument("--stand", choices=("far", "mid", "near"), default="far")
    made.add_argument("--size", default="960x600", metavar="WxH", help="pixels (default 960x600)")
    made.add_argument("--mode", choices=MODES, default="lit", help="what is shown (default lit)")
    made.add_argument("--layer", metavar="NAME", help="layer that presence and coverage are about")
    made.add_argument("--out", required=True, metavar="FILE.png")
    made = with_data(command("bake", _bake, "write a site's maps"))
    made.add_argument("site", help="name or id")
    made.add_argument("--size", type=int, metavar="PX", help="pixels along the longer side (default: the site's)")
    made.add_argument("--out", required=True, metavar="DIR")
    command("warm", _warm, "compile everything now, so that later starts are quick")
    command("schema", _schema, "print the recipe's JSON Schema")
    return root


def main(arguments: list[str] | None = None) -> int:
    """Run a command; return the exit code, 2 when an input was refused."""
    options = parser().parse_args(arguments)
    try:
        cast(Callable[[argparse.Namespace], None], options.run)(options)
    except RefusalError as error:
        _say(f"elvatch: {error}")
        return 2
    except KeyboardInterrupt:
        return 130
    return 0
