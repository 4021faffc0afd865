"""The recipe: one document that says everything about a site.

Lengths are metres, angles degrees, shares 0..1; every name carries its unit. Layers are listed
from the bottom of the column to its top. Files and texture sets are named by their content.
"""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal, Self, TypeVar

from pydantic import Field, ValidationError, model_validator

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.document import begin_sheet
from elvatch.core.document.fit import LEAST_TILE_M, MOST_TILE_M, Fit
from elvatch.core.document.light import Light
from elvatch.core.document.marks import Marks
from elvatch.core.document.rule import MOST_CLAUSES, KeptRule, OnLayer, Rule, singles
from elvatch.core.document.sheet import MOST_ENTRIES, MOST_SHEETS, Sheet
from elvatch.core.document.upgrade import upgraded
from elvatch.core.document.water import Water
from elvatch.core.document.wear import MOST_WEARS, Wear
from elvatch.core.ground.description import MOST_STEPS, Ground
from elvatch.core.parts import Bearing, ContentName, Name, Part, PartId, Share, published
from elvatch.core.refusal import RefusalError
from elvatch.core.shown import Shown, share

P = TypeVar("P", bound=Part)
FORMAT = "elvatch-recipe"
VERSION = 8
MOST_LAYERS = 64
MOST_SHOTS = 64
MOST_MASK_SAMPLES = 400_000
"""Along the longer side: a table of what is painted must stay small."""


class Edge(Part):
    """How a layer meets what lies below it."""

    kind: Literal["fade", "height"] = "height"
    width_m: Annotated[
        float,
        Shown(
            "Edge width", "m", 0, 0.5, 0.002, 3, hint="Height difference over which the higher one wins", pixel=0.002
        ),
    ] = Field(default=0.02, ge=0, le=10, description="Height over which the higher one wins")
    fingers: Annotated[
        Share, share("Fingers", "How far the soft end of its rule breaks up into fingers and islands")
    ] = Field(default=0.0, description="How far the soft end of its rule breaks up into fingers and islands")
    fingers_m: Annotated[float, Shown("…size", "m", 0.1, 100, 0.1, 1, True, "Across a usual finger")] = Field(
        default=3.0, ge=0.05, le=5_000, description="Across a usual finger"
    )
    strip_set: ContentName | None = Field(
        default=None,
        description="What lies along its boundary, as bare soil or litter does; None: nothing of its own",
    )
    strip: Annotated[Share, share("Strip", "How much of the soft end the strip along its boundary takes")] = Field(
        default=0.25, description="How much of the soft end the strip along its boundary takes"
    )
    strip_tile_m: Annotated[float, Shown("…tile", "m", 0.25, 20, 0.05, 2, True)] = Field(
        default=2.0, ge=LEAST_TILE_M, le=MOST_TILE_M, description="Across a repeat of the strip's set"
    )


class Look(Part):
    """Adjustments of a layer's material; the defaults leave the set as it is."""

    brightness: Annotated[float, Shown("Brightness", "×", 0.1, 4, 0.01, 2, decades=True)] = Field(
        default=1.0, ge=0.1, le=4, description="Factor on base colour"
    )
    hue_deg: Annotated[
        float, Shown("Colour turn", "°", -180, 180, 1, hint="Turns its colour round the colour wheel")
    ] = Field(default=0.0, ge=-180, le=180, description="Turn of the colour wheel")
    saturation: Annotated[float, Shown("Saturation", "×", 0, 3, 0.01, 2, hint="0 is grey")] = Field(
        default=1.0, ge=0, le=3, description="0 is grey, 1 as it is"
    )
    colour_lowest: Annotated[Share, share("Darkest", "Lightness that black becomes: lifts its shadows")] = Field(
        default=0.0, description="Lightness (encoded) that black becomes"
    )
    colour_highest: Annotated[Share, share("Lightest", "Lightness that white becomes")] = Field(
        default=1.0, description="Lightness (encoded) that white becomes"
    )
    roughness_shift: Annotated[float, Shown("Roughness", "", -1, 1, 0.01, 2, hint="Added to the set's roughness")] = (
        Field(default=0.0, ge=-1, le=1)
    )
    roughness_lowest: Annotated[Share, share("Rough from", "What roughness 0 becomes")] = Field(
        default=0.0, description="What roughness 0 becomes, before the shift"
    )
    roughness_highest: Annotated[Share, share("Rough to", "What roughness 1 becomes")] = Field(
        default=1.0, description="What roughness 1 becomes, before the shift"
    )
    normal_strength: Annotated[float, Shown("Normal", "×", 0, 4, 0.05, 2)] = Field(default=1.0, ge=0, le=4)
    occlusion: Annotated[Share, share("Occlusion")] = 1.0
    emits: bool = Field(default=True, description="Whether what its set sends out by itself is seen")
    emission_ev: Annotated[
        float, Shown("Emission", "EV", -8, 8, 0.1, 1, hint="At 0 its white is as bright as white ground at noon")
    ] = Field(default=0.0, ge=-8, le=8, description="Brightness of its set's emission, 0 is white ground at noon")
    variation: Annotated[float, share("Variation", "Slow change of brightness over the ground")] = Field(
        default=0.12, ge=0, le=1, description="Slow change of brightness over the ground"
    )
    variation_colour: Annotated[Share, share("…of colour", "Slow change of warmth over the ground")] = Field(
        default=0.0, description="Slow change of warmth and saturation over the ground"
    )
    variation_offset: Annotated[
        Share, share("…of tiles", "Slow drift of the tiles, in tiles: repeats fall out of step")
    ] = Field(default=0.0, description="Slow drift of the tiles, in tiles")
    variation_size_m: Annotated[
        float, Shown("…every", "m", 0.5, 2000, 0.5, 1, True, "Distance over which they vary", 0.5)
    ] = Field(default=45.0, ge=0.5, le=5_000)
    ground_image: Annotated[
        Share, share("Ground image", "How far its colour is that of the image over the ground")
    ] = Field(default=0.0, description="How far its colour is that of the image over the ground")


class Layer(Part):
    """A texture set, laid where its rule allows."""

    id: PartId
    name: Name
    set: ContentName
    group: str = Field(default="", max_length=80, description="Name of the group it stands in; '' is none")
    on: bool = True
    opacity: Annotated[Share, share("Opacity")] = 1.0
    rule: Rule = Rule()
    fit: Fit = Fit()
    edge: Edge = Edge()
    look: Look = Look()

    def sets(self) -> tuple[ContentName, ContentName, ContentName]:
        """Return its own set, that of its steep planes and that of its near detail; its own where it has no other."""
        detail = self.fit.detail.set if self.fit.detail else None
        return self.set, self.fit.steep_set or self.set, detail or self.set

    def uses(self) -> tuple[ContentName, ...]:
        """Return every set that it is made of: :meth:`sets`, and that of the strip along its boundary."""
        return (*self.sets(), self.edge.strip_set) if self.edge.strip_set else self.sets()


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


class Recipe(Part):
    """A site's whole description."""

    format: Literal["elvatch-recipe"] = "elvatch-recipe"
    version: Literal[8] = 8
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
    sheets: tuple[Sheet, ...] = Field(default_factory=lambda: begin_sheet.READY, max_length=MOST_SHEETS)

    @model_validator(mode="after")
    def _consistent(self) -> Self:
        self.check()
        return self

    def check(self) -> None:
        """Raise a ValueError where its parts do not fit together."""
        ids = [layer.id for layer in self.layers]
        if len(set(ids)) != len(ids):
            raise ValueError("two layers have the same id")
        if len({*ids, *(wear.id for wear in self.wears)}) != len(ids) + len(self.wears):
            raise ValueError("a wear has the id of another or of a layer")
        if len({sheet.id for sheet in self.sheets}) != len(self.sheets):
            raise ValueError("two sheets have the same id")
        if self.peg.east_m > self.ground.width_m or self.peg.north_m > self.ground.depth_m:
            raise ValueError("the peg stands outside the ground")
        _no_circle(self.layers)
        longest = max(self.ground.width_m, self.ground.depth_m)
        for mask in self.marks.masks:
            if longest / mask.sample_m > MOST_MASK_SAMPLES:
                raise ValueError(f"samples of {mask.sample_m:g} m are too fine for a mask of {longest:g} m")

    def files(self) -> list[str]:
        """Return the content names of all files it needs, each once."""
        lights = [self.light, *(shot.light for shot in self.shots if shot.light)]
        lit = [name for light in lights for name in light.files()]
        return list(dict.fromkeys([*self.ground.files(), *self.marks.files(), *lit]))

    def using(self, texture_set: ContentName) -> list[Name]:
        """Return the names of the layers and wears that use a texture set."""
        layers = [layer.name for layer in self.layers if texture_set in layer.uses()]
        return [*layers, *(wear.name for wear in self.wears if texture_set in wear.sets())]

    def sets(self) -> list[ContentName]:
        """Return the names of all texture sets it needs, each once, in order."""
        layers = [name for layer in self.layers for name in layer.uses()]
        return sorted({*layers, *(name for wear in self.wears for name in wear.sets())})


def _asks(layers: tuple[Layer, ...]) -> dict[str, list[str]]:
    """Return which layers the rule of each asks for."""
    return {
        layer.id: [clause.layer for clause in singles(layer.rule) if isinstance(clause, OnLayer)] for layer in layers
    }


def _no_circle(layers: tuple[Layer, ...]) -> None:
    """Refuse rules that ask for each other in a circle."""
    asks = _asks(layers)
    names = {layer.id: layer.name for layer in layers}
    clear: set[str] = set()

    def visit(one: str, above: tuple[str, ...]) -> None:
        if one in above:
            circle = ", ".join(names[id] for id in (*above[above.index(one) :], one))
            raise ValueError(f"the rules of these layers ask for each other in a circle: {circle}")
        if one in asks and one not in clear:
            for other in asks[one]:
                visit(other, (*above, one))
            clear.add(one)

    for layer in layers:
        visit(layer.id, ())


def askable(layers: tuple[Layer, ...], of: str) -> list[str]:
    """Return the ids of layers whose presence the rule of one may ask for without asking for itself in the end."""
    asks = _asks(layers)

    def reaches(one: str, seen: set[str]) -> bool:
        if one == of:
            return True
        new = one not in seen
        seen.add(one)
        return new and any(reaches(other, seen) for other in asks.get(one, ()))

    return [layer.id for layer in layers if not reaches(layer.id, set())]


_read = Cache[Recipe](8)
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
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise RefusalError("recipe", f"text that is not JSON ({error})", "a recipe", "send a whole recipe") from None
    return from_data(data)


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
    }
    return recipe.model_copy(update=update)


def part_from_data(kind: type[P], what: str, data: object) -> P:
    """Check a decoded JSON value as a part of a recipe, called ``what`` where it is refused; see :func:`read`."""
    try:
        return kind.model_validate_json(json.dumps(data, allow_nan=False))
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
