"""What a hand changes of a recipe: places in it, and what is put there. Only what was touched is read again."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

from pydantic import BaseModel, Field

from elvatch.core.document.recipe import Recipe, from_data, part_from_data, put_together
from elvatch.core.parts import Part
from elvatch.core.refusal import RefusalError

MOST_PUTS = 400
_LISTS: tuple[tuple[str, ...], ...] = (("layers",), ("wears",), ("ground", "steps"))
"""Places that hold a list of parts, each of which may be read by itself."""


class Put(Part):
    """A place in a recipe, as names of fields and places in lists, and what is put there."""

    at: tuple[str | int, ...] = Field(min_length=1, max_length=16)
    put: Any = None


def changed(recipe: Recipe, puts: Sequence[Put]) -> Recipe:
    """Return a recipe with some of its places changed; parts that were not touched stay the same objects.

    Parameters
    ----------
    recipe : Recipe
        What is changed.
    puts : sequence of Put
        In their order.

    Raises
    ------
    RefusalError
        When there is no such place, or what is put there does not fit.

    Examples
    --------
    >>> from elvatch.core.document.recipe import Peg
    >>> from elvatch.core.ground.description import FlatSource, Ground
    >>> site = Recipe(ground=Ground(width_m=9, depth_m=9, source=FlatSource()), peg=Peg(east_m=1, north_m=2))
    >>> turned = changed(site, [Put(at=("stands", "far", "bearing_deg"), put=90)])
    >>> turned.stands.far.bearing_deg, turned.ground is site.ground
    (90.0, True)
    """
    try:
        return _changed(recipe, puts)
    except RecursionError:
        raise RefusalError("recipe", "values nested without end", "a recipe", "send a whole recipe") from None


def _changed(recipe: Recipe, puts: Sequence[Put]) -> Recipe:
    touched: dict[tuple[str | int, ...], list[Put]] = {}
    apart = [found for found in _LISTS if not any(one.at == found for one in puts)]
    for one in puts:
        touched.setdefault(_part_of(one, apart), []).append(one)
    update: dict[str, Any] = {}
    for place, some in touched.items():
        field = str(place[0])
        held: Any = update.get(field, getattr(recipe, field, None))
        if len(place) > 1:
            held = _in_list(held, place[1:], some, len(place))
        elif isinstance(held, tuple) and [(one.at, one.put) for one in some] == [((field,), [])]:
            held = ()  # as rooms ask that show a bare ground
        elif isinstance(held, BaseModel) and all(len(one.at) > 1 for one in some):
            held = _with(held, some, 1)
        else:
            # a whole field takes the place of another: all of it is read anew
            return from_data(_put(json.loads(recipe.model_dump_json()), puts))
        update[field] = held
    whole = recipe.model_copy(update=update)
    try:
        whole.check()
    except ValueError as error:
        raise RefusalError("recipe", str(error), "a recipe that fits together", "correct the value") from None
    return whole


def _part_of(one: Put, lists: Sequence[tuple[str, ...]]) -> tuple[str | int, ...]:
    """Return the smallest part of a recipe that can be read by itself and holds a place."""
    for found in lists:
        if one.at[: len(found)] == found and len(one.at) > len(found) + 1:
            return one.at[: len(found) + 1]
    return one.at[:1]


def _in_list(held: Any, place: Sequence[str | int], puts: Sequence[Put], depth: int) -> Any:
    """Return a list with one of its parts changed, or a part that has such a list and still fits together."""
    if len(place) == 1:
        at = _index(held, place[0])
        return (*held[:at], _with(held[at], puts, depth), *held[at + 1 :])
    name = str(place[0])
    inside = _in_list(getattr(held, name), place[1:], puts, depth)
    kept = {field: getattr(held, field) for field in type(held).model_fields}
    return put_together(type(held), "recipe", kept | {name: inside})


def _index(held: Any, at: str | int) -> int:
    if not isinstance(held, tuple) or not isinstance(at, int) or not 0 <= at < len(held):
        raise _nowhere(at)
    return at


def _with(part: Any, puts: Sequence[Put], depth: int) -> Any:
    """Return a part with places changed; the first ``depth`` names of each lead to the part."""
    data = _put(json.loads(part.model_dump_json()), [Put(at=one.at[depth:], put=one.put) for one in puts])
    return part_from_data(type(part), "recipe", data)


def _put(data: Any, puts: Sequence[Put]) -> Any:
    """Change places of a decoded JSON value; what is put there is copied, so that later puts leave it alone."""
    for one in puts:
        inside = data
        for name in one.at[:-1]:
            inside = _inside(inside, name)
        last = one.at[-1]
        _inside(inside, last)
        inside[last] = json.loads(json.dumps(one.put))
    return data


def _inside(held: Any, name: str | int) -> Any:
    if isinstance(held, dict) and isinstance(name, str) and name in held:
        return held[name]
    if isinstance(held, list) and isinstance(name, int) and 0 <= name < len(held):
        return held[name]
    raise _nowhere(name)


def _nowhere(name: object) -> RefusalError:
    return RefusalError("recipe", f"no place {str(name)[:40]!r}", "a place that it has", "send the whole recipe")
