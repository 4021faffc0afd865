"""Pictures for the repository with a reduced palette: as many colours as fit into what it should keep of each."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PIL import Image
from scipy.cluster.vq import kmeans2
from scipy.spatial import cKDTree

MOST_BYTES = 250_000
TOKENS = ((0xBF, 0x3B, 0x1C), (0x2F, 0x6B, 0x4F), (0x8A, 0x5A, 0x00), (0x1C, 0x1D, 0x1E))
"""The page's accent, good, warn and ink: a thin line is a thousandth of a picture and would be lost."""
# brightness and two differences of colour (Rec. 601), which count double: ground is grey, and its hues matter
_SEEN = np.array([[0.299, 0.587, 0.114], [-0.338, -0.662, 1.0], [1.0, -0.838, -0.162]])
_LOOKED_AT = 40_000


def lighten(path: Path) -> None:
    """Write a picture anew with fewer colours, most of them where most of it is."""
    with Image.open(path) as image:
        pixels = np.asarray(image.convert("RGB")).astype(float)
    seen = pixels.reshape(-1, 3) @ _SEEN.T
    some = seen[np.random.default_rng(1).choice(len(seen), min(_LOOKED_AT, len(seen)), replace=False)]
    for count in (250, 160, 96, 64, 40):
        middles, _ = kmeans2(some, count, minit="++", seed=1, iter=12)
        found = np.clip(np.rint(middles @ np.linalg.inv(_SEEN).T), 0, 255)
        palette = np.vstack([TOKENS, found]).astype(np.uint8)
        nearest = cKDTree(palette @ _SEEN.T).query(seen)[1].astype(np.uint8)
        small = Image.fromarray(nearest.reshape(pixels.shape[:2]))
        small.putpalette(palette.ravel().tolist())
        small.save(path, optimize=True)
        if path.stat().st_size < MOST_BYTES:
            return
