"""How much of a layer the eye finds again in every tile, as its set is and as its fit lays it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import function, plan
from elvatch.core.cover.plan import Prepared
from elvatch.core.document.fit import Repeats
from elvatch.core.document.layer import Layer
from elvatch.core.ground import places
from elvatch.core.parallel import Token
from elvatch.core.results import result
from elvatch.core.stock import loaded
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.stock.repetition import FAR_PX, JUST_SEEN, NEAR_PX

_TILES = {FAR_PX: 24, NEAR_PX: 9}


@result
class Repetition:
    """0 (none) to 1, from afar and from nearer by, before and after what the fit does against it."""

    far_before: float
    far_after: float
    near_before: float
    near_after: float


def at_period(seen: NDArray[np.float32], across_px: int, down_px: int) -> float:
    """Return the autocorrelation of a picture of the ground at its tile's period, 0 to 1.

    Parameters
    ----------
    seen : ndarray, shape (rows, cols), float32
        Linear luminance of level ground from above.
    across_px, down_px : int
        Pixels of a repeat.

    Notes
    -----
    As in :func:`elvatch.core.stock.repetition.measure`: what a repeat on is the same again, S, against
    all that is to be seen and what can just be told apart, S + N.
    """
    relative = seen.astype(np.float64) / max(float(seen.mean()), 1e-6) - 1.0
    across = float((relative[:, across_px:] * relative[:, :-across_px]).mean())
    down = float((relative[down_px:] * relative[:-down_px]).mean())
    return max((across + down) / 2, 0.0) / (float(relative.var()) + JUST_SEEN**2)


def _from_above(prepared: Prepared, layer: Layer, seen_px: int, token: Token | None) -> float:
    """Return the measure of level ground of one layer, a repeat ``seen_px`` wide."""
    fit, tiles = layer.fit, _TILES[seen_px]
    step = fit.tile_m / seen_px
    # a repeat is a whole number of pixels down as well
    down_px = max(1, round(fit.down_m / step))
    rows, cols = tiles * down_px, tiles * seen_px
    at = places.zeros(rows * cols)
    # turned as the texture is, and beside its pixels rather than on them
    turn = np.radians(fit.turn_deg)
    right, up = (np.arange(cols) + 0.37) * step, (np.arange(rows)[::-1] + 0.37) * (fit.down_m / down_px)
    x, y = np.meshgrid(right, up)
    at.x_m[:] = (np.cos(turn) * x - np.sin(turn) * y).ravel()
    at.y_m[:] = (np.sin(turn) * x + np.cos(turn) * y).ravel()
    at.across_m[:], at.sky[:] = step, 1.0
    seen = loaded.luminance(function.ask(prepared, at, token, taps=1).colour)
    return at_period(seen.reshape(rows, cols), seen_px, down_px)


def of_layer(layer: Layer, sets: dict[str, Pyramid], token: Token | None = None) -> Repetition:
    """Return how much a layer repeats, judged on level ground from above.

    Parameters
    ----------
    layer : Layer
        Its fit and look count, its rule does not.
    sets : dict
        The stored sets that it refers to, by content name.
    token : Token, optional
        Asked between bands.

    Raises
    ------
    RefusalError
        When a set is not there.
    """
    # only what the fit does is judged, and by every plane alike
    alone = {"rule": layer.rule.model_copy(update={"clauses": ()}), "opacity": 1.0, "on": True}
    # a slow change of colour is not the tile's, and a drift of the tiles is not the colour's
    look = layer.look.model_copy(update={"ground_image": 0.0, "variation": 0.0, "variation_colour": 0.0})
    plain = layer.fit.model_copy(update={"repeats": Repeats(), "detail": None, "projection": "above"})
    still = look.model_copy(update={"variation_offset": 0.0})
    before = layer.model_copy(update=alone | {"fit": plain, "look": still})
    treated = plain.model_copy(update={"repeats": layer.fit.repeats})
    after = layer.model_copy(update=alone | {"fit": treated, "look": look})
    found = []
    for one in (before, after):
        prepared = plan.prepare((one,), sets)
        found.append([_from_above(prepared, one, px, token) for px in (FAR_PX, NEAR_PX)])
    (far_before, near_before), (far_after, near_after) = found
    return Repetition(far_before, far_after, near_before, near_after)
