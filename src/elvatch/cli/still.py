"""The command that takes stills."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path
from typing import cast

from elvatch.app.stills import StillAsk
from elvatch.cli.stock import Command
from elvatch.cli.terminal import bar, pixels, tell, workshop
from elvatch.core.document.recipe import Recipe, part_from_data
from elvatch.core.picture.picture import StandName
from elvatch.core.picture.still import MOST_RAYS, PASSES, PassName
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run


def _passes(text: str) -> tuple[PassName, ...]:
    wanted = tuple(name.strip() for name in text.split(",") if name.strip())
    for name in wanted:
        if name not in PASSES:
            raise RefusalError("--passes", repr(name), "some of " + ", ".join(PASSES), "correct it")
    return cast("tuple[PassName, ...]", wanted)


def _views(recipe: Recipe, options: argparse.Namespace) -> tuple[tuple[StandName, ...], tuple[str, ...]]:
    """Return the stands and shots that are meant: by their names, all shots, or Far."""
    ids = []
    for name in options.shot:
        found = [shot.id for shot in recipe.shots if name in (shot.id, shot.name)]
        if not found:
            known = ", ".join(shot.name for shot in recipe.shots) or "none yet"
            raise RefusalError("--shot", repr(name), f"one of this site's shots ({known})", "correct it")
        ids.append(found[0])
    if options.all_shots:
        ids = [shot.id for shot in recipe.shots]
    stands: tuple[StandName, ...] = tuple(options.stand or ([] if ids else ["far"]))
    return stands, tuple(ids)


def _still(options: argparse.Namespace) -> None:
    width, height = pixels(options.size)
    shop = workshop(options)
    recipe = shop.store.sites.find(options.site).recipe
    stands, shots = _views(recipe, options)
    ask = part_from_data(
        StillAsk,
        "still",
        {
            "stands": stands,
            "shots": shots,
            "width_px": width,
            "height_px": height,
            "rays": options.rays,
            "passes": _passes(options.passes),
            "sequence": options.sequence,
            "frames": options.frames,
            "moving": options.moving,
            "sheet": options.sheet,
        },
    )
    written = shop.stills.take(recipe, ask, Path(options.out), Run(progress=bar()))
    data = [{"name": path.name, "bytes": path.stat().st_size} for path in written]
    tell(options, data, [f"{path}  {path.stat().st_size / 1e6:.1f} MB" for path in written])


def commands(command: Command, with_data: Callable[[argparse.ArgumentParser], argparse.ArgumentParser]) -> None:
    """Add the command."""
    made = with_data(command("still", _still, "take stills of a site, of any size and with many rays"))
    made.add_argument("site", help="name or id")
    made.add_argument("--stand", action="append", choices=("far", "mid", "near"), help="may be given again")
    made.add_argument("--shot", action="append", default=[], metavar="NAME", help="a shot; may be given again")
    made.add_argument("--all-shots", action="store_true", help="every shot of the site")
    made.add_argument("--size", default="1920x1080", metavar="WxH", help="pixels (default 1920x1080)")
    made.add_argument("--rays", type=int, default=16, metavar="N", help=f"a pixel, 1 to {MOST_RAYS} (default 16)")
    made.add_argument("--passes", default="", metavar="NAMES", help="EXR layers: some of " + ",".join(PASSES))
    made.add_argument("--sequence", choices=("one", "turn", "day"), default="one", help="a turn, or a day of sun")
    made.add_argument("--frames", type=int, default=48, metavar="N", help="of a sequence (default 48)")
    made.add_argument("--moving", choices=("webp", "png"), default="webp", help="how a sequence is written")
    made.add_argument("--sheet", action="store_true", help="all of them on one sheet as well")
    made.add_argument("--out", required=True, metavar="DIR")
