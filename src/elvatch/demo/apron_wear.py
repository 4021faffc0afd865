"""What time left on the spillway apron: lime runs, scuffs of boots and barrows, hairlines, damp patches."""

from __future__ import annotations

from elvatch.core.document.fit import Lie, Repeats
from elvatch.core.document.marks import DrawnPath, PathPoint
from elvatch.core.document.rule import OnNoise, Rule, on
from elvatch.core.document.wear import (
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

_SHIFT, _TURN = Repeats(kind="shift"), Repeats(kind="turn")
_CONCRETE = ("panels", "wornskin")
_BARROW = ((2.0, 12.6), (6.4, 11.2), (11.0, 9.4), (15.2, 7.9), (18.6, 5.2), (22.6, 2.2))
_WALK = ((14.2, 2.0), (15.8, 4.4), (17.0, 6.3), (18.6, 8.9), (21.4, 12.4))


def ways() -> tuple[DrawnPath, ...]:
    """Return where a barrow was pushed across and where somebody walked."""
    lines = (("barrowway", "Barrow's way", _BARROW), ("walkedway", "Walked way", _WALK))
    return tuple(
        DrawnPath(
            id=id,
            name=name,
            points=tuple(PathPoint(east_m=east, north_m=north) for east, north in line),
            width_m=0.9,
            soft_m=0.3,
            wobble_m=0.05,
            wobble_size_m=2.5,
        )
        for id, name, line in lines
    )


def _noisy(size_m: float, seed: int, lower: float, soft: float) -> OnNoise:
    return OnNoise(size_m=size_m, seed=seed, lower=lower, soft_lower=soft)


def _multiplied(colour: str, strength: float) -> Colouring:
    return Colouring(mode="multiply", colour=colour, strength=strength)


def _dried() -> tuple[Wear, ...]:
    """What water left as it dried."""
    damp = Rule(
        clauses=(
            on(between("elevation", upper=0.10, soft_upper=0.07)),
            OnNoise(join="break-up", size_m=1.6, strength=0.9, seed=6),
        )
    )
    limed = Rule(clauses=(_noisy(4.6, 12, 0.62, 0.24),))
    return (
        Wear(
            id="dampness",
            name="Damp patches",
            place="wornskin",
            rule=damp,
            source=Made(what="damp", seed=5, controls={"cover": 0.42, "edge": 7.0}),
            lie=Lie(tile_m=4.2, repeats=_TURN),
            effects=Effects(
                colour=_multiplied("#857e76", 0.62), roughness=Blend(mode="replace", towards=0.3, strength=0.5)
            ),
        ),
        Wear(
            id="limebloom",
            name="Lime bloom",
            place="wornskin",
            over=_CONCRETE,
            rule=limed,
            source=Made(what="bloom", seed=4, controls={"cover": 0.24, "size": 46.0, "crust": 0.8}),
            range=Range(none_at=0.06, full_at=1.0, soft=1.0),
            lie=Lie(tile_m=2.6, repeats=_TURN),
            effects=Effects(
                colour=Colouring(mode="screen", colour="#5e5c57", strength=0.32),
                roughness=Blend(strength=0.2),
                relief=ReliefEffect(way="raise", depth_mm=0.3),
            ),
        ),
        Wear(
            id="limeruns",
            name="Lime runs",
            place="wornskin",
            over=_CONCRETE,
            rule=limed,
            source=Made(what="runs", seed=9, controls={"length": 110.0, "width": 20.0, "amount": 0.8, "wander": 0.5}),
            lie=Lie(tile_m=3.1, projection="downhill", repeats=_SHIFT),
            effects=Effects(
                colour=Colouring(mode="replace", colour="#cfccc2", strength=0.55),
                roughness=Blend(strength=0.25),
                relief=ReliefEffect(way="raise", depth_mm=0.4),
            ),
        ),
    )


def _used() -> tuple[Wear, ...]:
    """What age and use did to the concrete, and what went over it."""
    rubbed = Rule(clauses=(_noisy(5.0, 31, 0.5, 0.2),))
    return (
        Wear(
            id="hairlines",
            name="Hairline cracks",
            place="wornskin",
            over=_CONCRETE,
            source=Made(what="cracks", seed=11, controls={"spacing": 70.0, "width": 2.2, "whole": 0.5}),
            lie=Lie(tile_m=2.6, repeats=Repeats(kind="shift", strength=0.6)),
            effects=Effects(relief=ReliefEffect(depth_mm=2.0), colour=_multiplied("#2e2a26", 0.85)),
        ),
        Wear(
            id="scuffed",
            name="Boot scuffs",
            over=_CONCRETE,
            rule=rubbed,
            source=Made(what="scuffs", seed=3, controls={"amount": 2.2, "size": 12.0}),
            lie=Lie(tile_m=1.7, repeats=_TURN),
            by_relief=ByRelief(where="raised", level=0.3, soft=0.5),
            effects=Effects(
                colour=_multiplied("#3f3a35", 0.7), roughness=Blend(mode="replace", towards=0.45, strength=0.4)
            ),
        ),
        Wear(
            id="barrowed",
            name="Barrow track",
            source=Made(what="barrow", seed=2, controls={"boots": 0.45}),
            follows=AlongPath(path="barrowway", called="Barrow's way", width_m=0.8, length_m=1.5),
            range=Range(none_at=0.1, full_at=1.0, soft=0.6),
            effects=Effects(
                colour=_multiplied("#6f6355", 0.36), roughness=Blend(strength=0.15), relief=ReliefEffect(depth_mm=1.0)
            ),
        ),
        Wear(
            id="walked",
            name="Boot prints",
            source=Made(what="boots", seed=2, controls={"blurred": 0.12}),
            follows=AlongPath(path="walkedway", called="Walked way", width_m=0.56, length_m=1.5),
            effects=Effects(colour=_multiplied("#6d6052", 0.42), relief=ReliefEffect(depth_mm=1.2)),
        ),
    )


def wears() -> tuple[Wear, ...]:
    """Return the apron's wear from the bottom up."""
    return (*_dried(), *_used())
