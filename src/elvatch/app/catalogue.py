"""All kinds that there are, for the page to learn from: what each is called, what its numbers may be, how it begins.

What depends on a ground comes with that ground's facts; see :class:`elvatch.core.ground.begin.Beginnings`.
"""

from __future__ import annotations

from typing import get_args

from annotated_types import MaxLen
from pydantic import BaseModel

from elvatch.app.clause_kinds import ClauseKind, clause_kinds
from elvatch.app.grounds import MeasureKind, measure_kinds
from elvatch.app.stills import StillAsk
from elvatch.core import blend
from elvatch.core.blend import BlendMode, Tinting
from elvatch.core.cover.on_thing import OWN_MATERIAL
from elvatch.core.document import (
    begin,
    begin_layer,
    begin_sheet,
    begin_strew,
    fit,
    layer,
    light,
    marks,
    recipe,
    rule,
    set_thing,
    strew,
    thing,
    water,
    wear,
)
from elvatch.core.document.fit import NearDetail
from elvatch.core.document.layer import Layer
from elvatch.core.document.rule import OnThing, Rule
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.sheet import VALUES, Encoding, Entry, Fine, MapsEntry, Slot, Tiling, ValueName
from elvatch.core.document.sheet_entry import (
    HEIGHT_LABELS,
    HEIGHT_TYPES,
    GroundEntry,
    HeightFormat,
    KitSize,
    MeshEntry,
    StillsEntry,
    ThingsEntry,
)
from elvatch.core.document.strew import Strew
from elvatch.core.document.thing import Covering, Thing
from elvatch.core.document.view_numbers import ViewNumbers
from elvatch.core.document.wear import AlongLevels, Effects
from elvatch.core.formats import written
from elvatch.core.formats.written import FormatName, SampleType
from elvatch.core.ground import description
from elvatch.core.ground.begin import Beginnings, beginnings
from elvatch.core.ground.clauses import MeasureClause
from elvatch.core.ground.step import Extent, StepBase, steps
from elvatch.core.ground.steps import brush
from elvatch.core.ground.steps.course import CoursePoint
from elvatch.core.ground.steps.form import Character
from elvatch.core.ground.steps.remap import RemapStep
from elvatch.core.ground.upright import Upright
from elvatch.core.handoff import encoding, file_names, values
from elvatch.core.handoff.listing import type_label
from elvatch.core.light import drawn_sky
from elvatch.core.light.drawn_sky import DrawnSky
from elvatch.core.mesh.forms import MESH_FORMS, MeshFormat
from elvatch.core.picture import modes, still
from elvatch.core.picture.modes import ModeKind
from elvatch.core.picture.still import PassName
from elvatch.core.results import result
from elvatch.core.shown import NumberField, numbers_of
from elvatch.core.stock import roles
from elvatch.core.stock.description import Category, Filed, MadeBy
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.roles import Meaning, Role
from elvatch.core.thing import kinds as kinds_of_things
from elvatch.core.thing import measures as measures_of_things
from elvatch.core.thing.brought import UNITS
from elvatch.core.thing.kinds import Family
from elvatch.core.thing.measures import ThingMeasure

_WHOLES = (
    ("kit", "Kit", "the layers themselves: tiled maps, weights, how each lies; MaterialX"),
    ("mesh", "Mesh", "the ground as triangles, with levels of detail and tiles"),
    ("ground", "Ground", "heights alone, with their true size"),
    ("stills", "Stills", "pictures of the site, of any size and with many rays"),
    ("things", "Things", "what is strewn: where each stands, their models, densities"),
    ("site", "Whole site", "all of it in one file, to be opened elsewhere"),
)
_NOMINAL = Extent(1000.0, 1000.0, 0.0, 100.0)
_NUMBERED: tuple[type[BaseModel], ...] = (
    description.FlatSource,
    Upright,
    brush.Stroke,
    CoursePoint,
    MeasureClause,
    rule.OnNoise,
    rule.OnPath,
    rule.OnNear,
    marks.DrawnPath,
    marks.Placing,
    marks.MaskStroke,
    fit.Repeats,
    fit.NearDetail,
    fit.Lie,
    fit.Fit,
    layer.Layer,
    layer.Edge,
    layer.Look,
    recipe.Stand,
    light.Light,
    light.Mist,
    light.When,
    light.ImageLight,
    water.Water,
    wear.Range,
    wear.AlongLevels,
    wear.AlongPath,
    wear.ByRelief,
    wear.Blend,
    wear.Colouring,
    wear.ReliefEffect,
    wear.Effects,
    wear.WearBody,
    Filed,
    MadeBy,
    ViewNumbers,
    StillAsk,
    Fine,
    Tiling,
    MapsEntry,
    Slot,
    MeshEntry,
    GroundEntry,
    StillsEntry,
    ThingsEntry,
    strew.Mixed,
    strew.Size,
    strew.Standing,
    strew.Clusters,
    strew.Looks,
    strew.Strew,
    strew.ByHand,
    thing.DrawnThing,
    set_thing.SetThing,
)


@result
class StepKind:
    """A kind of step: what it does, which numbers it has, what its switch "opposite" does, whether chance plays."""

    kind: str
    title: str
    about: str
    opposite: str
    seeded: bool
    numbers: list[NumberField]


@result
class RoleKind:
    """What a map of a set is for; whether it is a picture in colours."""

    role: Role
    title: str
    coloured: bool


@result
class MeaningKind:
    """What a file of a set can be taken for."""

    meaning: Meaning
    label: str


@result
class ValueKind:
    """A value that can be handed off: its title, a word about it, its unit, what says how it is stored, and how many
    channels it takes."""

    value: ValueName
    title: str
    about: str
    unit: str
    family: values.Family
    channels: int


@result
class FormatKind:
    """A format that files can have: the types of samples and the numbers of channels that it takes."""

    format: FormatName
    label: str
    types: tuple[SampleType, ...]
    channels: tuple[int, ...]


@result
class TypeKind:
    """A type of samples, and what it is called."""

    type: SampleType
    label: str


@result
class FieldKind:
    """A field of the pattern of a file's name, and what stands for it."""

    field: str
    about: str


@result
class BlendKind:
    """A way to change raw numbers, and what it does."""

    mode: BlendMode
    hint: str


@result
class TintingKind:
    """A way to change colours, and what it does."""

    mode: Tinting
    hint: str


@result
class PassKind:
    """What can be taken beside a still."""

    name: PassName
    about: str


@result
class WholeKind:
    """A kind of entry that is no maps: what it is called, what it writes, how it begins."""

    title: str
    about: str
    entry: Entry


@result
class MeshFormatKind:
    """A format of meshes, and what it can carry."""

    format: MeshFormat
    label: str
    values: bool
    textures: bool
    inside: bool
    ups: tuple[str, ...]


@result
class HeightFormatKind:
    """A format of heights, and the types of samples it holds."""

    format: HeightFormat
    label: str
    types: tuple[SampleType, ...]


@result
class DrawnSkyKind:
    """A panorama that is drawn by code."""

    kind: DrawnSky
    title: str


@result
class ThingKind:
    """A kind of thing that is drawn: its family, its controls, and how a thing and a strew of it begin."""

    what: str
    title: str
    family: Family
    controls: tuple[Control, ...]
    thing: Thing
    strew: Strew


@result
class ThingMeasureLine:
    """What rules of a thing's cover may ask of a place on it, and how a clause of it begins."""

    name: ThingMeasure
    title: str
    about: str
    unit: str
    least: float
    most: float
    step: float
    digits: int
    above: str
    below: str
    begins: OnThing


@result
class Most:
    """How many a list holds at most: clauses of a rule, places that limit a step, layers, wear and
    masks on a thing, things set by hand, things that a strew mixes, brushes of a strew, points of a curve over the
    soft ends and of one over heights."""

    clauses: int
    where: int
    on_thing: int
    wear_on_thing: int
    marks_on_thing: int
    set_things: int
    kinds: int
    touches: int
    soft_points: int
    height_points: int


def _most(model: type[BaseModel], field: str) -> int:
    """Return how many parts a field may hold, as the model says."""
    return next(one.max_length for one in model.model_fields[field].metadata if isinstance(one, MaxLen))


@result
class Catalogue:
    """All kinds, each family in the order in which it is offered."""

    steps: list[StepKind]
    characters: list[Character]
    measures: list[MeasureKind]
    clauses: list[ClauseKind]
    layer: Layer
    modes: tuple[ModeKind, ...]
    roles: list[RoleKind]
    categories: list[Category]
    meanings: list[MeaningKind]
    values: list[ValueKind]
    formats: list[FormatKind]
    types: list[TypeKind]
    encodings: tuple[Encoding, ...]
    entries: dict[str, MapsEntry]
    wholes: list[WholeKind]
    mesh_formats: list[MeshFormatKind]
    height_formats: list[HeightFormatKind]
    kit_sizes: tuple[KitSize, ...]
    fields: list[FieldKind]
    blends: list[BlendKind]
    tintings: list[TintingKind]
    passes: list[PassKind]
    drawn_skies: list[DrawnSkyKind]
    things: list[ThingKind]
    thing_measures: list[ThingMeasureLine]
    layer_on_thing: Layer
    own_material: str
    set_thing: SetThing
    model_units: list[str]
    effects: Effects
    levels: list[AlongLevels]
    levels_around_m: float
    detail: NearDetail
    numbers: dict[str, list[NumberField]]
    nominal: Beginnings
    most: Most


def _steps() -> list[StepKind]:
    return [
        StepKind(
            one.kind_name(), one.title, one.about, one.opposite_title, "seed" in one.model_fields, numbers_of(one)
        )
        for one in steps()
    ]


def _meanings() -> list[MeaningKind]:
    return [MeaningKind(one, roles.title(one) + (" (inverted)" if one == "gloss" else "")) for one in roles.MEANINGS]


def _map_values() -> list[ValueKind]:
    return [
        ValueKind(one.value, one.title, one.about, one.unit, one.family, one.channels)
        for one in values.KINDS.values()
    ]


def _mesh_formats() -> list[MeshFormatKind]:
    return [
        MeshFormatKind(one.name, one.label, one.values, one.textures, one.inside, one.ups)
        for one in MESH_FORMS.values()
    ]


def _things() -> list[ThingKind]:
    return [
        ThingKind(what, one.title, one.family, one.controls, begin_strew.thing(what), begin_strew.strew(what))
        for what, one in kinds_of_things.KINDS.items()
    ]


def _thing_measures() -> list[ThingMeasureLine]:
    return [
        ThingMeasureLine(
            name,
            one.title,
            one.about,
            one.unit,
            one.least,
            one.most,
            one.step,
            one.digits,
            one.above,
            one.below,
            begin_layer.on_thing(name),
        )
        for name, one in measures_of_things.KINDS.items()
    ]


def catalogue() -> Catalogue:
    """Return all kinds that there are."""
    return Catalogue(
        steps=_steps(),
        characters=list(get_args(Character)),
        measures=measure_kinds().measures,
        clauses=clause_kinds(),
        layer=begin_layer.layer(),
        modes=modes.KINDS,
        roles=[RoleKind(one, facts.title.capitalize(), facts.coloured) for one, facts in roles.FACTS.items()],
        categories=list(get_args(Category)),
        meanings=_meanings(),
        values=_map_values(),
        formats=[FormatKind(one.name, one.label, one.types, one.channels) for one in written.FORMS.values()],
        types=[TypeKind(one, type_label(one)) for one in get_args(SampleType)],
        encodings=encoding.ENCODINGS,
        entries={one: begin_sheet.begun(one) for one in VALUES if one != "share"},
        wholes=[WholeKind(title, about, begin_sheet.WHOLE[kind]) for kind, title, about in _WHOLES],
        mesh_formats=_mesh_formats(),
        height_formats=[HeightFormatKind(one, HEIGHT_LABELS[one], types) for one, types in HEIGHT_TYPES.items()],
        kit_sizes=get_args(KitSize),
        fields=[FieldKind(one, about) for one, about in file_names.FIELDS.items()],
        blends=[BlendKind(one, kind.hint) for one, kind in blend.MODES.items()],
        tintings=[TintingKind(one, kind.hint) for one, kind in blend.TINTINGS.items()],
        passes=[PassKind(one, about) for one, about in still.PASSES.items()],
        drawn_skies=[DrawnSkyKind(one, one.capitalize()) for one in drawn_sky.NAMES],
        things=_things(),
        thing_measures=_thing_measures(),
        layer_on_thing=begin_layer.layer_on_thing(),
        own_material=OWN_MATERIAL,
        set_thing=begin_strew.set_by_hand(),
        model_units=list(UNITS),
        effects=begin.EFFECTS,
        levels=begin.LEVELS,
        levels_around_m=begin.LEVELS_AROUND_M,
        detail=begin_layer.near_detail(1.0),
        numbers={model.__name__: numbers_of(model) for model in _NUMBERED},
        nominal=beginnings(_NOMINAL),
        most=Most(
            _most(Rule, "clauses"),
            _most(StepBase, "where"),
            _most(Covering, "layers"),
            _most(Covering, "wears"),
            _most(Covering, "masks"),
            _most(recipe.Recipe, "set_things"),
            _most(Strew, "kinds"),
            _most(Strew, "touches"),
            _most(MeasureClause, "curve"),
            _most(RemapStep, "curve"),
        ),
    )
