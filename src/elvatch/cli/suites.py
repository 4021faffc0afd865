"""The commands about suites: list, keep, lay, take out, bring in."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path

from elvatch.app.suites import SuiteLine
from elvatch.app.workshop import Workshop
from elvatch.cli.stock import Command
from elvatch.cli.terminal import bar, tell, workshop, write_beside
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.suite import How
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run


def _suite(shop: Workshop, name: str) -> SuiteLine:
    for line in shop.suites.all():
        if name in (line.id, line.name):
            return line
    raise RefusalError("suite", f"none called {name[:40]!r}", "one that is kept", "see elvatch suite list")


def _layer(recipe: Recipe, name: str) -> str:
    for layer in recipe.layers:
        if name in (layer.id, layer.name):
            return layer.id
    raise RefusalError("layer", f"none called {name[:40]!r}", "one of the site's", "check the name")


def _said(line: SuiteLine) -> str:
    return f"{line.name}: {', '.join(line.layers)} ({line.wears} wears, from {line.of_site or 'nowhere known'})"


def _list(options: argparse.Namespace) -> None:
    found = workshop(options).suites.all()
    tell(options, [asdict(one) for one in found], [_said(one) for one in found] or ["no suite is kept"])


def _keep(options: argparse.Namespace) -> None:
    shop = workshop(options)
    site = shop.store.sites.find(options.site)
    layers = [_layer(site.recipe, name) for name in options.layer] or [one.id for one in site.recipe.layers]
    line = shop.suites.keep(site.recipe, layers, options.suite, site.title)
    tell(options, asdict(line), [_said(line)])


def _lay(options: argparse.Namespace) -> None:
    shop = workshop(options)
    site = shop.store.sites.find(options.site)
    above = _layer(site.recipe, options.above) if options.above else None
    shop.grounds.land(site.recipe.ground, None, Run(progress=bar()))
    how: How = "quantiles" if options.by_ground else "limits"
    laid = shop.suites.lay(site.recipe, _suite(shop, options.suite).id, above, how)
    shop.store.sites.edit(site.id, site.revision, laid.label, laid.recipe)
    data = {"site": site.title, "label": laid.label, "layers": laid.layers, "notes": laid.notes}
    tell(options, data, [f"{site.title}: {laid.label}", *laid.notes])


def _out(options: argparse.Namespace) -> None:
    shop = workshop(options)
    _, data = shop.suites.packed(_suite(shop, options.suite).id)
    write_beside(Path(options.to), data)
    tell(options, {"file": options.to, "bytes": len(data)}, [f"{options.to}  {len(data) / 1e6:.2f} MB"])


def _bring(options: argparse.Namespace) -> None:
    suites, path = workshop(options).suites, Path(options.file)
    try:
        stream = path.open("rb")
    except OSError as error:
        found = error.strerror or "an error"
        raise RefusalError(str(path), found, "a suite that was taken out", "check the path") from None
    with stream:
        line = suites.bring(suites.look(stream), Run(progress=bar()))
    tell(options, asdict(line), [_said(line)])


def commands(command: Command, with_data: Callable[[argparse.ArgumentParser], argparse.ArgumentParser]) -> None:
    """Add the commands to a parser."""
    with_data(command("list", _list, "list the suites that are kept"))
    made = with_data(command("keep", _keep, "keep layers of a site under a name, with their wear"))
    made.add_argument("site", help="name or id")
    made.add_argument("suite", help="name to keep it under")
    made.add_argument(
        "--layer",
        action="append",
        default=[],
        metavar="NAME",
        help="only this one; may be given again (default: the whole column)",
    )
    made = with_data(command("lay", _lay, "lay a suite on a site, as one step"))
    made.add_argument("site", help="name or id")
    made.add_argument("suite", help="name or id")
    made.add_argument("--by-ground", action="store_true", help="limits at the same shares of this ground")
    made.add_argument("--above", metavar="LAYER", help="right above this one (default: on top)")
    made = with_data(command("out", _out, "take a suite out as a file, with its texture sets"))
    made.add_argument("suite", help="name or id")
    made.add_argument("--to", required=True, metavar="FILE.zip")
    made = with_data(command("bring", _bring, "bring in a suite that was taken out"))
    made.add_argument("file", metavar="FILE.zip")
