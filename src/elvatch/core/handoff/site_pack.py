"""A whole site as one pack: its recipe with all that it needs."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from importlib.metadata import version
from pathlib import Path
from typing import Any, Literal

from elvatch.core.document import recipe as recipes
from elvatch.core.document.recipe import Recipe
from elvatch.core.handoff import pack
from elvatch.core.handoff.pack import Pack, Packed, counted
from elvatch.core.parts import Name
from elvatch.core.run import Run
from elvatch.core.stock.description import SetDescription

DESCRIPTION = "site.json"


class PackedSite(Packed):
    """What a site's pack says of itself."""

    format: Literal["elvatch-site"] = "elvatch-site"
    version: Literal[1] = 1
    title: Name
    recipe: dict[str, Any]


SitePack = Pack[PackedSite, Recipe]


def write(
    path: Path,
    title: str,
    recipe: Recipe,
    sets: Mapping[str, SetDescription],
    file: Callable[[str], bytes],
    run: Run | None = None,
) -> list[str]:
    """Write a whole site.

    Parameters
    ----------
    path : Path
        Where to; written beside and renamed.
    title : str
        What the site is called.
    recipe : Recipe
        All that it is.
    sets : mapping
        Descriptions of the texture sets that the recipe names.
    file : callable
        Returns a stored file's bytes by its content name.
    run : Run, optional
        Told how far it is.

    Returns
    -------
    list of str
        What is in it, in lines for people.
    """

    def told(sizes: dict[str, int]) -> PackedSite:
        return PackedSite(
            made_by=f"elvatch {version('elvatch')}",
            title=title,
            recipe=recipe.model_dump(mode="json"),
            sets=dict(sorted(sets.items())),
            files=sizes,
        )

    return lines_of(pack.write(path, DESCRIPTION, pack.needed(recipe, sets.values()), told, file, run), recipe)


def lines_of(told: PackedSite, recipe: Recipe) -> list[str]:
    """Return what is in a pack, in lines for people."""
    ground = recipe.ground
    parts = [
        counted(len(ground.steps), "step"),
        counted(len(recipe.layers), "layer"),
        counted(len(recipe.wears), "wear"),
    ]
    return [f"{told.title}: {ground.width_m:g} x {ground.depth_m:g} m, {', '.join(parts)}", pack.line_of(told)]


def look(path: Path) -> SitePack:
    """Look through a site's pack without unpacking its files; see :func:`elvatch.core.handoff.pack.look`."""
    return pack.look(path, DESCRIPTION, PackedSite, lambda told: recipes.from_data(told.recipe))
