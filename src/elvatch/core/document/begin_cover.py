"""How a cover begins: where each kind of material lies in nature, in limits taken from this very ground.

Fines and soil lie below all, plants where it is gentle, wet ground where water gathers, scree and rock where it is
steep. How gentle and how steep, a ground says itself: limits stand where so much of it lies beyond, and where nature
has its own (scree rests at 28 to 38 degrees), there as long as the ground has such places.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from elvatch.core.document.fit import Fit, Repeats
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.rule import OnMeasure, OnNoise, Rule, on
from elvatch.core.ground.clauses import between
from elvatch.core.ground.measures import KINDS, MeasureName
from elvatch.core.stock.description import Category

Quantile = Callable[[MeasureName, float], float]
Place = Literal["all", "gentle", "wet", "scree", "steep", "high", "patches"]
LEVEL_DEG = 2.0
"""Slopes that nearly all lie within so much say nothing of where things lie."""
_YARD_M = 120.0


@dataclass(frozen=True)
class Sized:
    """A ground as a beginning cover sees it.

    ``quantile`` returns the value of a measure that a share of the ground lies below; ``size_m`` is its longer side.
    ``vast``: so many samples that asking where its water gathers would take long;
    ``face``: it stands upright.
    """

    quantile: Quantile
    size_m: float
    vast: bool = False
    face: bool = False

    @property
    def even(self) -> bool:
        """Whether it has no slopes to go by: level, or as steep everywhere."""
        steep = self.quantile("slope", 0.95)
        return steep < LEVEL_DEG or steep - self.quantile("slope", 0.05) < LEVEL_DEG

    @property
    def made(self) -> bool:
        """Whether it is a slab or a yard rather than a country."""
        return self.even and self.size_m <= _YARD_M and self.quantile("slope", 0.95) < LEVEL_DEG


@dataclass(frozen=True)
class Candidate:
    """A set of the stock as far as a beginning asks: its content name, title, category, tile and relief in metres."""

    name: str
    title: str
    category: str
    tile_m: float
    relief_m: float


PLACES: dict[str, Place] = {
    "rock": "steep",
    "scree and gravel": "scree",
    "soil and mud": "wet",
    "grass and plants": "gentle",
    "sand": "wet",
    "snow and ice": "high",
    "concrete": "patches",
    "paving": "patches",
    "wood": "patches",
    "metal": "patches",
    "overlay": "patches",
    "other": "patches",
}
"""Where a material of each category lies on ground with slopes."""
LEAST_SHARE, MOST_SHARE = 0.03, 0.70
"""Of the ground, between what each layer of a beginning takes."""
_TRIES, _STEP, _PATIENCE = 6, 0.05, 0.125
_MEADOW = 0.17
"""How much further plants reach than other patches, where no slope keeps them off."""
_UPRIGHT_DEG = 25.0
"""Ground that is nowhere steeper needs no upright planes."""
_FINGER_SHARE = 1 / 180
"""Of a site's longer side, across a finger of a boundary."""

_AGAINST_REPEATS: dict[str, Literal["none", "shift"]] = {
    "rock": "shift",
    "sand": "shift",
    "snow and ice": "shift",
    "concrete": "shift",
    "wood": "none",
    "metal": "none",
    "paving": "none",
}
"""What has a direction keeps it, what is laid in courses keeps them; all else may lie turned."""

# what a site begins with, from the bottom up: where it lies, of which category, and words that suit it best
_TERRAIN: tuple[tuple[Place, Category, str], ...] = (
    ("all", "soil and mud", "peat soil earth ground dirt mud"),
    ("gentle", "grass and plants", "rough grass meadow turf heath lawn"),
    ("wet", "soil and mud", "wet silt mud clay"),
    ("scree", "scree and gravel", "scree rubble stones gravel"),
    ("steep", "rock", "bedrock slate limestone rock cliff"),
)
_FACE: tuple[tuple[Place, Category, str], ...] = (
    ("all", "rock", "masonry quarried limestone cliff rock"),
    ("patches", "concrete", "plaster lime cast"),
    ("patches", "grass and plants", "moss"),
)
_SLAB: tuple[tuple[Place, Category, str], ...] = (
    ("all", "concrete", "cast concrete apron"),
    ("patches", "scree and gravel", "gravel track grit"),
    ("patches", "soil and mud", "silt mud soil"),
)


def rule_of(place: Place, ground: Sized, seed: int = 1, more: float = 0.0) -> Rule:
    """Return the rule that a kind of place means on a ground.

    Parameters
    ----------
    place : str
        Which kind.
    lie : Sized
        The ground.
    seed : int
        Of its noise, so that layers of patches lie in different ones.
    more : float
        Share of the ground that it takes beyond what is usual; nature's own limits then give way.
    """
    broken = OnNoise(join="break-up", size_m=_finger_m(ground) * 2, seed=seed, strength=0.35)
    if place == "all":
        return Rule()
    if ground.even or ground.face or place == "patches":
        return Rule(clauses=(_patches(ground, seed, more + (_MEADOW if place == "gentle" else 0.0)), broken))
    if place == "gentle":
        return Rule(clauses=(_below("slope", 0.66 + more, ground, None if more else 33.0, (0.40, 0.68)), broken))
    if place == "wet":
        # of a vast ground what is low says it nearly as well
        gathers = _below("elevation", 0.14 + more, ground) if ground.vast else _above("wetness", 0.88 - more, ground)
        return Rule(clauses=(gathers, _below("slope", 0.75, ground), broken))
    if place == "high":
        return Rule(clauses=(_above("elevation", 0.62 - more, ground), _below("slope", 0.85, ground), broken))
    if place == "scree":
        # what is steeper than it can lie is rock above it, where there is any
        return Rule(clauses=(_above("slope", 0.74 - more, ground, None if more else 28.0, (0.68, 0.86)), broken))
    return Rule(clauses=(_above("slope", 0.89 - more, ground, None if more else 38.0, (0.86, 0.955)), broken))


def layer_of(filed: Candidate, id: str, rule: Rule, ground: Sized) -> Layer:
    """Return a new layer of a set, with a boundary that fingers by a sensible amount."""
    # steep ground faces sideways: what is laid from above would be drawn out
    sideways = not ground.face and ground.quantile("slope", 0.95) > _UPRIGHT_DEG
    steep = filed.category in ("rock", "scree and gravel") and sideways
    fit = Fit(
        tile_m=filed.tile_m,
        relief_m=min(filed.relief_m, filed.tile_m),
        projection="triplanar" if steep else "above",
        repeats=Repeats(kind=_AGAINST_REPEATS.get(filed.category, "turn")),
    )
    return Layer(
        id=id,
        name=filed.title[:80],
        set=filed.name,
        rule=rule,
        fit=fit,
        look=Look(variation_size_m=_slow_m(ground)),
        edge=Edge(fingers=0.5, fingers_m=_finger_m(ground)),
    )


def column(sets: Sequence[Candidate], ground: Sized) -> list[tuple[Place, Candidate]]:
    """Return what a site of a ground begins with, from the bottom up: places, and the set that suits each best.

    What the stock has nothing for is left out; the lowest lies everywhere.
    """
    taken: list[tuple[Place, Candidate]] = []
    for place, category, words in _FACE if ground.face else _SLAB if ground.made else _TERRAIN:
        found = _best([one for one in sets if one.category == category and one not in [t for _, t in taken]], words)
        if found is not None:
            taken.append((place, found))
    if not taken and sets:
        taken = [("all", sets[0])]
    return [("all", taken[0][1]), *taken[1:]] if taken else []


def begun(sets: Sequence[Candidate], ground: Sized, shares: Callable[[list[Layer]], list[float]]) -> list[Layer]:
    """Return the layers that a new site begins with, none of them nearly nothing or nearly all of its ground.

    Parameters
    ----------
    sets : sequence of Candidate
        The stock.
    lie : Sized
        The ground.
    shares : callable
        Returns the share of the ground that each of some layers takes.
    """
    wanted = column(sets, ground)
    more = [0.0] * len(wanted)
    layers = _laid(wanted, ground, more)
    for _ in range(_TRIES):
        found = shares(layers)
        if len(found) < 2 or all(LEAST_SHARE < share < MOST_SHARE for share in found):
            break
        # what is too little takes more; where the lowest is, those above it leave it more
        for k, share in enumerate(found):
            if k > 0 and share <= LEAST_SHARE:
                more[k] += _STEP
            if k > 0 and (share >= MOST_SHARE or (found[0] <= LEAST_SHARE and share == max(found))):
                more[k] -= _STEP
        if found[0] >= MOST_SHARE:
            more[1:] = [one + _STEP for one in more[1:]]
        layers = _laid(wanted, ground, more)
    return layers


def _laid(wanted: Sequence[tuple[Place, Candidate]], ground: Sized, more: Sequence[float]) -> list[Layer]:
    """Return layers by their places."""
    return [
        layer_of(filed, f"begun{k}", _enough_of(place, ground, k + 1, one), ground)
        for k, ((place, filed), one) in enumerate(zip(wanted, more, strict=True))
    ]


def _enough_of(place: Place, ground: Sized, seed: int, more: float) -> Rule:
    """Return the rule of a place; where no limit of the ground could make enough or little enough of it, patches."""
    return rule_of("patches" if abs(more) > _PATIENCE else place, ground, seed, more)


def later(filed: Candidate, id: str, ground: Sized, seed: int, share: Callable[[Layer], float]) -> Layer:
    """Return a layer laid over others: it begins where such material lies, and never over nearly all or nothing."""
    place, more = PLACES[filed.category], 0.0
    layer = layer_of(filed, id, rule_of(place, ground, seed), ground)
    for _ in range(_TRIES):
        found = share(layer)
        if LEAST_SHARE < found < MOST_SHARE:
            break
        more += _STEP if found <= LEAST_SHARE else -_STEP
        layer = layer_of(filed, id, _enough_of(place, ground, seed, more), ground)
    return layer


def _best(sets: Sequence[Candidate], words: str) -> Candidate | None:
    ranks = {word: rank for rank, word in enumerate(words.split())}

    def rank(one: Candidate) -> int:
        return min((ranks[word] for word in one.title.lower().split() if word in ranks), default=len(ranks))

    return min(sets, key=rank, default=None)


def _patches(ground: Sized, seed: int, more: float) -> OnNoise:
    """Noise that lets in a sixth of any ground, in patches that suit its size."""
    return OnNoise(size_m=_slow_m(ground) / 3, seed=seed, lower=round(0.69 - more, 2), soft_lower=0.12)


def _finger_m(ground: Sized) -> float:
    return float(f"{min(max(ground.size_m * _FINGER_SHARE, 0.15), 40.0):.2g}")


def _slow_m(ground: Sized) -> float:
    return float(f"{min(max(ground.size_m / 14, 1.0), 400.0):.2g}")


def _soft(measure: MeasureName, ground: Sized, at: float) -> float:
    """Return a soft end over which about a twelfth of the ground lies."""
    low, high = ground.quantile(measure, max(at - 0.04, 0.0)), ground.quantile(measure, min(at + 0.04, 1.0))
    return _rounded(measure, max(high - low, 1e-3))


def _rounded(measure: MeasureName, value: float) -> float:
    return round(value, 1) if KINDS[measure].unit in ("°", "ln m") else round(value, 2)


def _above(
    measure: MeasureName,
    share: float,
    ground: Sized,
    natural: float | None = None,
    window: tuple[float, float] = (0, 1),
) -> OnMeasure:
    """Return a limit above which the rest of the ground lies, or nature's own where about so much lies above that."""
    value, at = _limit(measure, share, ground, natural, window)
    return on(between(measure, lower=value, soft_lower=_soft(measure, ground, at)))


def _below(
    measure: MeasureName,
    share: float,
    ground: Sized,
    natural: float | None = None,
    window: tuple[float, float] = (0, 1),
) -> OnMeasure:
    """Return a limit below which a share of the ground lies; see :func:`_above`."""
    value, at = _limit(measure, share, ground, natural, window)
    return on(between(measure, upper=value, soft_upper=_soft(measure, ground, at)))


def _limit(
    measure: MeasureName, share: float, ground: Sized, natural: float | None, window: tuple[float, float]
) -> tuple[float, float]:
    """Return a limit, and the share of the ground that lies below it, about."""
    if natural is not None and ground.quantile(measure, window[0]) < natural < ground.quantile(measure, window[1]):
        return natural, sum(window) / 2
    return _rounded(measure, ground.quantile(measure, share)), share
