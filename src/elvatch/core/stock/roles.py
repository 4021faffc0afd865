"""What a map of a texture set is for, and how each kind is kept."""

from __future__ import annotations

from typing import Literal, NamedTuple, get_args

Role = Literal["colour", "normal", "roughness", "metallic", "occlusion", "height", "mask"]
ROLES: tuple[Role, ...] = get_args(Role)

Meaning = Literal[
    "colour", "normal", "roughness", "gloss", "metallic", "occlusion", "height", "mask",
    "packed-orm", "packed-rma", "packed-mra", "packed-orh", "left-out",
]  # fmt: skip
"""What a file from outside is taken for: a role, gloss, several roles packed in one, or nothing."""
MEANINGS: tuple[Meaning, ...] = get_args(Meaning)


class RoleFacts(NamedTuple):
    """A role's title, channels, the tail of its file name, and what is assumed of a set without it."""

    title: str
    channels: int
    tail: str
    missing: float


FACTS: dict[Role, RoleFacts] = {
    "colour": RoleFacts("base colour", 3, "basecolour", 0.18),
    "normal": RoleFacts("normal", 3, "normal", 0.0),
    "roughness": RoleFacts("roughness", 1, "roughness", 0.7),
    "metallic": RoleFacts("metallic", 1, "metallic", 0.0),
    "occlusion": RoleFacts("occlusion", 1, "occlusion", 1.0),
    "height": RoleFacts("height", 1, "height", 0.5),
    "mask": RoleFacts("mask", 1, "mask", 0.0),
}

_LETTERS: dict[str, Role] = {"o": "occlusion", "a": "occlusion", "r": "roughness", "m": "metallic", "h": "height"}


def packed(meaning: Meaning) -> tuple[Role, ...]:
    """Return the roles of a packed file's channels in order; empty for any other meaning."""
    return tuple(_LETTERS[letter] for letter in meaning[7:]) if meaning.startswith("packed-") else ()


def gives(meaning: Meaning) -> tuple[Role, ...]:
    """Return the roles that a file of this meaning fills."""
    if meaning == "left-out":
        return ()
    return packed(meaning) or (("roughness",) if meaning == "gloss" else (meaning,))  # type: ignore[return-value]


def title(meaning: Meaning) -> str:
    """Return a meaning in words."""
    if meaning == "left-out":
        return "left out"
    inside = packed(meaning)
    if inside:
        return "packed " + ", ".join(FACTS[role].title for role in inside)
    return "gloss" if meaning == "gloss" else FACTS[gives(meaning)[0]].title
