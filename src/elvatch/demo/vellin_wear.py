"""What falling water, drying and work left on Vellin Water: tidemark rings, stains, algae, tyre tracks, hairlines."""

from __future__ import annotations

from elvatch.core.document.fit import Lie, Repeats
from elvatch.core.document.rule import OnNoise, Rule, on
from elvatch.core.document.wear import (
    AlongLevels,
    AlongPath,
    Blend,
    ByRelief,
    Colouring,
    Effects,
    Made,
    Range,
    ReliefEffect,
    Wear,
)
from elvatch.core.ground.clauses import between

_TURN = Repeats(kind="turn")


_BANK = Rule(
    clauses=(
        on(between("elevation", 99.0, 133.0, 1.0, 1.5)),
        OnNoise(join="and", size_m=38, seed=14, lower=0.44, soft_lower=0.3),
    )
)
_HOLLOWS = Rule(
    clauses=(
        on(between("elevation", upper=110.0, soft_upper=3.0)),
        on(between("slope", upper=8.0, soft_upper=5.0)),
    )
)
_GROWN = Rule(
    clauses=(
        on(between("elevation", 97.0, 118.0, 1.5, 6.0)),
        on(between("wetness", lower=7.6, soft_lower=1.6)),
        OnNoise(join="break-up", size_m=4.0, strength=0.9, seed=3),
    )
)


def _of_water() -> tuple[Wear, ...]:
    return (
        Wear(
            id="shrinkage",
            name="Hairline shrinkage",
            place="silt",
            over=("silt",),
            source=Made(what="cracks", seed=5, controls={"spacing": 34.0, "width": 3.0, "whole": 0.35}),
            lie=Lie(tile_m=1.9, repeats=_TURN),
            rule=Rule(clauses=(OnNoise(size_m=14, seed=2, lower=0.5, soft_lower=0.2),)),
            effects=Effects(
                relief=ReliefEffect(depth_mm=5.0), colour=Colouring(mode="multiply", colour="#4d453c", strength=0.5)
            ),
        ),
        Wear(
            id="drystains",
            name="Drying stains",
            source=Made(what="drying", seed=8),
            rule=_HOLLOWS,
            place="drymud",
            follows=AlongLevels(
                measure="relative-height",
                radius_m=14.0,
                from_m=-0.55,
                spacing_m=0.62,
                once=True,
                wobble_m=0.05,
                wobble_size_m=2.4,
            ),
            range=Range(none_at=0.34, full_at=1.0, soft=0.4),
            effects=Effects(
                colour=Colouring(mode="replace", colour="#b9b3a6", strength=0.26), roughness=Blend(strength=0.25)
            ),
        ),
        Wear(
            id="algae",
            name="Algae film",
            source=Made(what="film", seed=6, controls={"cover": 0.42}),
            rule=_GROWN,
            place="shore",
            lie=Lie(tile_m=2.4, repeats=_TURN),
            by_relief=ByRelief(where="hollows", level=0.7, soft=0.6),
            effects=Effects(
                colour=Colouring(mode="replace", colour="#4b5230", strength=0.45),
                roughness=Blend(mode="replace", towards=0.42, strength=0.3),
            ),
        ),
        Wear(
            id="tidemarks",
            name="Tidemark rings",
            source=Made(what="tidemarks", seed=3),
            rule=_BANK,
            place="bedrock",
            follows=AlongLevels(from_m=98.0, spacing_m=4.4, wobble_m=0.05, wobble_size_m=3.0),
            range=Range(none_at=0.22, full_at=0.9, soft=0.5),
            effects=Effects(
                colour=Colouring(mode="replace", colour="#bfb9ab", strength=0.3), roughness=Blend(strength=0.2)
            ),
        ),
    )


def wears(track: str, track_name: str) -> tuple[Wear, ...]:
    """Return the wear from the bottom up; ``track`` is the path that the carts took."""
    return (
        *_of_water(),
        Wear(
            id="carttracks",
            name="Tyre tracks",
            source=Made(what="tyres", seed=4),
            follows=AlongPath(path=track, called=track_name, width_m=2.4, length_m=1.1),
            effects=Effects(
                colour=Colouring(mode="multiply", colour="#8b7d6b", strength=0.4), relief=ReliefEffect(depth_mm=14.0)
            ),
        ),
    )
