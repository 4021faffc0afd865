"""Commands that hand off: sheets and what they come to, their writing, plain maps, splat maps."""

from __future__ import annotations

import argparse
import json
import re
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path

from elvatch.app.cluster import Cluster
from elvatch.cli.stock import Command
from elvatch.cli.terminal import bar, read_file, say, tell, workshop
from elvatch.cli.watching import watch
from elvatch.core.document import begin_sheet
from elvatch.core.document.recipe import part_from_data
from elvatch.core.document.sheet import MOST_PX, VALUES, Fine, Region, Sheet, Tiling
from elvatch.core.handoff import job
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.store.sites import SiteState

_REGION = re.compile(r"([\d.]+),([\d.]+),([\d.]+)x([\d.]+)")
_TILES = re.compile(r"(\d+)x(\d+)")


def _size(px: int) -> int:
    if not 16 <= px <= MOST_PX:
        raise RefusalError("--size", str(px), f"16 to {MOST_PX} pixels", "correct it")
    return px


def write(options: argparse.Namespace, state: SiteState, sheet: Sheet) -> None:
    """Write a sheet's files into the folder that was asked for, and say what they are."""
    out = Path(options.out)
    if getattr(options, "resume", False):
        _check_begun(options, state, sheet)
    if getattr(options, "watch", False):
        watch(workshop(options), state.id, sheet, out, lambda now: elsewhere(options, now))
        return
    written = workshop(options).handoffs.bake(
        state.title, state.recipe, sheet, out, Run(progress=bar()), elsewhere(options, state)
    )
    data = [{"name": path.name, "bytes": path.stat().st_size} for path in written]
    tell(options, data, [f"{path}  {path.stat().st_size / 1e6:.1f} MB" for path in written])


def elsewhere(options: argparse.Namespace, state: SiteState) -> Cluster | None:
    """Return what writes tiles on other machines, where that was asked for."""
    address, packs = getattr(options, "scheduler", None), workshop(options).packs
    return Cluster(address, lambda path: packs.pack(state.title, state.recipe, path)) if address else None


def _check_begun(options: argparse.Namespace, state: SiteState, sheet: Sheet) -> None:
    """Refuse to go on where nothing was begun; say how far it is where something was."""
    shop = workshop(options)
    finished = job.begun(sheet, shop.handoffs.source(state.title, state.recipe), Path(options.out))
    if not finished:
        raise RefusalError(
            "--resume",
            "no finished file of this sheet as the site is now",
            "a hand-off that was stopped or crashed",
            "leave --resume out",
        )
    say(f"{finished} file{'s' if finished != 1 else ''} finished before")


def state_of(options: argparse.Namespace) -> SiteState:
    """Return the site that was asked for."""
    return workshop(options).store.sites.find(options.site)


def tiles_of(text: str | None, border_px: int) -> Tiling:
    """Return tiles as they were asked for, like 4x4; one without."""
    found = _TILES.fullmatch(text or "1x1")
    if not found:
        raise RefusalError("--tiles", repr(text), "columns and rows, like 4x4", "correct it")
    cut = {"columns": int(found[1]), "rows": int(found[2]), "border_px": border_px}
    return part_from_data(Tiling, "--tiles", cut)


def _bake(options: argparse.Namespace) -> None:
    state = state_of(options)
    plain = next((sheet for sheet in state.recipe.sheets if sheet.id == "plain"), begin_sheet.READY[0])
    longer = _size(options.size) if options.size else 0
    if options.maps:
        names = tuple(name.strip() for name in options.maps.split(","))
        wanted = [value for name in names for value in VALUES if value == name]
        for name in names:
            if name not in VALUES or name == "share":
                known = ", ".join(one for one in VALUES if one != "share")
                raise RefusalError("--maps", repr(name), f"some of {known}", "correct it")
        plain = begin_sheet.plain(wanted, float_heights=options.float_heights).model_copy(update={"fine": plain.fine})
    elif options.float_heights:
        floats = {"type": "float32", "format": "tiff"}
        entries = tuple(
            one.model_copy(update=floats) if one.holds[0].of in ("height", "relief") else one for one in plain.maps
        )
        plain = plain.model_copy(update={"entries": entries})
    if longer:
        plain = plain.model_copy(update={"fine": Fine(value=longer)})
    write(options, state, plain)


def _splat(options: argparse.Namespace) -> None:
    state = state_of(options)
    longer = _size(options.size)
    if not any(layer.on for layer in state.recipe.layers):
        raise RefusalError(state.title, "no layers", "at least one that is shown", "lay a layer first")
    sheet = begin_sheet.plain(("weights",), longer, weight_bits=8 if options.bits == 8 else 16)
    named = tuple(one.model_copy(update={"file": "{site}_splat_{k:02d}"}) for one in sheet.maps)
    write(options, state, sheet.model_copy(update={"entries": named}))


def _from_file(path: Path) -> Sheet:
    try:
        data = json.loads(read_file(path, "a sheet", 1 << 20))
    except ValueError as error:
        raise RefusalError(str(path), f"text that is not JSON ({error})", "a sheet", "choose another file") from None
    return part_from_data(Sheet, str(path), data)


def _handoff(options: argparse.Namespace) -> None:
    state = state_of(options)
    is_file = options.sheet.lower().endswith(".json")
    sheet = (
        _from_file(Path(options.sheet)) if is_file else workshop(options).handoffs.sheet(state.recipe, options.sheet)
    )
    if options.region:
        found = _REGION.fullmatch(options.region)
        if not found:
            raise RefusalError("--region", repr(options.region), "E,N,WxD in metres, like 0,0,400x300", "correct it")
        east, north, width, depth = map(float, found.groups())
        part = {"east_m": east, "north_m": north, "width_m": width, "depth_m": depth}
        sheet = sheet.model_copy(update={"region": part_from_data(Region, "--region", part)})
    if options.tiles:
        sheet = sheet.model_copy(update={"tiles": tiles_of(options.tiles, sheet.tiles.border_px)})
    write(options, state, sheet)


def _sheets(options: argparse.Namespace) -> None:
    state, shop = state_of(options), workshop(options)
    if options.show:
        sheet = shop.handoffs.sheet(state.recipe, options.show)
        text = json.dumps(sheet.model_dump(mode="json"), indent=2)
        print(text)
        return
    data, lines = [], []
    for sheet in state.recipe.sheets:
        try:
            told = shop.handoffs.lines(state.title, state.recipe, sheet.id)
        except RefusalError as error:
            data.append({"id": sheet.id, "name": sheet.name, "refused": str(error)})
            lines.append(f"{sheet.name}: {error}")
            continue
        data.append({"id": sheet.id, "name": sheet.name, **asdict(told)})
        files = sum(entry.files for entry in told.entries)
        lines.append(
            f"{sheet.name}: {files} file{'s' if files != 1 else ''}, {told.m_per_texel:.3g} m a texel, "
            f"about {told.disk_bytes / 1e6:.0f} MB"
        )
        lines += [f"    {entry.name}{' ...' if entry.files > 1 else ''}" for entry in told.entries]
    tell(options, data, lines or ["no sheets yet"])


def _how(made: argparse.ArgumentParser) -> None:
    """Add how the work is done."""
    made.add_argument("--scheduler", metavar="ADDRESS", help="write the tiles on the workers of a Dask scheduler")
    made.add_argument("--resume", action="store_true", help="go on with what was stopped, or refuse")
    made.add_argument("--watch", action="store_true", help="stay, and write again what an edit changes")


def commands(command: Command, with_data: Callable[[argparse.ArgumentParser], argparse.ArgumentParser]) -> None:
    """Add the commands that hand off."""
    made = with_data(command("handoff", _handoff, "write the files of a sheet"))
    made.add_argument("site", help="name or id")
    made.add_argument("--sheet", required=True, metavar="NAME|FILE.json", help="one of the site's, or a file")
    made.add_argument("--out", required=True, metavar="DIR")
    made.add_argument("--region", metavar="E,N,WxD", help="a part of the site in metres from its south-west corner")
    made.add_argument("--tiles", metavar="CxR", help="columns and rows, like 4x4")
    _how(made)
    made = with_data(command("sheets", _sheets, "list a site's sheets and the files that they come to"))
    made.add_argument("site", help="name or id")
    made.add_argument("--show", metavar="NAME", help="print one as JSON, for handoff or another machine")
    made = with_data(command("bake", _bake, "write a site's plain maps"))
    made.add_argument("site", help="name or id")
    made.add_argument("--size", type=int, metavar="PX", help="pixels along the longer side (default: the sheet's)")
    made.add_argument("--maps", metavar="NAMES", help="which, e.g. height,relief (default: the sheet's)")
    made.add_argument("--float-heights", action="store_true", help="height and relief as 32-bit floats in metres")
    made.add_argument("--out", required=True, metavar="DIR")
    _how(made)
    made = with_data(command("splat", _splat, "write all layers as splat maps, four channels a file"))
    made.add_argument("site", help="name or id")
    made.add_argument(
        "--size", type=int, default=1024, metavar="PX", help="pixels along the longer side (default 1024)"
    )
    made.add_argument("--bits", type=int, choices=(8, 16), default=8, help="weights sum to 255 or 65535 (default 8)")
    made.add_argument("--out", required=True, metavar="DIR")
