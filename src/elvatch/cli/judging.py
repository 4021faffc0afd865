"""Commands that judge a site."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable
from dataclasses import asdict

from elvatch.cli.stock import Command
from elvatch.cli.terminal import bar, tell, workshop
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


def commands(command: Command, with_data: Callable[[argparse.ArgumentParser], argparse.ArgumentParser]) -> None:
    """Add the commands that judge."""
    made = with_data(
        command("findings", _findings, "say what is odd about a site; ends with 1 when anything is open")
    )
    made.add_argument("site", help="name or id")
    made.add_argument("--quick", action="store_true", help="leave out what takes long to find: repeats")
