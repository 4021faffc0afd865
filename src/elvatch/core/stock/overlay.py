"""An overlay of the stock: one channel of raw numbers, what is known of it, and its range at work."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.stock import loaded, resize, sheet
from elvatch.core.stock.description import SetDescription
from elvatch.core.stock.roles import FACTS, Role

_BINS = 64
_FIRST: tuple[Role, ...] = ("mask", "colour", "roughness", "height", "metallic", "occlusion")
"""What is taken of a set that was not made to be an overlay, in this order."""


@result
class Known:
    """What an overlay's numbers look like.

    ``dark_on_light`` whether its marks are dark, ``sure`` how sure that is, 0..1; ``counts`` in 64 even bins from 0
    to 1; ``levels`` how many different values it has; ``note`` what was done to get one channel of it.
    """

    dark_on_light: bool
    sure: float
    counts: list[int]
    levels: int
    lowest: float
    highest: float
    note: str


def known(codes: NDArray[np.uint16], note: str) -> Known:
    """Return what an overlay's numbers look like.

    The surface is what there is most of, the marks are what differs from it: marks are dark where most of what
    differs lies below.
    """
    counts, _ = np.histogram(codes, _BINS, (0, 65536))
    smooth = np.convolve(np.pad(counts, 2, mode="edge"), np.ones(5), "valid")
    # the very value of the surface, not the middle of its bin: most overlays are nothing almost everywhere
    peak = int(smooth.argmax())
    near = codes[(codes >= (peak - 2) * 1024) & (codes < (peak + 3) * 1024)]
    base = float(np.median(near))
    away = codes.astype(np.float64) - base
    below, above = float(-away[away < 0].sum()), float(away[away > 0].sum())
    total = max(below + above, 1.0)
    return Known(
        below > above,
        abs(below - above) / total,
        counts.tolist(),
        len(np.unique(codes)),
        float(codes.min()) / 65535,
        float(codes.max()) / 65535,
        note,
    )


def role_of(description: SetDescription) -> Role:
    """Return which map of a set an overlay is drawn from.

    Raises
    ------
    RefusalError
        When it has none that says how much.
    """
    for role in _FIRST:
        if role in description.maps:
            return role
    raise RefusalError(
        description.title, "a set of directions alone", "a mask, or a map to take the brightness of", "choose another"
    )


def codes_of(description: SetDescription, get: Callable[[str], bytes]) -> tuple[NDArray[np.uint16], str]:
    """Return a set's overlay as kept, 16 bits, and what was done to get it; never decoded as colour.

    Parameters
    ----------
    description : SetDescription
        The set.
    get : callable
        Returns a stored file's bytes by its content name.
    """
    role = role_of(description)
    whole = loaded.load(description, get, (role,)).whole[role]
    shares = loaded.shares(whole)
    note = "" if role == "mask" else f"taken from its {FACTS[role].title} map"
    if shares.ndim == 3:
        # weights of what the eye sees, on the numbers as they stand: an overlay is never decoded as colour
        shares = loaded.luminance(shares)
        note = "colour image: its brightness is taken, as it is encoded"
    size = description.lookup_px
    if shares.shape[0] != size:
        shares = resize.resized(np.ascontiguousarray(shares, np.float32), size)
    codes = np.rint(np.clip(shares, 0, 1) * np.float32(65535)).astype(np.uint16)
    return codes, note


def with_marks(title: str, found: Known) -> Known:
    """Refuse an overlay that has one value throughout: it would say nothing."""
    if found.levels < 2:
        raise RefusalError(
            title, f"the value {found.lowest:.3f} throughout", "an overlay with marks", "choose another"
        )
    return found


def table(turned: bool, none_at: float, full_at: float, soft: float) -> NDArray[np.float32]:
    """Return what a range makes of each 16-bit code, 0..1.

    Parameters
    ----------
    turned : bool
        Dark marks count.
    none_at, full_at : float
        Values, after turning, that count as nothing and in full.
    soft : float
        0 straight between the two, 1 eased at both ends.
    """
    values = np.linspace(0, 1, sheet.CODES)
    t = np.clip(((1 - values if turned else values) - none_at) / (full_at - none_at), 0, 1)
    result: NDArray[np.float32] = (t + soft * (t * t * (3 - 2 * t) - t)).astype(np.float32)
    return result
