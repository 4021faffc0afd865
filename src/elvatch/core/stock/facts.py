"""What a set is worth: its seams, its repetition, its ranges, and what is odd about it, with a way to mend it."""

from __future__ import annotations

import math
from concurrent.futures import ThreadPoolExecutor
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.parallel import WORKERS
from elvatch.core.parts import Part
from elvatch.core.stock import green, periodic, repetition, roles, seam
from elvatch.core.stock.loaded import Loaded, luminance, numbers, shares
from elvatch.core.stock.roles import Role
from elvatch.core.stock.seam import SHOWS

Map = NDArray[np.float32]
DARKEST, BRIGHTEST = 0.02, 0.9
"""Linear reflectance outside of these is no plain material."""
_OUTSIDE = 0.01
WETTEST = 0.38
_BRIGHT_MASK = 0.6
_REPEATS = 0.85
_LOOKED_AT = 512
_MIDDLE = 1024
_CHANNELS = 10
_EXPECTED: tuple[Role, ...] = ("normal", "roughness", "height", "occlusion")
Mend = Literal["seamless", "even-light", "turn-green", "invert-roughness", "invert-mask", "derive", "none"]


class SeamFact(Part):
    """One seam; see :class:`elvatch.core.stock.seam.Seam`."""

    ratio: float
    worst_ratio: float
    worst_from: float
    worst_to: float


class MapFacts(Part):
    """One map as it is kept. ``levels`` counts distinct values of one channel; the rest is 0..1."""

    role: Role
    width_px: int
    height_px: int
    bits: int
    levels: int
    least: float
    most: float
    mean: float
    across: SeamFact
    down: SeamFact

    @property
    def seam(self) -> float:
        """The worse of both seams."""
        return max(self.across.ratio, self.down.ratio)


class GreenFact(Part):
    """Which way the normal map's green axis points; kept maps should say up."""

    points: Literal["up", "down", "cannot tell"]
    confidence: float
    by: str


class SetFinding(Part):
    """Something odd about a set: what was found, and what mends it."""

    text: str
    mend: Mend


class SetFacts(Part):
    """All that is known of a set's content.

    ``colour`` is the mean linear colour, ``darker`` and ``brighter`` the shares outside of plausible
    reflectance; ``normal_length`` and ``tilt_deg`` are means; ``height_used`` the share of the range
    of numbers between the lowest and highest percent; ``memory_bytes`` what covers need of it.
    """

    maps: list[MapFacts]
    seam: float
    repetition_far: float
    repetition_near: float
    colour: list[float] | None = Field(default=None, min_length=3, max_length=3)
    darker: float = 0.0
    brighter: float = 0.0
    rough_low: float | None = None
    rough_high: float | None = None
    normal_length: float | None = None
    tilt_deg: float | None = None
    green: GreenFact | None = None
    height_used: float | None = None
    memory_bytes: int
    findings: list[SetFinding] = Field(default_factory=list)


def gather(loaded: Loaded, lookup_px: int) -> SetFacts:
    """Measure a set.

    Parameters
    ----------
    loaded : Loaded
        Its maps.
    lookup_px : int
        The size it is stored at for covers.
    """
    has = [role for role in roles.ROLES if role in loaded]
    with ThreadPoolExecutor(WORKERS) as pool:
        found = dict(zip(has, pool.map(lambda role: _map_facts(role, loaded), has), strict=True))
    facts: dict[str, object] = {
        "maps": list(found.values()),
        "seam": max(entry.seam for entry in found.values()),
        "memory_bytes": lookup_px * lookup_px * _CHANNELS * 2 * 4 // 3,
        **_tone(loaded),
        **_colour(loaded),
        **_roughness(loaded),
        **_normal(loaded),
        **_height(loaded),
    }
    made = SetFacts.model_validate(facts)
    return made.model_copy(update={"findings": _findings(made, found)})


def _map_facts(role: Role, loaded: Loaded) -> MapFacts:
    values = loaded.whole[role]
    top = float(np.iinfo(values.dtype).max)
    one = values.reshape(values.shape[0] * values.shape[1], -1)
    seams = seam.measure(values)
    mean = float(values.mean(dtype=np.float64)) / top
    return MapFacts(
        role=role,
        width_px=values.shape[1],
        height_px=values.shape[0],
        bits=values.dtype.itemsize * 8,
        levels=int(np.count_nonzero(np.bincount(one[:: max(1, len(one) // (1 << 20)), 0]))),
        least=float(values.min()) / top,
        most=float(values.max()) / top,
        mean=mean,
        across=_seam_fact(seams["across"]),
        down=_seam_fact(seams["down"]),
    )


def _seam_fact(found: seam.Seam) -> SeamFact:
    return SeamFact(
        ratio=found.ratio, worst_ratio=found.worst_ratio, worst_from=found.worst_from, worst_to=found.worst_to
    )


def _coarse(loaded: Loaded, role: Role) -> Map:
    """Return a map as numbers at a size at which overall facts are the same and quick to find."""
    return loaded.reduced(role, _LOOKED_AT) if loaded.whole[role].shape[0] > _LOOKED_AT else loaded.numbers(role)


def _tone(loaded: Loaded) -> dict[str, object]:
    if "colour" in loaded:
        light = luminance(_coarse(loaded, "colour"))
    else:
        role: Role = "mask" if "mask" in loaded else next(iter(loaded.whole))
        coarse = _coarse(loaded, role)
        light = coarse if coarse.ndim == 2 else coarse.mean(axis=2)
    return {
        "repetition_far": repetition.measure(light, repetition.FAR_PX),
        "repetition_near": repetition.measure(light, repetition.NEAR_PX),
    }


def _colour(loaded: Loaded) -> dict[str, object]:
    if "colour" not in loaded:
        return {}
    whole = loaded.whole["colour"]
    total, darker, brighter = np.zeros(3), 0, 0
    for rows in periodic.row_bands(len(whole)):
        linear = numbers("colour", whole[rows])
        light = luminance(linear)
        total += linear.sum(axis=(0, 1), dtype=np.float64)
        darker += int(np.count_nonzero(light < DARKEST))
        brighter += int(np.count_nonzero(light > BRIGHTEST))
    count = whole.shape[0] * whole.shape[1]
    return {"colour": (total / count).tolist(), "darker": darker / count, "brighter": brighter / count}


def _roughness(loaded: Loaded) -> dict[str, object]:
    if "roughness" not in loaded:
        return {}
    low, high = np.percentile(_coarse(loaded, "roughness"), (2, 98))
    return {"rough_low": float(low), "rough_high": float(high)}


def _normal(loaded: Loaded) -> dict[str, object]:
    if "normal" not in loaded:
        return {}
    whole = loaded.whole["normal"]
    # every second pixel of a large map says as much, and so does its middle of the axis
    some = whole[::2, ::2] if whole.shape[0] > _LOOKED_AT else whole
    lengths = tilts = 0.0
    for rows in periodic.row_bands(len(some)):
        vector = shares(some[rows]) * np.float32(2) - np.float32(1)
        length = np.sqrt((vector * vector).sum(axis=2))
        tilt = np.degrees(np.arccos(np.clip(vector[..., 2] / np.maximum(length, 1e-6), -1, 1)))
        lengths, tilts = lengths + float(length.sum(dtype=np.float64)), tilts + float(tilt.sum(dtype=np.float64))
    count = some.shape[0] * some.shape[1]
    middle = slice(max(0, (whole.shape[0] - _MIDDLE) // 2), max(0, (whole.shape[0] - _MIDDLE) // 2) + _MIDDLE)
    height = loaded.whole.get("height")
    same = height is not None and height.shape == whole.shape[:2]
    axis = green.find(
        shares(whole[middle, middle]), shares(height[middle, middle]) if same and height is not None else None
    )
    return {
        "normal_length": lengths / count,
        "tilt_deg": tilts / count,
        "green": GreenFact(points=axis.points, confidence=axis.confidence, by=axis.by),
    }


def _height(loaded: Loaded) -> dict[str, object]:
    if "height" not in loaded:
        return {}
    low, high = np.percentile(_coarse(loaded, "height"), (1, 99))
    return {"height_used": float(high - low)}


def _findings(facts: SetFacts, found: dict[Role, MapFacts]) -> list[SetFinding]:
    out: list[SetFinding] = []

    def say(text: str, mend: Mend) -> None:
        out.append(SetFinding(text=text, mend=mend))

    for text in _seams(list(found.values())):
        say(text, "seamless")
    if facts.repetition_far > _REPEATS:
        say(
            f"from afar it repeats visibly ({facts.repetition_far:.2f} of 1): broad light and dark patches",
            "even-light",
        )
    for share, side in ((facts.darker, f"darker than {DARKEST:g}"), (facts.brighter, f"brighter than {BRIGHTEST:g}")):
        if share > _OUTSIDE:
            say(f"{share:.0%} of its base colour is {side} linear, which no plain material is", "none")
    if facts.green and facts.green.points == "down":
        sure = f"{facts.green.by}, confidence {facts.green.confidence:.2f}"
        say(f"the green axis of its normal map points down ({sure})", "turn-green")
    if facts.normal_length is not None and abs(facts.normal_length - 1) > 0.06:
        say(f"its normals are {facts.normal_length:.2f} long on average instead of 1", "none")
    rough = found.get("roughness")
    if rough and rough.mean < WETTEST:
        say(f"its roughness is {rough.mean:.2f} on average, as of something wet: is it gloss?", "invert-roughness")
    mask = found.get("mask")
    if mask and mask.mean > _BRIGHT_MASK:
        say(f"its mask is dark on light ({mask.mean:.2f} on average); it would act almost everywhere", "invert-mask")
    lacking = [role for role in _EXPECTED if role not in found]
    if lacking and "mask" not in found:
        say("it has no " + ", no ".join(roles.FACTS[role].title for role in lacking) + " map", "derive")
    height = found.get("height")
    if height and height.levels <= 256 and not math.isclose(height.least, height.most):
        say(f"its height map has only {height.levels} levels and will step", "none")
    return out


def _seams(maps: list[MapFacts]) -> list[str]:
    """Return a sentence for each axis on which a seam shows, about the map where it shows most."""
    said = []
    for name, axis in (("left and right", "across"), ("top and bottom", "down")):
        ratios: dict[Role, float] = {entry.role: float(getattr(entry, axis).ratio) for entry in maps}
        showing = sorted((role for role in ratios if ratios[role] >= SHOWS), key=ratios.__getitem__, reverse=True)
        if showing:
            also = f" and in {len(showing) - 1} more" if len(showing) > 1 else ""
            said.append(
                f"a seam between {name}: steps there are {ratios[showing[0]]:.1f} times those inside in "
                f"{roles.FACTS[showing[0]].title}{also}"
            )
    return said
