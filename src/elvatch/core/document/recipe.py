"""The recipe: one document that says everything about a site.

Lengths are metres, angles degrees, shares 0..1; every name carries its unit. Layers are listed
from the bottom of the column to its top. Files and texture sets are named by their content.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from typing import Annotated, Any, Literal, Self, TypeVar

from pydantic import Field, ValidationError, model_validator

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.document import begin_sheet
from elvatch.core.document.layer import Layer
from elvatch.core.document.light import Light
from elvatch.core.document.marks import Marks
from elvatch.core.document.reference import MOST_REFERENCES, Reference
from elvatch.core.document.rule import MOST_CLAUSES, KeptRule, OnLayer, Rule, singles
from elvatch.core.document.set_thing import MOST_SET, SetThing
from elvatch.core.document.sheet import MOST_ENTRIES, MOST_SHEETS, Sheet
from elvatch.core.document.strew import MOST_BY_HAND, MOST_STREWS, Strew, asks_for
from elvatch.core.document.thing import MOST_ON_IT, MOST_THINGS, MOST_WEAR_ON_IT, Thing
from elvatch.core.document.upgrade import upgraded
from elvatch.core.document.water import Water
from elvatch.core.document.wear import MOST_WEARS, Wear
from elvatch.core.ground.description import MOST_STEPS, Ground
from elvatch.core.parts import Bearing, ContentName, Name, Part, PartId, published
from elvatch.core.refusal import RefusalError
from elvatch.core.shown import Shown

P = TypeVar("P", bound=Part)
FORMAT = "elvatch-recipe"
VERSION = 10
MOST_LAYERS = 64
MOST_SHOTS = 64
MOST_WAVED = 500
MOST_MASK_SAMPLES = 400_000
"""Along the longer side: a table of what is painted must stay small."""


class Stand(Part):
    """A place to look from, given by what it looks at: the site's middle (Far) or the peg."""

    bearing_deg: Bearing = Field(default=0.0, description="Direction of looking")
    tilt_deg: float = Field(default=20.0, ge=-30, le=89, description="How far the view looks down")
    distance_m: float = Field(default=10.0, ge=0.3, le=400_000)
    view_deg: Annotated[float, Shown("Lens", "°", 5, 100, 1, hint="Vertical angle of view: less is longer")] = Field(
        default=40.0, ge=5, le=100, description="Vertical angle of view"
    )


class Stands(Part):
    """The three pictures' places."""

    far: Stand = Stand(bearing_deg=20, tilt_deg=24, distance_m=1180, view_deg=38)
    mid: Stand = Stand(bearing_deg=330, tilt_deg=14, distance_m=38, view_deg=42)
    near: Stand = Stand(bearing_deg=330, tilt_deg=17, distance_m=4.4, view_deg=44)


class Peg(Part):
    """The point on the ground that Mid and Near look at, metres from the south-west corner."""

    east_m: float = Field(ge=0, le=200_000)
    north_m: float = Field(ge=0, le=200_000)


class Shot(Part):
    """A view kept under a name, to come back to and to take stills of."""

    id: PartId
    name: Name
    stand: Stand
    peg: Peg | None = Field(default=None, description="What it looks at; left out, the whole site")
    light: Light | None = Field(default=None, description="Its own; left out, the site's")


class Waved(Part):
    """A finding that was waved through, with a word why."""

    id: str = Field(pattern="^[a-f0-9]{16}$", description="Which finding")
    word: str = Field(default="", max_length=200)


class Recipe(Part):
    """A site's whole description."""

    format: Literal["elvatch-recipe"] = "elvatch-recipe"
    version: Literal[10] = 10
    ground: Ground
    layers: tuple[Layer, ...] = Field(default=(), max_length=MOST_LAYERS)
    wears: tuple[Wear, ...] = Field(default=(), max_length=MOST_WEARS, description="From the bottom up")
    marks: Marks = Marks()
    kept_rules: tuple[KeptRule, ...] = Field(default=(), max_length=MOST_LAYERS)
    peg: Peg
    shots: tuple[Shot, ...] = Field(default=(), max_length=MOST_SHOTS)
    stands: Stands = Stands()
    light: Light = Light()
    water: Water = Water()
    things: tuple[Thing, ...] = Field(default=(), max_length=MOST_THINGS)
    strews: tuple[Strew, ...] = Field(default=(), max_length=MOST_STREWS, description="In the order of the column")
    set_things: tuple[SetThing, ...] = Field(default=(), max_length=MOST_SET, description="Things set by hand")
    waved: tuple[Waved, ...] = Field(default=(), max_length=MOST_WAVED, description="Findings waved through")
    references: tuple[Reference, ...] = Field(default=(), max_length=MOST_REFERENCES, description="Photographs")
    sheets: tuple[Sheet, ...] = Field(default_factory=lambda: begin_sheet.READY, max_length=MOST_SHEETS)

    @model_validator(mode="after")
    def _consistent(self) -> Self:
        self.check()
        return self

    @property
    def water_over(self) -> Water:
        """The water that lies over the ground; before a face none does, its measures alone know the level."""
        return self.water if self.ground.upright is None else Water()

    def check(self) -> None:
        """Raise a ValueError where its parts do not fit together."""
        ids = [layer.id for layer in self.all_layers()]
        if len(set(ids)) != len(ids):
            raise ValueError("two layers have the same id")
        wears = self.all_wears()
        if len({*ids, *(wear.id for wear in wears)}) != len(ids) + len(wears):
            raise ValueError("a wear has the id of another or of a layer")
        if len({sheet.id for sheet in self.sheets}) != len(self.sheets):
            raise ValueError("two sheets have the same id")
        if len({one.id for one in self.references}) != len(self.references):
            raise ValueError("two reference photographs have the same id")
        if self.peg.east_m > self.ground.width_m or self.peg.north_m > self.ground.depth_m:
            raise ValueError("the peg stands outside the ground")
        self._check_things()
        _no_circle(self.layers, self.strews)
        longest = max(self.ground.width_m, self.ground.depth_m)
        for mask in self.marks.masks:
            if longest / mask.sample_m > MOST_MASK_SAMPLES:
                raise ValueError(f"samples of {mask.sample_m:g} m are too fine for a mask of {longest:g} m")

    def _check_things(self) -> None:
        ids = [thing.id for thing in self.things]
        if len(set(ids)) != len(ids):
            raise ValueError("two things have the same id")
        if len({strew.id for strew in self.strews}) != len(self.strews):
            raise ValueError("two strews have the same id")
        for strew in self.strews:
            gone = {one.thing for one in strew.kinds} - set(ids)
            if gone:
                raise ValueError(f"{strew.name} strews a thing that is not there")
        if len({one.id for one in self.set_things} | {one.id for one in self.strews}) != len(self.set_things) + len(
            self.strews
        ):
            raise ValueError("a thing that was set has the id of another, or of a strew")
        if any(one.thing not in ids for one in self.set_things):
            raise ValueError("a thing was set that is not there")
        for thing in self.things:
            _no_circle(thing.cover.layers, ())

    def all_layers(self) -> list[Layer]:
        """Return the ground's layers and those on things."""
        return [*self.layers, *(layer for thing in self.things for layer in thing.cover.layers)]

    def all_wears(self) -> list[Wear]:
        """Return the wear of the ground and of things."""
        return [*self.wears, *(wear for thing in self.things for wear in thing.cover.wears)]

    def part_ids(self) -> set[str]:
        """Return the ids of all that rules of the ground may refer to."""
        standing = {*(strew.id for strew in self.strews), *(one.id for one in self.set_things)}
        return {*self.marks.ids(), *(layer.id for layer in self.all_layers()), *standing}

    def files(self) -> list[str]:
        """Return the content names of all files it needs, each once."""
        lights = [self.light, *(shot.light for shot in self.shots if shot.light)]
        lit = [name for light in lights for name in light.files()]
        models = [name for thing in self.things for name in thing.files()]
        photographs = [one.file for one in self.references]
        return list(dict.fromkeys([*self.ground.files(), *self.marks.files(), *lit, *models, *photographs]))

    def using(self, texture_set: ContentName) -> list[Name]:
        """Return the names of the layers and wears that use a texture set."""
        layers = [layer.name for layer in self.all_layers() if texture_set in layer.uses()]
        return [*layers, *(wear.name for wear in self.all_wears() if texture_set in wear.sets())]

    def sets(self) -> list[ContentName]:
        """Return the names of all texture sets it needs, each once, in order."""
        layers = [name for layer in self.all_layers() for name in layer.uses()]
        return sorted({*layers, *(name for wear in self.all_wears() for name in wear.sets())})


def _asks(layers: tuple[Layer, ...], strews: tuple[Strew, ...] = ()) -> dict[str, list[str]]:
    """Return which layers the rule of each asks for, and where strews are given also which strews."""
    asks = {layer.id: [*_layers_of(layer.rule), *asks_for(layer.rule)] for layer in layers}
    asks |= {strew.id: [*_layers_of(strew.rule), *asks_for(strew.rule), *strew.clear_of] for strew in strews}
    return asks


def _layers_of(rule: Rule) -> list[str]:
    return [clause.layer for clause in singles(rule) if isinstance(clause, OnLayer)]


def _no_circle(layers: tuple[Layer, ...], strews: tuple[Strew, ...]) -> None:
    """Refuse rules that ask for each other in a circle."""
    asks = _asks(layers, strews)
    names = {layer.id: layer.name for layer in layers} | {strew.id: strew.name for strew in strews}
    kind = "layers and strews" if strews else "layers"
    clear: set[str] = set()

    def visit(one: str, above: tuple[str, ...]) -> None:
        if one in above:
            circle = ", ".join(names[id] for id in (*above[above.index(one) :], one))
            raise ValueError(f"the rules of these {kind} ask for each other in a circle: {circle}")
        if one in asks and one not in clear:
            for other in asks[one]:
                visit(other, (*above, one))
            clear.add(one)

    for one in asks:
        visit(one, ())


def askable(layers: tuple[Layer, ...], of: str, strews: tuple[Strew, ...] = ()) -> list[str]:
    """Return the ids of layers and strews that the rule of one may ask for without asking for itself in the end."""
    asks = _asks(layers, strews)

    def reaches(one: str, seen: set[str]) -> bool:
        if one == of:
            return True
        new = one not in seen
        seen.add(one)
        return new and any(reaches(other, seen) for other in asks.get(one, ()))

    return [one for one in asks if not reaches(one, set())]


_read = Cache[Recipe](8)
_texts = Cache[Recipe](8)
"""Recipes by the very text that they were read from: the revision that an edit is made on is read again each time."""
_known_parts = Cache[Part](512)


def read(text: str | bytes) -> Recipe:
    """Read a recipe from JSON.

    Parameters
    ----------
    text : str or bytes
        The document.

    Returns
    -------
    Recipe
        Checked and complete.

    Raises
    ------
    RefusalError
        When it is not JSON, not a recipe, of a later version, or has a value out of range.
    """

    def make() -> Recipe:
        try:
            data = json.loads(text)
        except (ValueError, RecursionError) as error:
            raise RefusalError(
                "recipe", f"text that is not JSON ({error})", "a recipe", "send a whole recipe"
            ) from None
        return from_data(data)

    data = text.encode("utf-8", "surrogatepass") if isinstance(text, str) else text
    return _texts.get(digest.of_bytes(data), make)


def from_data(data: object) -> Recipe:
    """Check a decoded JSON value as a recipe; see :func:`read`."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise RefusalError("recipe", "another kind of document", f"format {FORMAT!r}", "choose an Elvatch recipe")
    version = data.get("version")
    if not isinstance(version, int) or version < 1:
        raise RefusalError(
            "recipe", f"version {version!r}", f"a version from 1 to {VERSION}", "choose a whole recipe"
        )
    if version > VERSION:
        raise RefusalError(
            "recipe", f"version {version}", f"version {VERSION} or earlier", "open it with a newer Elvatch"
        )
    try:
        _check_lengths(data)
        whole = upgraded(data)
        text = json.dumps(whole, allow_nan=False)
        name = digest.of_bytes(text.encode())
        return _read.get(name, lambda: _with_parts_known(whole, Recipe.model_validate_json(text)))
    except ValidationError as error:
        raise _first_complaint(error) from None
    except RefusalError:
        raise
    except ValueError as error:
        raise RefusalError("recipe", str(error), "finite numbers", "correct the value") from None


def _check_lengths(data: dict[str, Any]) -> None:
    """Refuse lists that are longer than any recipe's before they are worked through."""

    def inside(of: object, most: int, *names: str) -> list[object]:
        for name in names:
            of = of.get(name) if isinstance(of, dict) else None
        found: list[object] = of if isinstance(of, list) else []
        if len(found) > most:
            raise RefusalError(".".join(names), f"a list of {len(found)}", f"at most {most}", "take some out")
        return found

    inside(data, MOST_WEARS, "wears")
    for sheet in inside(data, MOST_SHEETS, "sheets"):
        inside(sheet, MOST_ENTRIES, "entries")
    for layer in inside(data, MOST_LAYERS, "layers"):
        inside(layer, MOST_CLAUSES, "rule", "clauses")
    for thing in inside(data, MOST_THINGS, "things"):
        for layer in inside(thing, MOST_ON_IT, "cover", "layers"):
            inside(layer, MOST_CLAUSES, "rule", "clauses")
        for wear in inside(thing, MOST_WEAR_ON_IT, "cover", "wears"):
            inside(wear, MOST_CLAUSES, "rule", "clauses")
    inside(data, MOST_SET, "set_things")
    inside(data, MOST_WAVED, "waved")
    inside(data, MOST_REFERENCES, "references")
    for strew in inside(data, MOST_STREWS, "strews"):
        inside(strew, MOST_CLAUSES, "rule", "clauses")
        inside(strew, MOST_BY_HAND, "by_hand")
        inside(strew, MOST_BY_HAND, "added")
    for step in inside(data, MOST_STEPS, "ground", "steps"):
        inside(step, MOST_CLAUSES, "where")


def _with_parts_known(data: dict[str, Any], recipe: Recipe) -> Recipe:
    """Return the same recipe, its parts those read before where they are the same: what is kept for a part stays."""

    def known(part: P, of: object) -> P:
        found = _known_parts.get(digest.of_json([type(part).__name__, of]), lambda: part)
        return found if isinstance(found, type(part)) else part

    update: dict[str, object] = {
        "ground": known(recipe.ground, data["ground"]),
        "layers": tuple(map(known, recipe.layers, data.get("layers", ()))),
        "wears": tuple(map(known, recipe.wears, data.get("wears", ()))),
        "marks": known(recipe.marks, data.get("marks")),
        "things": tuple(map(known, recipe.things, data.get("things", ()))),
        "strews": tuple(map(known, recipe.strews, data.get("strews", ()))),
        "set_things": tuple(map(known, recipe.set_things, data.get("set_things", ()))),
    }
    return recipe.model_copy(update=update)


def part_from_data(kind: type[P], what: str, data: object) -> P:
    """Check a decoded JSON value as a part of a recipe, called ``what`` where it is refused; see :func:`read`."""
    return _proved(what, lambda: kind.model_validate_json(json.dumps(data, allow_nan=False)))


def put_together(kind: type[P], what: str, fields: Mapping[str, object]) -> P:
    """Check parts that were read before as one part of a recipe; they are not read again."""
    return _proved(what, lambda: kind.model_validate(fields))


def _proved(what: str, read: Callable[[], P]) -> P:
    try:
        return read()
    except ValidationError as error:
        raise _first_complaint(error) from None
    except ValueError as error:
        raise RefusalError(what, str(error), "finite numbers", "correct the value") from None


def ground_from_data(data: object) -> Ground:
    """Check a decoded JSON value as a ground.

    Raises
    ------
    RefusalError
        When it is not one, or has a value out of range.
    """
    return part_from_data(Ground, "ground", data)


def rule_from_data(data: object) -> Rule:
    """Check a decoded JSON value as a rule; see :func:`ground_from_data`."""
    return part_from_data(Rule, "rule", data)


def _first_complaint(error: ValidationError) -> RefusalError:
    first = error.errors(include_url=False)[0]
    where = ".".join(str(part) for part in first["loc"]) or "recipe"
    shown = repr(first.get("input"))
    found = shown if len(shown) <= 60 else shown[:57] + "..."
    return RefusalError(where, found, first["msg"][:1].lower() + first["msg"][1:], "correct the value")


def write(recipe: Recipe) -> str:
    """Write a recipe as JSON; :func:`read` gives the identical recipe back."""
    return recipe.model_dump_json()


def schema() -> dict[str, object]:
    """Return the JSON Schema of the recipe, as published in docs/ and turned into TypeScript types."""
    return published(Recipe)
