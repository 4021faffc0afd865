"""Commands that judge a site."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from elvatch.cli.stock import Command
from elvatch.cli.terminal import bar, read_file, tell, workshop
from elvatch.core.ground.places import Places
from elvatch.core.rules import mask_image
from elvatch.core.run import Run


def _findings(options: argparse.Namespace) -> None:
    shop = workshop(options)
    site = shop.store.sites.find(options.site)
    shop.grounds.land(site.recipe.ground, None, Run(progress=bar()))
    found = shop.judging.findings(site.title, site.recipe, not options.quick)
    lines = []
    for one in found.findings:
        waved = f" (waved through: {one.waved})" if one.waved is not None else ""
        lines.append(f"{one.title}, {one.name or 'the site'}: {one.text}{waved}")
        if one.mend:
            lines.append(f"    mends: {one.mend}")
    data = {"site": site.title, "open": found.open, "findings": [asdict(one) for one in found.findings]}
    tell(options, data, lines or ["nothing odd was found"])
    if found.open:
        sys.exit(1)


def _find_rule(options: argparse.Namespace) -> None:
    shop = workshop(options)
    recipe = shop.store.sites.find(options.site).recipe
    path = Path(options.mask)
    packed = mask_image.apart(path.name, read_file(path, "a mask image"))
    plane = mask_image.plane_of(packed, options.channel)
    ground = recipe.ground

    def says(at: Places) -> NDArray[np.float32]:
        col = np.clip((at.x_m / ground.width_m * plane.shape[1]).astype(np.int64), 0, plane.shape[1] - 1)
        row = np.clip(((1 - at.y_m / ground.depth_m) * plane.shape[0]).astype(np.int64), 0, plane.shape[0] - 1)
        found: NDArray[np.float32] = plane[row, col].astype(np.float32)
        return found

    shop.grounds.land(ground, None, Run(progress=bar()))
    found = shop.judging.find_rule(recipe, says)
    lines = [
        found.sentence
        if found.explained
        else "No measure of this ground explains it: no rule is better than chance.",
        f"right on {found.right:.1%} of places held back, intersection over union {found.overlap:.2f}",
        *(f"one more: {one.join} {one.words}, {one.gain:+.3f}" for one in found.more),
    ]
    facts = asdict(found) | {"rule": found.rule.model_dump(mode="json")}
    tell(options, facts, lines)


def commands(command: Command, with_data: Callable[[argparse.ArgumentParser], argparse.ArgumentParser]) -> None:
    """Add the commands that judge."""
    made = with_data(
        command("findings", _findings, "say what is odd about a site; ends with 1 when anything is open")
    )
    made.add_argument("site", help="name or id")
    quick = "leave out what takes long to find: repeats"
    made.add_argument("--quick", action="store_true", help=quick)
    made = with_data(command("find-rule", _find_rule, "say which rule over the ground's measures a mask comes to"))
    made.add_argument("site", help="name or id")
    made.add_argument(
        "--mask", required=True, metavar="FILE", help="an image over the whole site, row 0 in the north"
    )
    made.add_argument("--channel", default="R", choices=["R", "G", "B", "A", "brightness"], help="of it (default R)")
