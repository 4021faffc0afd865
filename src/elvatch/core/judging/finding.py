"""Findings: what is odd about a site, where, by which number, and what mends it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import NamedTuple, TypeVar

from elvatch.core import digest
from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import Recipe
from elvatch.core.parts import Part
from elvatch.core.results import result

Mend = Callable[[Recipe], Recipe]
P = TypeVar("P", bound=Part)


class FindingKind(NamedTuple):
    """A kind of finding: its title, and why it matters."""

    title: str
    why: str


KINDS: Mapping[str, FindingKind] = {
    "at-limits": FindingKind(
        "Samples at the limits",
        "Summits were cut off or hollows filled when the file was written: they are flat where the ground is not.",
    ),
    "few-levels": FindingKind("Few levels", "Slopes break into terraces, and whatever asks for slope sees them."),
    "covers-nothing": FindingKind("Covers nothing", "A layer that lies nowhere is work that nobody sees."),
    "gone": FindingKind(
        "Asks for what is gone", "A rule that asks for something that is gone lets nothing in there."
    ),
    "too-coarse": FindingKind("Too coarse for Near", "Its pixels are seen where one stands."),
    "too-fine": FindingKind("Finer than anybody sees", "Memory and time for pixels that no picture shows."),
    "scale": FindingKind(
        "Of another scale than its neighbour",
        "Stones twice as large as life beside stones half as large tell that neither is what it seems.",
    ),
    "hard-edge": FindingKind(
        "Ends in a line", "Grounds give way to each other over a stretch; a line reads as cut out with scissors."
    ),
    "repeats": FindingKind(
        "Repeats visibly", "The eye finds the same patch again and reads the tile, not the ground."
    ),
    "direction-turned": FindingKind(
        "Bedding turned about", "Courses and beds run one way; turned patch by patch they are crazy paving."
    ),
    "stretched": FindingKind("Drawn out", "A texture pulled over half as much ground again reads as a smear."),
    "feet": FindingKind("Feet in the relief", "Whoever walks on the plain ground wades or floats."),
    "relief-large": FindingKind(
        "Relief too large for its tile",
        "Forms as high as they are wide look like spikes, and cannot be held by a height field.",
    ),
    "wet": FindingKind("Reads as wet", "Roughness as low as this is what the eye takes for wetness."),
    "dark": FindingKind("Darker than materials are", "Hardly any ground reflects so little; light cannot lift it."),
    "bright": FindingKind(
        "Brighter than materials are", "Hardly any ground reflects so much; it burns out in the sun."
    ),
    "set": FindingKind("Of its set", "What is wrong with a set shows on every ground it lies on."),
    "wear-deep": FindingKind("Wear too strong", "Marks stand out instead of cutting in."),
    "floats": FindingKind("Floats", "A thing without ground under its foot is seen at once."),
    "ceiling": FindingKind("Over its ceiling", "Things are left out that the rule asks for."),
    "sheet": FindingKind("Cannot be written", "The hand-off will be refused as it stands."),
    "few-bits": FindingKind("Too few bits", "Heights step in the engine, however smooth they are here."),
    "finer-than-sets": FindingKind("Finer than the sets", "Texels between the pixels of the sets hold nothing new."),
    "many-layers": FindingKind(
        "More than four layers on a tile", "Most engines blend four: the weakest go missing there."
    ),
}


@result
class Finding:
    """One thing that is odd.

    ``id`` stays while the same thing is odd; ``about`` the id of the part that it is about, empty for the site;
    ``text`` what was found, with ``amount`` in ``unit``; ``mend`` what one step does about it, None where nothing
    can; ``waved`` the word with which it was waved through.
    """

    id: str
    kind: str
    title: str
    about: str
    name: str
    text: str
    why: str
    amount: float
    unit: str
    mend: str | None
    east_m: float | None
    north_m: float | None
    waved: str | None


class Mendable(NamedTuple):
    """A finding, and what mends it."""

    finding: Finding
    mend: Mend | None


def found(
    kind: str,
    part: tuple[str, str],
    text: str,
    amount: float,
    unit: str = "",
    mend: tuple[str, Mend] | None = None,
    place: tuple[float, float] | None = None,
) -> Mendable:
    """Return a finding.

    Parameters
    ----------
    kind : str
        Which of :data:`KINDS`.
    part : tuple of str
        Id and name of what it is about.
    text : str
        What was found.
    amount : float
        By which number.
    unit : str
        Its unit.
    mend : tuple, optional
        What is done about it in words, and what does it.
    place : tuple of float, optional
        Where it is worst, metres east and north.
    """
    east, north = place if place is not None else (None, None)
    what = KINDS[kind]
    return Mendable(
        Finding(
            digest.of_json([kind, part[0], text if kind in ("set", "sheet", "gone") else ""])[:16],
            kind,
            what.title,
            part[0],
            part[1],
            text,
            what.why,
            amount,
            unit,
            mend[0] if mend else None,
            east,
            north,
            None,
        ),
        mend[1] if mend else None,
    )


def changed(part: P, **fields: object) -> P:
    """Return a part with other fields, checked."""
    return type(part).model_validate(part.model_dump() | fields)


def in_layer(id: str, **fields: object) -> Mend:
    """Return what gives one layer of a recipe other fields; those of its fit and look as mappings of their own."""

    def change(layer: Layer) -> Layer:
        whole = layer.model_dump()
        for name, value in fields.items():
            whole[name] = whole[name] | value if isinstance(value, dict) else value
        return Layer.model_validate(whole)

    def mend(recipe: Recipe) -> Recipe:
        layers = tuple(change(layer) if layer.id == id else layer for layer in recipe.layers)
        return recipe.model_copy(update={"layers": layers})

    return mend
