"""What kind of material a name speaks of, and how large such a thing usually is."""

from __future__ import annotations

import re

from elvatch.core.stock.description import Category

TILE_M: dict[Category, float] = {
    "rock": 4.0,
    "scree and gravel": 3.0,
    "soil and mud": 2.0,
    "grass and plants": 2.0,
    "sand": 2.0,
    "snow and ice": 3.0,
    "concrete": 3.0,
    "paving": 2.0,
    "wood": 1.5,
    "metal": 1.0,
    "overlay": 2.0,
    "other": 2.0,
}
"""Metres per repeat that such a set usually covers: first guesses, for the user to judge."""

RELIEF_M: dict[Category, float] = {
    "rock": 0.30,
    "scree and gravel": 0.15,
    "soil and mud": 0.04,
    "grass and plants": 0.06,
    "sand": 0.03,
    "snow and ice": 0.05,
    "concrete": 0.006,
    "paving": 0.02,
    "wood": 0.01,
    "metal": 0.004,
    "overlay": 0.002,
    "other": 0.04,
}
"""Metres from the lowest to the highest that such a surface usually has."""

_WORDS: tuple[tuple[Category, str], ...] = (
    (
        "overlay",
        "overlay smear smears scratch scratches stain stains drip drips leak leaks smudge smudges mask imperfection "
        "imperfections scuff scuffs grunge spatter splatter hairline hairlines fingerprint fingerprints",
    ),
    (
        "grass and plants",
        "grass moss meadow turf lawn leaves leaf foliage ivy heather reed fern straw clover needles",
    ),
    ("snow and ice", "snow ice frost glacier"),
    (
        "scree and gravel",
        "scree gravel pebble pebbles stones shingle rubble talus grit track ballast waste chippings road",
    ),
    ("sand", "sand sandy dune beach"),
    ("soil and mud", "mud soil dirt silt clay peat earth ground cracked sediment moor loam forest"),
    ("concrete", "concrete cement plaster stucco mortar apron"),
    ("paving", "paving cobble cobbles cobblestone tile tiles brick bricks asphalt tarmac pavement slabs"),
    ("wood", "wood bark plank planks timber log"),
    ("metal", "metal steel iron rust copper aluminium"),
    (
        "rock",
        "rock rocks bedrock cliff slate stone granite basalt limestone sandstone boulder marble crag ledges face",
    ),
)


def guess(text: str) -> Category:
    """Return the category that a title speaks of; "other" when none."""
    said = set(re.findall(r"[a-z]+", text.lower()))
    for category, words in _WORDS:
        if said & set(words.split()):
            return category
    return "other"
