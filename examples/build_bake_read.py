"""Builds a site from nothing, looks at it, writes its maps and reads them back; without a browser.

Run it with a folder to work in: ``python examples/build_bake_read.py /tmp/harbour``.
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
from PIL import Image

from elvatch import api


def main(folder: Path) -> None:
    """Do all of it in a folder."""
    shop = api.open_folder(folder / "data")

    # two sets of the stock, drawn here
    rock = shop.sets.make("slate-scree", 256, seed=3)
    grass = shop.sets.make("rough-grass", 256, seed=4)

    # a ground of 200 by 200 m: a form, and rivers in it, each begun as it suits the ground
    extent = api.Extent(width_m=200, depth_m=200, lowest_m=0, highest_m=30)
    begun = api.beginnings(extent).steps
    shaped = tuple(begun[kind].model_copy(update={"id": f"step{k}"}) for k, kind in enumerate(("form", "rivers")))
    ground = api.Ground(width_m=200, depth_m=200, source=api.FlatSource(samples=257), steps=shaped)
    site = shop.sites.new("Harbour hill", ground)

    # rock everywhere, grass where it is gentler than 24 degrees, its edge broken up by noise
    gentle = api.Rule(clauses=(api.on(api.between("slope", upper=24, soft_upper=6)), api.OnNoise(join="break-up")))
    layers = (
        api.Layer(id="rock", name="Rock", set=rock, fit=api.Fit(tile_m=3, relief_m=0.15)),
        api.Layer(id="grass", name="Grass", set=grass, rule=gentle, fit=api.Fit(tile_m=2, relief_m=0.05)),
    )
    sheet = api.plain_sheet(("colour", "normal", "height", "shares"), longer_px=256)
    recipe = site.recipe.model_copy(update={"layers": layers, "sheets": (sheet,)})
    site = shop.store.sites.edit(site.id, site.revision, "laid rock and grass", recipe)

    picture, _ = shop.pictures.png(site.recipe, api.View("far", 320, 200))
    (folder / "far.png").write_bytes(picture)

    facts = shop.covers.facts(site.recipe)
    for layer, share in zip(site.recipe.layers, facts.shares, strict=True):
        print(f"{layer.name}: {share:.1%} of the ground")

    written = shop.handoffs.bake(site.title, site.recipe, sheet, folder / "maps")
    shares = [np.asarray(Image.open(path)) / 65535 for path in written if "_share_" in path.name]
    total = np.sum(shares, axis=0)
    print(f"{len(written)} files; the shares of every texel sum to {total.min():.4f} to {total.max():.4f}")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
