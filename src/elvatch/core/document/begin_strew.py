"""How things and strews begin: a kind of thing as it usually lies."""

from __future__ import annotations

from elvatch.core.document.rule import Rule, on
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.strew import Clusters, Looks, Mixed, Size, Standing, Strew
from elvatch.core.document.thing import BroughtThing, DrawnThing, Thing
from elvatch.core.ground.begin import NEW_ID
from elvatch.core.ground.clauses import between
from elvatch.core.thing.kinds import KINDS

_STEEPEST_DEG = {"stone": 42.0, "wood": 32.0, "plant": 38.0}


def thing(what: str) -> Thing:
    """Return a new thing of a kind that is drawn; whoever lays it gives it an id."""
    return Thing(id=NEW_ID, name=KINDS[what].title, source=DrawnThing(what=what))


def strew(what: str) -> Strew:
    """Return a new strew of a kind that is drawn: as many, as large and as deep as it usually lies."""
    kind = KINDS[what]
    plant = kind.family == "plant"
    size = Size(from_m=kind.usual_m[0], to_m=kind.usual_m[1], bias=0.5 if plant else 1.6)
    stands = Standing(
        sunk_from=kind.sunk[0],
        sunk_to=kind.sunk[1],
        leans=kind.leans,
        tilt_deg=4.0 if plant else 8.0,
    )
    steep = on(between("slope", upper=_STEEPEST_DEG[kind.family], soft_upper=6.0))
    return Strew(
        id=NEW_ID,
        name=kind.title,
        kinds=(Mixed(thing=NEW_ID),),
        per_100_m2=kind.per_100_m2,
        apart_m=round(0.35 * kind.usual_m[0], 2) if kind.family == "stone" else 0.0,
        rule=Rule(clauses=(steep,)),
        size=size,
        stands=stands,
        clusters=Clusters(clustered=0.5 if plant else 0.25, size_m=5.0, apart_m=9.0),
        looks=Looks(of_ground=0.1 if plant else 0.2, foot_m=0.03 if plant else 0.08),
    )


def set_by_hand() -> SetThing:
    """Return a new thing set by hand; whoever sets it says which, where and how large."""
    return SetThing(id=NEW_ID, name="new", thing=NEW_ID, east_m=0.0, north_m=0.0, size_m=1.0)


def of_brought(longest_m: float) -> Strew:
    """Return a new strew of a thing that was brought in, about as large as it came."""
    return strew("boulder").model_copy(
        update={"name": "Brought in", "size": Size(from_m=0.8 * longest_m, to_m=1.2 * longest_m, bias=0.0)}
    )


def of(thing: Thing) -> Strew:
    """Return how a strew of a thing begins."""
    source = thing.source
    begun = of_brought(source.longest_m) if isinstance(source, BroughtThing) else strew(source.what)
    return begun.model_copy(update={"name": thing.name})
