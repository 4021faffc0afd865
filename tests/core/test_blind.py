"""Whether a stranger could name a made set: by colour and texture alone, from other seeds and in another light."""

from __future__ import annotations

import functools

import numpy as np
import scipy.ndimage
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.document.light import Light
from elvatch.core.picture.swatch import swatch
from elvatch.core.stock import generators, pyramid

SIZE_PX = 128
LEARNT = (Light(sun_bearing_deg=315, sun_height_deg=36), Light(sun_bearing_deg=300, sun_height_deg=52))
ASKED = Light(sun_bearing_deg=330, sun_height_deg=28)


@functools.cache
def stored(kind: str, seed: int) -> pyramid.Pyramid:
    return generators.stored(generators.draw(kind, SIZE_PX, seed))


def statistics(picture: NDArray[np.uint8]) -> NDArray[np.float64]:
    """Mean and variance of colour, how rough it is from scale to scale, and how much it runs one way."""
    linear = colour.to_linear(np.asarray(picture.astype(np.float32) / 255, np.float32)).astype(np.float64)
    light = np.log(linear.mean(axis=2) + 0.01)
    mean = linear.reshape(-1, 3).mean(axis=0)
    found = [*np.log(mean + 0.005), mean[0] / mean[1], mean[2] / mean[1], light.std()]
    found += [float(np.std(linear[..., a] / (linear.sum(axis=2) + 0.01))) for a in (0, 2)]
    centred = light - light.mean()
    found.append(float((centred**3).mean()) / (light.std() ** 3 + 1e-9))
    previous = light
    for octave in range(1, 6):
        smooth = scipy.ndimage.gaussian_filter(light, 2.0 ** (octave - 1), mode="wrap")
        found.append(float(np.log((previous - smooth).std() + 1e-4)))
        right, down = (np.gradient(smooth, axis=axis) for axis in (1, 0))
        xx, yy, xy = (right * right).mean(), (down * down).mean(), (right * down).mean()
        found += [(xx - yy) / (xx + yy + 1e-12), 2 * xy / (xx + yy + 1e-12)]
        previous = smooth
    return np.array(found)


def learnt() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """What three seeds of each kind look like in two lights: means, and the usual spread within a kind."""
    found = np.array(
        [
            [statistics(swatch(stored(kind, seed), SIZE_PX, light)) for seed in (1, 2, 3) for light in LEARNT]
            for kind in generators.GENERATORS
        ]
    )
    means = found.mean(axis=1)
    return means, np.sqrt(((found - means[:, None]) ** 2).mean(axis=(0, 1))) + 1e-3


def test_a_fourth_seed_in_another_light_is_named_right() -> None:
    means, within = learnt()

    def named(picture: NDArray[np.uint8]) -> str:
        away = (((statistics(picture) - means) / within) ** 2).sum(axis=1)
        return list(generators.GENERATORS)[int(np.argmin(away))]

    said = {kind: named(swatch(stored(kind, 4), SIZE_PX, ASKED)) for kind in generators.GENERATORS}
    wrong = {kind: other for kind, other in said.items() if other != kind}
    assert len(wrong) <= len(generators.GENERATORS) / 20, wrong
    # seeds are pictures of their own, not one picture again
    for kind in generators.GENERATORS:
        a, b = (swatch(stored(kind, seed), SIZE_PX).astype(float) for seed in (1, 2))
        assert np.abs(a - b).mean() > 1.0, kind
