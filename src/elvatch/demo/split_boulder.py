"""The great split boulder at Vellin Water: rock, lichen, moss on top, silt at its foot, worn by rain and water."""

from __future__ import annotations

from elvatch.core.document.fit import Fit, Lie, Repeats
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.rule import OnNoise, OnThing, Rule
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.thing import Covering, DrawnThing, Thing
from elvatch.core.document.wear import AlongLevels, Blend, Colouring, Effects, Made, Wear


def _fit(tile_m: float, relief_m: float) -> Fit:
    return Fit(projection="triplanar", tile_m=tile_m, relief_m=relief_m, repeats=Repeats(kind="turn"))


def _layers(sets: dict[str, str]) -> tuple[Layer, ...]:
    rock = Layer(
        id="boulderrock",
        name="Weathered rock",
        set=sets["quarried-limestone"],
        fit=_fit(1.7, 0.05),
        edge=Edge(kind="fade"),
        opacity=0.85,
        look=Look(brightness=0.62, saturation=0.55, variation=0.2, variation_size_m=0.9, normal_strength=1.2),
    )
    lichen = Layer(
        id="boulderlichen",
        name="Lichen",
        set=sets["lime-plaster"],
        fit=_fit(0.6, 0.003),
        rule=Rule(
            clauses=(
                OnNoise(noise="cells", size_m=0.1, lower=None, soft_lower=0.0, upper=0.3, soft_upper=0.1, seed=4),
                OnThing(of="up", upper=95.0, soft_upper=20.0),
                OnNoise(join="and", noise="soft", size_m=0.8, lower=0.57, soft_lower=0.1, seed=9),
                OnNoise(join="break-up", size_m=0.06, strength=1.2, seed=12),
            )
        ),
        edge=Edge(kind="fade"),
        opacity=0.8,
        look=Look(brightness=0.66, hue_deg=14.0, saturation=1.3, normal_strength=0.6),
    )
    moss = Layer(
        id="bouldermoss",
        name="Moss",
        set=sets["moss"],
        fit=_fit(0.7, 0.035),
        rule=Rule(
            clauses=(
                OnThing(of="up", upper=38.0, soft_upper=22.0),
                OnThing(join="or", of="edge", upper=-7.0, soft_upper=2.0),
                OnThing(join="except", of="ground", upper=0.12, soft_upper=0.1),
                OnNoise(join="break-up", size_m=0.45, strength=1.1, seed=3),
                OnNoise(join="break-up", size_m=0.12, strength=0.5, seed=8),
            )
        ),
        edge=Edge(kind="height", width_m=0.02),
        look=Look(brightness=0.9, variation=0.25, variation_size_m=0.6),
    )
    silt = Layer(
        id="bouldersilt",
        name="Silt at its foot",
        set=sets["wet-silt"],
        fit=_fit(1.4, 0.01),
        rule=Rule(
            clauses=(
                OnThing(of="ground", upper=0.16, soft_upper=0.35),
                OnNoise(join="break-up", size_m=0.3, strength=0.7, seed=5),
            )
        ),
        edge=Edge(kind="fade"),
        opacity=0.8,
    )
    return rock, lichen, moss, silt


def _wears() -> tuple[Wear, ...]:
    streaks = Wear(
        id="boulderrain",
        name="Rain streaks",
        source=Made(what="runs", seed=11),
        lie=Lie(tile_m=1.6, projection="triplanar", repeats=Repeats(kind="shift")),
        place="boulderlichen",
        rule=Rule(
            clauses=(
                OnThing(of="up", lower=48.0, soft_lower=20.0, upper=120.0, soft_upper=20.0),
                OnNoise(join="break-up", size_m=0.7, strength=0.8, seed=21),
            )
        ),
        effects=Effects(
            colour=Colouring(mode="multiply", strength=0.55, colour="#4c4a42"), roughness=Blend(strength=0.06)
        ),
    )
    tide = Wear(
        id="bouldertide",
        name="Tide marks",
        source=Made(what="tidemarks", seed=3),
        place="boulderlichen",
        lie=Lie(tile_m=1.2, projection="triplanar"),
        follows=AlongLevels(from_m=0.1, spacing_m=1.05, once=True, wobble_m=0.03),
        effects=Effects(
            colour=Colouring(mode="replace", strength=0.3, colour="#b4ad9c"), roughness=Blend(strength=0.08)
        ),
    )
    return streaks, tide


def thing(sets: dict[str, str]) -> Thing:
    """Return the boulder with its cover, of sets by kind."""
    return Thing(
        id="splitboulder",
        name="Split boulder",
        source=DrawnThing(what="split-boulder", seed=5, variants=3, controls={"gap": 0.5, "lichen": 0.0}),
        cover=Covering(layers=_layers(sets), wears=_wears()),
    )


def standing() -> SetThing:
    """Return where it stands: beside the way that the carts take."""
    return SetThing(
        id="greatboulder",
        name="The split boulder",
        thing="splitboulder",
        east_m=864.0,
        north_m=478.0,
        size_m=3.6,
        turn_deg=35.0,
        nod_deg=4.0,
        leans=0.3,
        sunk=0.2,
        joins_m=0.16,
    )
