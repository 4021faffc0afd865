"""Draw the pictures of the supplier's packs that ship with the application; run after a generator has changed."""

from __future__ import annotations

from PIL import Image

from elvatch.core.picture.swatch import swatch
from elvatch.core.stock import generators
from elvatch.core.stock.supplier import catalogue

PX = 256
QUALITY = 82


def main() -> None:
    """Draw every pack once."""
    catalogue.SWATCHES.mkdir(exist_ok=True)
    for pack in catalogue.PACKS:
        drawn = generators.draw(pack.kind, PX, pack.seed, pack.controls)
        picture = Image.fromarray(swatch(generators.stored(drawn), PX))
        picture.save(catalogue.SWATCHES / f"{pack.id}.webp", quality=QUALITY, method=6)


if __name__ == "__main__":
    main()
