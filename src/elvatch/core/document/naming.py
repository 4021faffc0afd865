"""Giving a part of a site another name, wherever it is spoken of: rules at all depths, wears, paths followed."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import Bracket, Clause, Rule, refers_to
from elvatch.core.document.thing import Thing
from elvatch.core.document.wear import AlongPath, Wear
from elvatch.core.parts import Part
from elvatch.core.refusal import RefusalError

P = TypeVar("P", bound=Part)


def renamed(recipe: Recipe, id: str, name: str) -> Recipe:
    """Return a recipe in which a layer, wear, mask, path or image, also of a thing, a strew or a set thing is called
    otherwise.

    Parameters
    ----------
    recipe : Recipe
        The site's.
    id : str
        Of the part; what refers to it is known by this, never by its name.
    name : str
        1 to 80 characters; spaces are evened out.

    Raises
    ------
    RefusalError
        When there is no such part, or the name is empty or too long.
    """
    plain, marks = _plain(name), recipe.marks
    on_things = [id for one in recipe.things for id in one.cover.mark_ids()]
    cover = {*(one.id for one in recipe.all_layers()), *(one.id for one in recipe.all_wears())}
    standing = {*(one.id for one in recipe.strews), *(one.id for one in recipe.set_things)}
    if id not in {*cover, *marks.ids(), *on_things, *standing}:
        raise RefusalError("name", f"nothing with the id {id[:40]!r}", "a part of this site", "choose another")

    def own(part: P) -> P:
        return part.model_copy(update={"name": plain}) if getattr(part, "id", None) == id else part

    def clause(one: Clause) -> Clause:
        if isinstance(one, Bracket):
            return _changed(one, clauses=tuple(map(clause, one.clauses)))
        return _changed(one, called=plain) if refers_to(one) == id else one

    def rule(one: Rule) -> Rule:
        return _changed(one, clauses=tuple(map(clause, one.clauses)))

    def wear(one: Wear) -> Wear:
        follows = one.follows
        if isinstance(follows, AlongPath) and follows.path == id:
            follows = _changed(follows, called=plain)
        return own(_changed(one, rule=rule(one.rule), follows=follows))

    def column(layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
        return tuple(own(_changed(layer, rule=rule(layer.rule))) for layer in layers)

    def thing(one: Thing) -> Thing:
        cover = _marked(one.cover, own)
        return _changed(one, cover=_changed(cover, layers=column(cover.layers), wears=tuple(map(wear, cover.wears))))

    return recipe.model_copy(
        update={
            "layers": column(recipe.layers),
            "things": tuple(map(thing, recipe.things)),
            "wears": tuple(map(wear, recipe.wears)),
            "strews": tuple(own(_changed(strew, rule=rule(strew.rule))) for strew in recipe.strews),
            "set_things": tuple(map(own, recipe.set_things)),
            "kept_rules": tuple(_changed(kept, rule=rule(kept.rule)) for kept in recipe.kept_rules),
            "marks": _changed(_marked(marks, own), paths=tuple(map(own, marks.paths))),
        }
    )


def _marked(of: P, change: Callable[[Part], Part]) -> P:
    """Return marks of a ground or a thing with their masks and images changed."""
    kinds = ("masks", "images")
    return _changed(of, **{kind: tuple(map(change, getattr(of, kind))) for kind in kinds})


def _plain(name: str) -> str:
    plain = " ".join(name.split())
    if not 1 <= len(plain) <= 80:
        raise RefusalError("name", f"{len(plain)} characters", "1 to 80", "enter a shorter or longer name")
    return plain


def _changed(part: P, **fields: object) -> P:
    """Return a part with other fields; the same part when they are the same, so that what is kept for it stays."""
    same = all(getattr(part, name) == value for name, value in fields.items())
    return part if same else part.model_copy(update=fields)
