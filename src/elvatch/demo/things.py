"""What is strewn over the demo sites: scree, driftwood, reeds, posts at Vellin Water; rubble, scrub at the Delph."""

from __future__ import annotations

from typing import NamedTuple

from elvatch.core.document.rule import Bracket, Clause, OnLayer, OnNear, OnNoise, Rule, on
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.strew import Clusters, Looks, Mixed, Size, Standing, Strew
from elvatch.core.document.thing import DrawnThing, Thing
from elvatch.core.ground.clauses import between
from elvatch.core.thing.kinds import KINDS
from elvatch.demo import split_boulder


class Strewn(NamedTuple):
    """Things of a site, and what strews them."""

    things: tuple[Thing, ...]
    strews: tuple[Strew, ...]
    set_things: tuple[SetThing, ...] = ()


def _thing(what: str, seed: int = 7, variants: int = 4, **controls: float) -> Thing:
    source = DrawnThing(what=what, seed=seed, variants=variants, controls=controls)
    return Thing(id=what.replace("-", ""), name=KINDS[what].title, source=source)


def _mix(**weights: float) -> tuple[Mixed, ...]:
    return tuple(Mixed(thing=thing, weight=weight) for thing, weight in weights.items())


def _noise(size_m: float, strength: float, seed: int) -> OnNoise:
    return OnNoise(join="break-up", size_m=size_m, strength=strength, seed=seed)


def _stones() -> tuple[Strew, ...]:
    scree: tuple[Clause, ...] = (
        on(between("slope", lower=17.0, soft_lower=5.0)),
        on(between("slope", upper=40.0, soft_upper=4.0)),
        on(between("elevation", lower=97.0, upper=172.0, soft_lower=4.0, soft_upper=22.0)),
        _noise(18.0, 0.7, 31),
    )
    bed: tuple[Clause, ...] = (
        on(between("elevation", upper=112.0, soft_upper=8.0)),
        on(between("slope", upper=18.0, soft_upper=5.0)),
    )
    return (
        Strew(
            id="screeboulders",
            name="Scree boulders",
            kinds=_mix(boulder=6, rubblestone=3, slateslab=2),
            per_100_m2=2.4,
            apart_m=0.8,
            rule=Rule(clauses=scree),
            size=Size(from_m=0.25, to_m=2.4, bias=2.6, at_foot=0.8, foot_m=104.0, top_m=165.0),
            stands=Standing(sunk_from=0.15, sunk_to=0.35, leans=0.5, tilt_deg=10.0),
            clusters=Clusters(clustered=0.45, size_m=9.0, apart_m=15.0),
            looks=Looks(of_ground=0.3, foot_m=0.12),
        ),
        Strew(
            id="bedstones",
            name="Stones on the bed",
            kinds=_mix(rubblestone=3, boulder=2, pebblecluster=4),
            per_100_m2=7.0,
            apart_m=0.35,
            rule=Rule(clauses=bed),
            size=Size(from_m=0.09, to_m=0.75, bias=3.0),
            stands=Standing(sunk_from=0.25, sunk_to=0.6, leans=0.9),
            clusters=Clusters(clustered=0.45, size_m=5.0, apart_m=11.0),
            looks=Looks(of_ground=0.45, foot_m=0.05),
            clear_of=("screeboulders",),
        ),
    )


def _wood() -> tuple[Strew, ...]:
    lines: tuple[Clause, ...] = (
        # what floated came to rest on old stands of the water
        on(between("elevation", 101.4, 102.6, 0.5, 0.5).model_copy(update={"every": 6.4, "irregular": 0.45})),
        on(between("elevation", 99.0, 131.0, 1.0, 1.0)),
        on(between("slope", upper=16.0, soft_upper=8.0)),
    )
    lane: tuple[Clause, ...] = (
        OnNear(
            to="path",
            target="drownedlane",
            called="Drowned lane",
            lower=0.35,
            upper=0.75,
            soft_lower=0.0,
            soft_upper=0.05,
        ),
        on(between("slope", upper=26.0, soft_upper=6.0)),
        OnNoise(join="except", size_m=30.0, seed=3, lower=0.6, soft_lower=0.1),
    )
    return (
        Strew(
            id="driftlines",
            name="Driftwood",
            kinds=_mix(driftwood=5, deadbranch=3, root=1),
            per_100_m2=5.0,
            apart_m=0.5,
            rule=Rule(clauses=lines),
            size=Size(from_m=0.4, to_m=3.2, bias=2.2),
            stands=Standing(sunk_from=0.05, sunk_to=0.4, leans=1.0, turned="fall", turn_deg=90.0, jitter_deg=35.0),
            clusters=Clusters(clustered=0.6, size_m=7.0, apart_m=18.0),
            looks=Looks(of_ground=0.1, foot_m=0.05),
            clear_of=("screeboulders",),
        ),
        Strew(
            id="laneposts",
            name="Fence posts",
            kinds=_mix(fencepost=1),
            per_100_m2=49.0,
            apart_m=1.1,
            rule=Rule(clauses=lane),
            size=Size(from_m=0.9, to_m=1.5, bias=0.0),
            stands=Standing(
                sunk_from=0.35,
                sunk_to=0.7,
                leans=0.1,
                tilt_deg=14.0,
                turned="path",
                path="drownedlane",
                jitter_deg=10.0,
            ),
            looks=Looks(of_ground=0.15, foot_m=0.08),
            clear_of=("screeboulders",),
        ),
    )


_GATHERS = Bracket(
    clauses=(
        on(between("drainage", lower=9000.0, soft_lower=6000.0)),
        on(between("distance-to-water", upper=2.5, soft_upper=3.0), "or"),
    )
)
_WET: tuple[Clause, ...] = (
    _GATHERS,
    on(between("slope", upper=14.0, soft_upper=5.0)),
    on(between("elevation", lower=91.6, upper=112.0, soft_lower=0.2, soft_upper=6.0)),
    _noise(6.0, 0.9, 17),
)
_TUFTS: tuple[Clause, ...] = (
    on(between("elevation", lower=127.0, soft_lower=24.0)),
    on(between("slope", upper=33.0, soft_upper=8.0)),
    OnNoise(join="except", size_m=7.0, seed=19, lower=0.62, soft_lower=0.2),
    _noise(9.0, 0.8, 23),
)
_HEATH: tuple[Clause, ...] = (
    OnLayer(layer="peat", called="Moor peat"),
    on(between("slope", upper=30.0, soft_upper=6.0)),
    _noise(5.0, 0.7, 29),
)


def _plants() -> tuple[Strew, ...]:
    return (
        Strew(
            id="wetreeds",
            name="Reeds in the wet",
            kinds=_mix(reedtuft=1),
            per_100_m2=160.0,
            apart_m=0.12,
            rule=Rule(clauses=_WET),
            size=Size(from_m=0.5, to_m=1.3, bias=0.6),
            stands=Standing(sunk_from=0.0, sunk_to=0.04, leans=0.1, tilt_deg=7.0),
            clusters=Clusters(clustered=0.75, size_m=4.0, apart_m=6.5),
            looks=Looks(of_ground=0.05, foot_m=0.04),
        ),
        Strew(
            id="grasstufts",
            name="Grass tufts",
            kinds=_mix(grasstuft=1),
            per_100_m2=34.0,
            rule=Rule(clauses=_TUFTS),
            size=Size(from_m=0.16, to_m=0.55, bias=0.8),
            stands=Standing(sunk_from=0.0, sunk_to=0.06, leans=0.25, tilt_deg=6.0),
            clusters=Clusters(clustered=0.5, size_m=3.0, apart_m=5.0),
            looks=Looks(of_ground=0.12, foot_m=0.04),
            clear_of=("screeboulders",),
        ),
        Strew(
            id="heath",
            name="Heather",
            kinds=_mix(heather=1),
            per_100_m2=9.0,
            apart_m=0.3,
            rule=Rule(clauses=_HEATH),
            size=Size(from_m=0.25, to_m=0.8, bias=0.8),
            stands=Standing(sunk_from=0.02, sunk_to=0.08, leans=0.3, tilt_deg=5.0),
            clusters=Clusters(clustered=0.6, size_m=5.0, apart_m=8.0),
            looks=Looks(of_ground=0.1, foot_m=0.05),
            clear_of=("screeboulders",),
        ),
    )


def vellin(sets: dict[str, str]) -> Strewn:
    """Return what is strewn over Vellin Water, and the boulder that was set there, of sets by kind."""
    things = (
        _thing("boulder", variants=6),
        _thing("rubble-stone"),
        _thing("slate-slab"),
        _thing("pebble-cluster"),
        _thing("driftwood", variants=6),
        _thing("dead-branch"),
        _thing("root", variants=3),
        _thing("fence-post"),
        _thing("reed-tuft", dry=0.5),
        _thing("grass-tuft"),
        _thing("heather"),
        split_boulder.thing(sets),
    )
    return Strewn(things, (*_stones(), *_wood(), *_plants()), (split_boulder.standing(),))


def _on_delph() -> tuple[Strew, ...]:
    foot: tuple[Clause, ...] = (
        on(between("slope", upper=38.0, soft_upper=4.0)),
        on(between("openness", upper=72.0, soft_upper=7.0)),
        on(between("elevation", lower=95.4, upper=119.0, soft_upper=1.0)),
        OnNear(join="except", to="path", target="haulroad", called="Haul road", upper=0.4, soft_upper=0.6),
        _noise(5.0, 0.6, 11),
    )
    tips: tuple[Clause, ...] = (OnLayer(layer="scrub", called="Scrub on old tips"), _noise(4.0, 0.5, 13))
    road: tuple[Clause, ...] = (
        OnNear(to="path", target="haulroad", called="Haul road", lower=0.3, upper=2.2, soft_upper=0.6),
        on(between("slope", upper=34.0, soft_upper=8.0)),
    )
    return (
        Strew(
            id="facerubble",
            name="Rubble below the faces",
            kinds=_mix(rubblestone=6, boulder=2),
            per_100_m2=38.0,
            apart_m=0.18,
            rule=Rule(clauses=foot),
            size=Size(from_m=0.1, to_m=1.6, bias=4.0),
            stands=Standing(sunk_from=0.1, sunk_to=0.4, leans=0.7, tilt_deg=18.0),
            clusters=Clusters(clustered=0.6, size_m=5.0, apart_m=8.0),
            looks=Looks(of_ground=0.55, foot_m=0.06),
        ),
        Strew(
            id="timbers",
            name="Old timbers",
            kinds=_mix(driftwood=4, deadbranch=1),
            per_100_m2=11.0,
            apart_m=0.8,
            rule=Rule(clauses=road),
            size=Size(from_m=0.7, to_m=2.6, bias=1.0),
            stands=Standing(sunk_from=0.05, sunk_to=0.4, leans=1.0, turned="path", path="haulroad", jitter_deg=40.0),
            looks=Looks(of_ground=0.25, foot_m=0.05),
            clear_of=("facerubble",),
        ),
        Strew(
            id="tipscrub",
            name="Scrub",
            kinds=_mix(bramble=5, fern=6, youngbirch=3),
            per_100_m2=26.0,
            apart_m=0.5,
            rule=Rule(clauses=tips),
            size=Size(from_m=0.6, to_m=3.4, bias=2.0),
            stands=Standing(sunk_from=0.0, sunk_to=0.03, leans=0.1, tilt_deg=6.0),
            clusters=Clusters(clustered=0.4, size_m=5.0, apart_m=8.0),
            looks=Looks(of_ground=0.05, foot_m=0.05),
        ),
    )


def delph() -> Strewn:
    """Return what is strewn over Hallin Delph."""
    things = (
        _thing("rubble-stone", variants=6, worn=0.1, lichen=0.05),
        _thing("boulder", lichen=0.15, worn=0.25),
        _thing("bramble"),
        _thing("young-birch", variants=5),
        _thing("fern"),
        _thing("dead-branch"),
        _thing("driftwood", thick=1.6),
    )
    return Strewn(things, _on_delph())
