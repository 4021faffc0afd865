"""What all clauses of rules have in common. A kind of clause is declared once, as a class of its own.

The schema, the sentence, the menu and the panel of the page follow from it; what compiled code reads for it is said
by a reader (:class:`elvatch.core.rules.program.Builder`).
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, NamedTuple, Self, get_args

from pydantic import Field

from elvatch.core.ground.begin import NEW_ID
from elvatch.core.parts import Part
from elvatch.core.shown import Shown

Join = Literal["and", "or", "except", "add", "break-up"]
Reads = Literal["measure", "value", "distance", "place on a thing", "edge", "clauses"]
"""What is limited: a measure in its unit; a value from 0 to 1; metres; what places on things are like; nothing,
for it has an edge of its own; other clauses."""
Where = Literal["mask", "path", "image", "layer", "strew", "thing"]
Group = Literal["hand", "image", "near", "layer", ""]
CALLED = "new"


class Referred(NamedTuple):
    """What a clause refers to: the kind of part, its id, and what it was called when it was chosen."""

    where: Where
    id: str
    called: str


class ClauseBase(Part):
    """A clause of a rule, and how it is joined to those before it."""

    title: ClassVar[str]
    about: ClassVar[str]
    phrase: ClassVar[str]
    """Its words; fields stand in braces, and what opens all the rest of it in brackets."""
    reads: ClassVar[Reads]
    group: ClassVar[Group] = ""
    """Of the menu, where it is offered for each part that it may refer to."""
    offer: ClassVar[str] = "{called}"
    """What it is called there."""
    short: ClassVar[str] = "{called}"
    """What it is called in labels and in the history."""
    id_field: ClassVar[str] = ""
    refers: ClassVar[tuple[Where, ...]] = ()
    """The field that holds the id of what it refers to, and what that may be."""
    where_field: ClassVar[str] = ""
    """The field that says which of several it is."""
    drawn: ClassVar[bool] = False
    """Whether what it reads was drawn or brought: a rule may be found that says the same."""
    breaks_up: ClassVar[bool] = True
    """Whether it may move the edges of others."""

    join: Join = "and"
    strength: Annotated[float, Shown("Strength", "", 0, 4, 0.05, 2, pixel=0.01)] = Field(
        default=0.5, ge=0, le=4, description="As break-up: how far edges move, in widths of their soft ends"
    )
    if TYPE_CHECKING:
        opposite: bool = False

    @classmethod
    def __pydantic_init_subclass__(cls, **kwargs: Any) -> None:
        super().__pydantic_init_subclass__(**kwargs)
        if "kind" not in cls.model_fields:
            return
        for needed in ("title", "about", "phrase", "reads"):
            if not hasattr(cls, needed):
                raise TypeError(f"{cls.__name__} lacks {needed}")
        named = {cls.id_field, "called"} <= {*cls.model_fields} and (len(cls.refers) == 1) == (not cls.where_field)
        if (cls.id_field != "") != bool(cls.refers) or (cls.refers and not named):
            raise TypeError(f"{cls.__name__} does not say what it refers to by which field, or what that is called")
        _KINDS.append(cls)

    @classmethod
    def kind_name(cls) -> str:
        """Return what tells it from other clauses in a recipe."""
        kind: str = get_args(cls.model_fields["kind"].annotation)[0]
        return kind

    @classmethod
    def begun(cls) -> Self:
        """Return a new clause; whoever adds it says what it refers to."""
        return cls.model_validate({cls.id_field: NEW_ID, "called": CALLED} if cls.id_field else {})

    def said(self) -> str:
        """Return its words, without what joins it and whether it is turned round."""
        return self.phrase.replace("[", "").replace("]", "").format_map(dict(self))

    def reference(self) -> Referred | None:
        """Return what it refers to; None where to nothing."""
        if not self.refers:
            return None
        fields: dict[str, Any] = dict(self)
        where = fields[self.where_field] if self.where_field else self.refers[0]
        return Referred(where, fields[self.id_field], fields["called"])

    def pointed_at(self, id: str) -> Self:
        """Return the same clause about another part."""
        return self.model_copy(update={self.id_field: id})


_KINDS: list[type[ClauseBase]] = []


def kinds() -> tuple[type[ClauseBase], ...]:
    """Return all kinds of clauses that there are."""
    return tuple(_KINDS)


def number_words(value: float, unit: str) -> str:
    """Return a number with its unit as sentences have it."""
    return f"{value:.6g}{'' if unit == '°' else ' '}{unit}"
