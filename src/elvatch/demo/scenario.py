"""Vellin Water, laid out in an empty or existing data folder."""

from __future__ import annotations

from collections.abc import Callable

from elvatch.core.clauses import between
from elvatch.core.cover.recipe import (
    Edge,
    Fit,
    Layer,
    Light,
    Look,
    Peg,
    Recipe,
    Stand,
    Stands,
)
from elvatch.core.cover.rule import OnNoise, Rule, on
from elvatch.core.ground.description import Ground
from elvatch.core.run import Run
from elvatch.core.stock.generators import GENERATORS
from elvatch.demo import vellin_ground
from elvatch.workshop import Workshop

TITLE = "Vellin Water"
SET_PX = 1024
SEED = 7


def lay_out(
    workshop: Workshop, say: Callable[[str], None], set_px: int = SET_PX, samples: int = vellin_ground.SAMPLES
) -> str:
    """Make the sample sets and the site where they are missing; return the site's id.

    Parameters
    ----------
    workshop : Workshop
        Where to.
    say : callable
        Told one line before each long part.
    set_px : int
        Size of the sample sets, pixels.
    samples : int
        Of the ground, along a side.
    """
    store = workshop.store
    there = store.stock.made()
    kept: dict[str, str] = {}
    for number, kind in enumerate(GENERATORS, start=1):
        found = there.get((kind, SEED, set_px))
        if found is None:
            say(f"making sample set {number} of {len(GENERATORS)}: {GENERATORS[kind].title}, {set_px} px")
            found = workshop.sets.make(kind, set_px, SEED)
        kept[kind] = found
    for line in store.sites.all():
        if line.title == TITLE:
            return line.id
    say("shaping the ground of Vellin Water")
    ground = vellin_ground.ground(samples)
    workshop.grounds.shaped(ground, None, Run(progress=_every_fifth(say)))
    return store.sites.add(TITLE, recipe(ground, kept), "laid out the demo").id


def _every_fifth(say: Callable[[str], None]) -> Callable[[float], None]:
    """Return a progress that says each fifth of the way once."""
    told = 0

    def progress(share: float) -> None:
        nonlocal told
        if int(share * 5) > told:
            told = int(share * 5)
            say(f"shaping the ground: {told * 20}%")

    return progress


def recipe(ground: Ground, sets: dict[str, str]) -> Recipe:
    """Return the demo's recipe over a ground and sets by kind."""
    layers = (
        Layer(
            id="silt", name="Wet silt", set=sets["wet-silt"],
            fit=Fit(tile_m=2.0, relief_m=0.019),
            look=Look(variation=0.22, variation_size_m=60),
        ),
        Layer(
            id="grass", name="Rough grass", set=sets["rough-grass"],
            rule=Rule(
                clauses=(
                    on(between("elevation", lower=134.0, soft_lower=10.0)),
                    on(between("slope", upper=36.0, soft_upper=9.0)),
                    OnNoise(join="break-up", size_m=26.0, strength=0.55, seed=4),
                ),
            ),
            fit=Fit(tile_m=2.0, relief_m=0.064), edge=Edge(width_m=0.012),
            look=Look(variation=0.24, variation_size_m=70),
        ),
        Layer(
            id="scree", name="Slate scree", set=sets["slate-scree"],
            rule=Rule(
                clauses=(
                    on(between("slope", lower=21.0, soft_lower=8.0)),
                    on(between("elevation", lower=97.0, soft_lower=6.0)),
                    OnNoise(join="break-up", size_m=14.0, strength=0.6, seed=9),
                ),
            ),
            fit=Fit(tile_m=3.0, relief_m=0.23), edge=Edge(width_m=0.05),
            look=Look(variation=0.16, variation_size_m=40),
        ),
        Layer(
            id="bedrock", name="Slate bedrock", set=sets["slate-bedrock"],
            rule=Rule(
                clauses=(
                    on(between("slope", lower=31.0, soft_lower=5.0)),
                    on(between("elevation", lower=96.0, soft_lower=4.0)),
                    OnNoise(join="break-up", size_m=8.0, strength=0.5, seed=2),
                ),
            ),
            fit=Fit(tile_m=4.0, relief_m=0.36), edge=Edge(width_m=0.08),
            look=Look(variation=0.14, variation_size_m=30),
        ),
    )  # fmt: skip
    return Recipe(
        ground=ground,
        layers=layers,
        peg=Peg(east_m=812.4, north_m=974.0),
        stands=Stands(
            far=Stand(bearing_deg=335, tilt_deg=24, distance_m=1190, view_deg=38),
            mid=Stand(bearing_deg=60, tilt_deg=12, distance_m=40, view_deg=42),
            near=Stand(bearing_deg=340, tilt_deg=15, distance_m=4.6, view_deg=44),
        ),
        light=Light(sun_bearing_deg=262, sun_height_deg=30, mist=0.04),
    )
