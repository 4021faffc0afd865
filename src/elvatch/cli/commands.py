"""The command line: the same operations without a browser."""

from __future__ import annotations

import argparse
import functools
import json
import os
import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, cast

from pydantic import TypeAdapter

from elvatch import __version__
from elvatch.app.workshop import Workshop
from elvatch.cli import cover, handoff, judging, still, stock, suites, whole
from elvatch.cli.terminal import (
    bar,
    open_store,
    pair,
    pixels,
    read_file,
    say,
    set_up_logging,
    tell,
    workshop,
    write_beside,
)
from elvatch.core import cache
from elvatch.core.document.recipe import ground_from_data
from elvatch.core.formats.reading import RawLayout, Reading
from elvatch.core.ground import heights, measures
from elvatch.core.ground.description import Ground
from elvatch.core.ground.heights import HeightFile
from elvatch.core.picture.modes import MODES
from elvatch.core.picture.picture import View
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.demo import scenario
from elvatch.store.store import Store

if TYPE_CHECKING:
    from elvatch.app.warm import Warming
    from elvatch.web.readiness import Stage

_SIZES = "WIDTHxDEPTH"


def _demo(options: argparse.Namespace) -> None:
    if options.no_serve:
        scenario.lay_out(workshop(options), say)
        return
    shop = Workshop(open_store(options))
    from elvatch.app.warm import Warming
    from elvatch.web.readiness import Stage

    warming = Warming()

    def laid_out(told: Callable[[str], None], progress: Callable[[float], None]) -> None:
        scenario.lay_out(shop, told, scenario.SKETCH_PX, progress=progress, needs=warming.wait_for)

    def drawn(told: Callable[[str], None], progress: Callable[[float], None]) -> None:
        scenario.draw_in_full(shop, told, progress)

    stages = [Stage("Laying out the demo", laid_out), Stage("Drawing its sets in full", drawn, later=True)]
    _run_server(shop, options, warming, stages)


def _serve(options: argparse.Namespace) -> None:
    from elvatch.app.warm import Warming

    _run_server(Workshop(open_store(options)), options, Warming())


def _run_server(shop: Workshop, options: argparse.Namespace, warming: Warming, stages: Sequence[Stage] = ()) -> None:
    if options.memory is not None:
        if options.memory << 20 < cache.LEAST_BYTES:
            raise RefusalError(
                "--memory", f"{options.memory} MB", f"at least {cache.LEAST_BYTES >> 20} MB", "give it more"
            )
        cache.SHARED.most_bytes = options.memory << 20
    from elvatch.web.entry import entry_for
    from elvatch.web.server import run

    shop.sample_site = functools.partial(scenario.learn, shop)

    token_file = Path(options.token_file).expanduser() if options.token_file else None
    run(shop, entry_for(options.host, options.allow_host, token_file), options.port, say, warming, stages)


def _sites(options: argparse.Namespace) -> None:
    sites = workshop(options).store.sites.all()
    data = [
        {
            "id": s.id,
            "title": s.title,
            "changed_at": s.changed_at,
            "width_m": s.recipe.ground.width_m,
            "depth_m": s.recipe.ground.depth_m,
            "steps": [step.name for step in s.recipe.ground.steps],
            "layers": [layer.name for layer in s.recipe.layers],
        }
        for s in sites
    ]
    lines = [
        f"{s.id}  {s.title}  {s.recipe.ground.width_m:g} x {s.recipe.ground.depth_m:g} m, "
        f"{len(s.recipe.ground.steps)} steps, {len(s.recipe.layers)} layers"
        for s in sites
    ]
    tell(
        options,
        data,
        lines or ["No sites yet. Make one: elvatch new NAME --heights FILE --size 1200x1200 --range 84:226"],
    )


def _new(options: argparse.Namespace) -> None:
    shop = workshop(options)
    if (options.made is None) == (options.heights is None):
        raise RefusalError("new", "both or neither of --heights and --made", "one of them", "give one")
    facts: dict[str, object] = {}
    if options.made is not None:
        ground = ground_from_data(_json_file(Path(options.made)))
    else:
        ground, file = _ground_from_file(shop, options)
        facts = _file_facts(file)
    run = Run(progress=bar())
    shaped = shop.grounds.shaped(ground, None, run).ground
    state = shop.store.sites.add(options.name, shop.sites.new_recipe(ground, options.empty))
    facts = {
        "id": state.id,
        "title": state.title,
        "cols": shaped.cols,
        "rows": shaped.rows,
        "lowest_m": shaped.lowest_m,
        "highest_m": shaped.highest_m,
        **facts,
    }
    tell(
        options,
        facts,
        [
            f"{state.id}  {state.title}: {shaped.cols} x {shaped.rows} samples, "
            f"{shaped.lowest_m:g} to {shaped.highest_m:g} m"
        ],
    )


def _json_file(path: Path) -> object:
    data = read_file(path, "a ground as JSON")
    try:
        return cast(object, json.loads(data))
    except (ValueError, RecursionError) as error:
        raise RefusalError(str(path), f"text that is not JSON ({error})", "a ground as JSON", "correct it") from None


def _ground_from_file(shop: Workshop, options: argparse.Namespace) -> tuple[Ground, HeightFile]:
    path = Path(options.heights)
    if options.size is None or options.range is None:
        raise RefusalError("new", "no --size or --range", "both beside --heights", "give the true size and range")
    width, depth = pair(options.size, "x", "--size", "1200x1200")
    low, high = pair(options.range, ":", "--range", "84:226")
    data = read_file(path, "a height file")
    reading = _reading(options)
    file = heights.read(path.name, data, reading)
    heights.place(file, width, depth, low, high)
    source = {
        "kind": "file",
        "file": shop.store.files.put(data),
        "file_name": path.name[:80],
        "reading": reading.model_dump(),
        "lowest_m": low,
        "highest_m": high,
    }
    return ground_from_data({"width_m": width, "depth_m": depth, "source": source}), file


def _reading(options: argparse.Namespace) -> Reading:
    """Return how a file is to be read, from --raw, --page, --channel, --flip and --turn."""
    layout = None
    if options.raw is not None:
        size, _, kind = options.raw.partition(":")
        width, height = pair(size, "x", "--raw", "1025x1025:u16")
        samples = kind.removesuffix("be").removesuffix("le") or "u16"
        try:
            layout = RawLayout.model_validate(
                {"width": int(width), "height": int(height), "samples": samples, "big_endian": kind.endswith("be")}
            )
        except ValueError:
            raise RefusalError(
                "--raw", repr(options.raw), "a layout like 1025x1025:u16 or 600x400:f32be", "correct it"
            ) from None
    return Reading(
        raw=layout,
        page=options.page - 1,
        channel=options.channel,
        flip_east_west="e" in options.flip,
        flip_north_south="n" in options.flip,
        quarter_turns=options.turn,
        smooth_steps=options.smooth_steps,
    )


def _file_facts(file: HeightFile) -> dict[str, object]:
    return {
        "format": file.format,
        "cols": file.cols,
        "rows": file.rows,
        "bits": file.bits,
        "kind": file.kind,
        "levels": file.levels,
        "lowest": file.lowest,
        "highest": file.highest,
        "share_lowest": file.share_lowest,
        "share_highest": file.share_highest,
        "holes": file.holes,
        "pages": file.pages,
        "channels": list(file.channels),
        "cell_m": file.cell_m,
    }


def _heights(options: argparse.Namespace) -> None:
    path = Path(options.file)
    file = heights.read(path.name, read_file(path, "a height file"), _reading(options))
    facts = _file_facts(file)
    facts["guesses"] = [
        {"layout": guess.layout.model_dump(), "confidence": round(guess.confidence, 4)} for guess in file.guesses
    ]
    lines = [
        f"{path.name}: {file.format}, {file.cols} x {file.rows} samples, {file.bits} bits, {file.kind}",
        f"{file.levels} levels from {file.lowest:g} to {file.highest:g}; {file.share_lowest:.2%} lie at the lowest, "
        f"{file.share_highest:.2%} at the highest",
    ]
    if file.step:
        lines.append(f"it will step: levels are {file.step:g} apart; --smooth-steps smooths within half of that")
    if file.holes:
        lines.append(f"{file.holes} holes, filled smoothly")
    for guess in file.guesses:
        layout = guess.layout
        order = "" if layout.samples in ("u8", "i8") else "be" if layout.big_endian else "le"
        lines.append(
            f"guess {layout.width}x{layout.height}:{layout.samples}{order}, confidence {guess.confidence:.2f}"
        )
    tell(options, facts, lines)


def _measure(options: argparse.Namespace) -> None:
    shop = workshop(options)
    name = measures.named(options.measure)
    state = shop.store.sites.find(options.site)
    kind = measures.KINDS[name]
    values, size = shop.measure_tiff(state.recipe, name, options.size, options.radius)
    write_beside(Path(options.out), values)
    facts = {"out": options.out, "measure": name, "unit": kind.unit, "width_px": size[0], "height_px": size[1]}
    tell(options, facts, [f"{options.out}: {kind.title.lower()}, {kind.unit}, {size[0]} x {size[1]}, 32-bit float"])


def _picture(options: argparse.Namespace) -> None:
    shop = workshop(options)
    width, height = pixels(options.size)
    state = shop.store.sites.find(options.site)
    names = [item.name for item in state.recipe.layers]
    layer = -1 if options.layer is None else cover.layer_index(names, options.layer)
    view = View(options.stand, width, height, 4, options.mode, layer)
    png, seen = shop.pictures.png(state.recipe, view)
    write_beside(Path(options.out), png)
    facts = {
        "out": options.out,
        "width_px": width,
        "height_px": height,
        "distance_m": seen.distance_m,
        "mm_per_pixel": seen.mm_per_pixel,
    }
    tell(
        options,
        facts,
        [f"{options.out}: {options.stand}, {seen.distance_m:g} m away, {seen.mm_per_pixel:.3g} mm per pixel"],
    )


def _nothing(options: argparse.Namespace) -> None:
    """A group of commands does nothing by itself; its parser asks for one of them."""


def _warm(options: argparse.Namespace) -> None:
    from elvatch.app.warm import Warming, ends_with, is_warm, warm_parts

    if options.only is None:
        if not is_warm():
            Warming().run(say)
    else:
        if options.under is not None:
            ends_with(options.under)
        warm_parts(options.only, lambda told: print(told, flush=True), options.under is not None)


def _answers_schema() -> dict[str, object]:
    from elvatch.web.app import create_app
    from elvatch.web.openapi import answers_schema

    with tempfile.TemporaryDirectory() as folder:
        return answers_schema(create_app(Workshop(Store(Path(folder)))))


def _schema(options: argparse.Namespace) -> None:
    made: object
    if options.of == "answers":
        made = _answers_schema()
    elif options.of == "catalogue":
        from elvatch.app.catalogue import Catalogue, catalogue

        made = TypeAdapter(Catalogue).dump_python(catalogue(), mode="json", by_alias=True)
    elif options.of == "hand-off":
        from elvatch.core.handoff.manifest import Manifest
        from elvatch.core.parts import published

        made = published(Manifest)
    else:
        from elvatch.core.document import recipe
        from elvatch.core.stock import schema

        made = recipe.schema() if options.of == "recipe" else schema.schema()
    print(json.dumps(made, indent=2, sort_keys=options.of != "catalogue"))


def _reading_options(made: argparse.ArgumentParser) -> None:
    made.add_argument("--raw", metavar="LAYOUT", help="of a headerless file, e.g. 1025x1025:u16, 600x400:f32be")
    made.add_argument("--page", type=int, default=1, metavar="N", help="page of a TIFF with several (default 1)")
    made.add_argument("--channel", metavar="NAME", help="channel of an EXR (default: one named like heights)")
    made.add_argument("--flip", default="", metavar="en", help="e flips east and west, n north and south")
    made.add_argument("--turn", type=int, default=0, choices=range(4), help="quarter turns clockwise")
    made.add_argument("--smooth-steps", action="store_true", help="smooth quantised heights within half a level")


def command_in(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> stock.Command:
    """Return what adds a command to a group of them."""

    def command(name: str, run: Callable[[argparse.Namespace], None], about: str) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=about, description=about)
        made.set_defaults(run=run)
        return made

    return command


With = Callable[..., argparse.ArgumentParser]


def _serving_commands(command: stock.Command, with_data: With) -> None:
    for name, run, about in (
        ("demo", _demo, "lay out the demo site where it is missing, then serve"),
        ("serve", _serve, "serve the application on this computer"),
    ):
        made = with_data(command(name, run, about), json_too=False)
        made.add_argument("--host", default="127.0.0.1", help="address to listen on (default 127.0.0.1)")
        made.add_argument(
            "--allow-host",
            action="append",
            default=[],
            metavar="NAME",
            help="a name it is reached by, e.g. through a proxy; may be given again",
        )
        made.add_argument("--token-file", metavar="FILE", help="file with the token that is asked for at the entry")
        made.add_argument(
            "--memory",
            type=int,
            metavar="MB",
            help="most that kept results may take (default an eighth of this machine's)",
        )
        made.add_argument("--port", type=int, default=8765, help="port to listen on (default 8765)")
        if name == "demo":
            made.add_argument("--no-serve", action="store_true", help="only lay it out")


def parser() -> argparse.ArgumentParser:
    """Return the parser of the command ``elvatch``."""
    home = os.environ.get("ELVATCH_DATA", "~/.elvatch")
    root = argparse.ArgumentParser(prog="elvatch", description="Builds terrain and large-surface materials.")
    root.add_argument("--version", action="version", version=f"elvatch {__version__}")
    command = command_in(root.add_subparsers(dest="command", required=True, metavar="COMMAND"))

    def with_data(made: argparse.ArgumentParser, json_too: bool = True) -> argparse.ArgumentParser:
        made.add_argument("--data", default=home, metavar="DIR", help=f"data folder (default {home})")
        if json_too:
            made.add_argument("--json", action="store_true", help="print JSON")
        return made

    _serving_commands(command, with_data)
    with_data(command("sites", _sites, "list the sites"))
    made = with_data(command("new", _new, "make a site from a height file or from a made ground"))
    made.add_argument("name")
    made.add_argument("--heights", metavar="FILE", help=heights.KNOWN)
    made.add_argument("--made", metavar="STEPS.json", help="a ground as JSON: size, source, steps")
    made.add_argument("--size", metavar=_SIZES, help="true size in metres, e.g. 1200x1200")
    made.add_argument("--range", metavar="LOW:HIGH", help="elevations in metres, e.g. 84:226")
    made.add_argument("--empty", action="store_true", help="no layers: else it begins as a place, of the stock")
    _reading_options(made)
    made = command("heights", _heights, "say what a height file holds")
    made.add_argument("file", metavar="FILE", help=heights.KNOWN)
    made.add_argument("--json", action="store_true", help="print JSON")
    _reading_options(made)
    made = with_data(command("measure", _measure, "write a measure of a site's ground as 32-bit floats"))
    made.add_argument("site", help="name or id")
    made.add_argument("measure", help="one of " + ", ".join(measures.NAMES))
    made.add_argument("--size", type=int, metavar="PX", help="pixels along the longer side (default: the ground's)")
    made.add_argument("--radius", type=float, metavar="M", help="for relative-height and openness, metres")
    made.add_argument("--out", required=True, metavar="FILE.tif")
    made = with_data(command("picture", _picture, "take a picture of a site"))
    made.add_argument("site", help="name or id")
    made.add_argument("--stand", choices=("far", "mid", "near"), default="far")
    made.add_argument("--size", default="960x600", metavar="WxH", help="pixels (default 960x600)")
    made.add_argument("--mode", choices=MODES, default="lit", help="what is shown (default lit)")
    made.add_argument("--layer", metavar="NAME", help="layer that presence and coverage are about")
    made.add_argument("--out", required=True, metavar="FILE.png")
    group = command("stock", _nothing, "bring texture sets in, list, check, take out, make")
    inside = group.add_subparsers(dest="action", required=True, metavar="ACTION")
    stock.commands(command_in(inside), with_data)
    group = command("suite", _nothing, "suites of layers: list, keep, lay, take out, bring in")
    suites.commands(command_in(group.add_subparsers(dest="action", required=True, metavar="ACTION")), with_data)
    cover.commands(command, with_data)
    judging.commands(command, with_data)
    handoff.commands(command, with_data)
    whole.commands(command, with_data)
    still.commands(command, with_data)
    made = command("warm", _warm, "compile everything now, so that later starts are quick")
    made.add_argument("--only", nargs="+", metavar="PART", help="some parts, one after the other in this process")
    made.add_argument("--under", type=int, metavar="PID", help="end when this process, which started it, has ended")
    made = command("schema", _schema, "print a JSON Schema")
    made.add_argument(
        "--of", choices=("recipe", "stock", "hand-off", "answers", "catalogue"), default="recipe", help="which"
    )
    return root


def main(arguments: list[str] | None = None) -> int:
    """Run a command; return the exit code, 2 when an input was refused."""
    options = parser().parse_args(arguments)
    set_up_logging()
    try:
        cast(Callable[[argparse.Namespace], None], options.run)(options)
    except RefusalError as error:
        say(f"elvatch: {error}")
        return 2
    except KeyboardInterrupt:
        return 130
    return 0
