"""How a new wear begins: timid, in the right encoding, following what such marks follow."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from elvatch.core.document.fit import LEAST_TILE_M, Lie, Repeats
from elvatch.core.document.marks import DrawnPath
from elvatch.core.document.rule import OnMeasure, OnNoise, OnThing, Rule, on, singles
from elvatch.core.document.wear import (
    AlongLevels,
    AlongPath,
    Blend,
    Colouring,
    Effects,
    Follows,
    FromStock,
    Made,
    OverGround,
    Preset,
    Range,
    ReliefEffect,
    Wear,
    WearBody,
)
from elvatch.core.ground.clauses import between
from elvatch.core.refusal import RefusalError
from elvatch.core.stock import overlays
from elvatch.core.stock.overlays import OVERLAYS

_LEVEL_M = 0.5
"""Ground with less relief than this has no shade or wet of its own."""


@dataclass(frozen=True)
class SiteSpans:
    """What a new wear must know of its site: elevations (m), the wetness above which a tenth of it lies, its paths
    and the elevation at the peg (m)."""

    lowest_m: float
    highest_m: float
    wet: float
    paths: Sequence[DrawnPath]
    peg_m: float

    @property
    def level(self) -> bool:
        """Whether it is as good as flat."""
        return self.highest_m - self.lowest_m < _LEVEL_M


def _tinted(mode: str, colour: str, strength: float) -> Colouring:
    return Colouring.model_validate({"mode": mode, "colour": colour, "strength": strength})


_EFFECTS: dict[str, Effects] = {
    "smears": Effects(roughness=Blend(strength=0.12)),
    "runs": Effects(roughness=Blend(strength=0.10), colour=_tinted("replace", "#c9c3b4", 0.20)),
    "scratches": Effects(roughness=Blend(strength=0.15), relief=ReliefEffect(depth_mm=0.2)),
    "scuffs": Effects(roughness=Blend(strength=0.12), colour=_tinted("multiply", "#6a625a", 0.25)),
    "speckle": Effects(colour=_tinted("multiply", "#5a5248", 0.25), roughness=Blend(strength=0.08)),
    "cracks": Effects(colour=_tinted("multiply", "#4a443e", 0.40), relief=ReliefEffect(depth_mm=0.6)),
    "tidemarks": Effects(colour=_tinted("replace", "#bdb6a6", 0.20), roughness=Blend(strength=0.12)),
    "drying": Effects(colour=_tinted("replace", "#b4ab98", 0.18), roughness=Blend(strength=0.10)),
    "tyres": Effects(relief=ReliefEffect(depth_mm=8.0), colour=_tinted("multiply", "#6e665c", 0.25)),
    "boots": Effects(relief=ReliefEffect(depth_mm=4.0), colour=_tinted("multiply", "#7a7268", 0.20)),
    "barrow": Effects(relief=ReliefEffect(depth_mm=4.0), colour=_tinted("multiply", "#746c62", 0.20)),
    "film": Effects(
        colour=_tinted("replace", "#3d452c", 0.30), roughness=Blend(mode="replace", strength=0.2, towards=0.5)
    ),
    "dust": Effects(colour=_tinted("replace", "#b0a48d", 0.10), roughness=Blend(strength=0.15)),
    "bloom": Effects(
        colour=_tinted("replace", "#d6d2c6", 0.25),
        roughness=Blend(strength=0.2),
        relief=ReliefEffect(way="raise", depth_mm=0.2),
    ),
    "damp": Effects(
        colour=_tinted("multiply", "#7b756e", 0.40), roughness=Blend(mode="replace", strength=0.3, towards=0.3)
    ),
}
EFFECTS = Effects(
    roughness=Blend(),
    metallic=Blend(mode="replace", strength=0.3, towards=1.0),
    colour=Colouring(),
    relief=ReliefEffect(),
    worn_through=0.3,
)
"""How each effect begins when it is switched on by hand."""
LEVELS = [
    AlongLevels(wobble_m=0.02),
    AlongLevels(measure="relative-height", from_m=-0.6, spacing_m=0.65, once=True, wobble_m=0.02),
]
"""How wear begins to follow levels of a measure; those of elevation from the lowest of the ground."""
LEVELS_AROUND_M = 20.0
"""So far below the lowest place and above the highest their first may lie; of relative height about nought."""
_DIRECTED = ("runs", "scratches", "smears")


def _first_path(name: str, site: SiteSpans) -> DrawnPath:
    if not site.paths:
        raise RefusalError(name, "no path on this site", "a path to follow", "draw one with the path tool first")
    return site.paths[0]


def _follows(what: str, site: SiteSpans) -> Follows:
    kind = OVERLAYS[what].follows
    if kind == "levels":
        if what == "drying":
            return AlongLevels(
                measure="relative-height", radius_m=20.0, from_m=-1.2, spacing_m=1.25, once=True, wobble_m=0.05
            )
        return AlongLevels(from_m=site.peg_m - 1.0, spacing_m=2.0, wobble_m=0.03)
    if kind == "path":
        path = _first_path(OVERLAYS[what].title, site)
        width = {"tyres": 2.2, "boots": 0.6, "barrow": 0.9}[what]
        return AlongPath(path=path.id, called=path.name, width_m=width, length_m=OVERLAYS[what].tile_m)
    return OverGround()


def _rule(what: str, site: SiteSpans) -> Rule:
    """Return where such marks are found; the artist may say otherwise."""
    if what == "film" and not site.level:
        shade = on(between("aspect", 300.0, 70.0, 40.0, 40.0))
        wet = on(between("wetness", lower=site.wet, soft_lower=1.0), "or")
        return Rule(clauses=(shade, wet, OnNoise(join="break-up", size_m=3.0, strength=0.6)))
    if what == "dust" and not site.level:
        return Rule(clauses=(on(between("slope", upper=22.0, soft_upper=12.0)),))
    if what == "drying":
        return Rule(clauses=(on(between("slope", upper=9.0, soft_upper=4.0)),))
    return Rule()


def of_kind(what: str, id: str, site: SiteSpans) -> Wear:
    """Return a new wear of a kind that is drawn.

    Parameters
    ----------
    what : str
        A key of :data:`~elvatch.core.stock.overlays.OVERLAYS`.
    id : str
        Its id.
    site : SiteSpans
        Where it will lie.

    Raises
    ------
    RefusalError
        When there is no such kind, or it follows a path and there is none.
    """
    overlays.check(what, {})
    kind = OVERLAYS[what]
    repeats = Repeats(kind="shift" if what in _DIRECTED else "turn")
    lie = Lie(
        tile_m=kind.tile_m,
        repeats=repeats,
        projection="downhill" if kind.follows == "downhill" else ("above" if site.level else "triplanar"),
    )
    return Wear(
        id=id,
        name=kind.title,
        source=Made(what=what, seed=7),
        lie=lie,
        follows=_follows(what, site),
        effects=_EFFECTS[what],
        rule=_rule(what, site),
    )


def of_set(id: str, name: str, set: str, tile_m: float, turned: bool) -> Wear:
    """Return a new wear drawn from the stock: it roughens a little where its marks are."""
    return Wear(
        id=id,
        name=name[:80],
        source=FromStock(set=set),
        range=Range(turned=turned),
        lie=Lie(tile_m=tile_m),
        effects=Effects(roughness=Blend(strength=0.15)),
    )


def of_preset(id: str, preset: Preset, site: SiteSpans) -> Wear:
    """Return kept wear as a new wear of another site: clauses on marks of the site it came from are left out, and
    what followed a path there follows one here."""
    laid, rule = preset.laid, portable(preset.rule)
    follows = laid.follows
    if isinstance(follows, AlongPath) and not any(path.id == follows.path for path in site.paths):
        path = _first_path(preset.name, site)
        follows = follows.model_copy(update={"path": path.id, "called": path.name})
    parts = {key: getattr(laid, key) for key in WearBody.model_fields if key != "follows"}
    return Wear(id=id, name=preset.name, rule=rule, follows=follows, **parts)


def on_thing(wear: Wear, size_m: float) -> Wear:
    """Return new wear as it begins on a thing: in its own axes, no larger than it, its levels from the foot up.

    Parameters
    ----------
    wear : Wear
        As it would begin on the ground.
    size_m : float
        The thing's longest side, metres.

    Raises
    ------
    RefusalError
        When it follows a path.
    """
    follows, lie, tile_m = wear.follows, wear.lie, min(wear.lie.tile_m, max(round(size_m / 2, 2), LEAST_TILE_M))
    if isinstance(follows, AlongPath):
        raise RefusalError(wear.name, "wear that follows a path", "wear that lies over surfaces", "choose another")
    if isinstance(follows, AlongLevels):
        follows = AlongLevels(from_m=0.0, spacing_m=round(max(size_m / 3, 0.01), 2), once=follows.once)
    if lie.projection != "triplanar":
        lie = lie.model_copy(update={"projection": "triplanar"})
    rule = wear.rule
    if any(isinstance(clause, OnMeasure) for clause in singles(rule)):
        # what lies or settles on ground does so on what faces up; there is no wet and no drainage on a thing
        rule = Rule(clauses=(OnThing(of="up", upper=40.0, soft_upper=25.0), OnNoise(join="break-up", size_m=0.4)))
    return wear.model_copy(
        update={"follows": follows, "lie": lie.model_copy(update={"tile_m": tile_m}), "rule": rule, "place": None}
    )


def portable(rule: Rule) -> Rule:
    """Return a rule without clauses that mean nothing on another site: masks, paths, images, layers."""
    kept = tuple(
        clause
        for clause in rule.clauses
        if all(isinstance(one, OnMeasure | OnNoise) for one in singles(Rule(clauses=(clause,))))
    )
    return Rule(clauses=kept)
