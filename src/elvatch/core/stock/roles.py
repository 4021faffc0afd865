"""What a map of a texture set is for, and how each kind is kept."""

from __future__ import annotations

from typing import Literal, NamedTuple, get_args

Role = Literal["colour", "normal", "roughness", "metallic", "occlusion", "height", "emission", "mask"]
ROLES: tuple[Role, ...] = get_args(Role)

Meaning = Literal[
    "colour",
    "normal",
    "roughness",
    "gloss",
    "metallic",
    "occlusion",
    "height",
    "emission",
    "mask",
    "packed-orm",
    "packed-rma",
    "packed-mra",
    "packed-orh",
    "left-out",
]
"""What a file from outside is taken for: a role, gloss, several roles packed in one, or nothing."""
MEANINGS: tuple[Meaning, ...] = get_args(Meaning)


class RoleFacts(NamedTuple):
    """A role's title, channels, the tail of its file name, what is assumed of a set without it, words that files of
    it are named by (case and joins do not count), and whether it is a picture in colours, kept as the eye sees."""

    title: str
    channels: int
    tail: str
    missing: float
    words: str
    coloured: bool = False


FACTS: dict[Role, RoleFacts] = {
    "colour": RoleFacts(
        "base colour",
        3,
        "basecolour",
        0.18,
        "albedo alb basecolor basecolour base color colour col colr diffuse diff dif difuse bc basemap colormap "
        "albedotransparency diffcol",
        coloured=True,
    ),
    "normal": RoleFacts(
        "normal",
        3,
        "normal",
        0.0,
        "normal normals nrm nor norm nrml nml normalgl normaldx normalmap normalopengl normaldirectx bumpnormal",
    ),
    "roughness": RoleFacts("roughness", 1, "roughness", 0.7, "roughness rough rgh roughnes rou"),
    "metallic": RoleFacts("metallic", 1, "metallic", 0.0, "metallic metalness metal met mtl metallicity metalic"),
    "occlusion": RoleFacts(
        "occlusion",
        1,
        "occlusion",
        1.0,
        "ao occlusion occ ambientocclusion ambocc aomap occl",
    ),
    "height": RoleFacts(
        "height",
        1,
        "height",
        0.5,
        "height heightmap displacement disp dis hgt bump displace dsp heights displ parallax",
    ),
    "emission": RoleFacts(
        "emission",
        3,
        "emission",
        0.0,
        "emission emissive emit emis emissivity emissioncolor emissivecolor selfillum selfillumination incandescence",
        coloured=True,
    ),
    "mask": RoleFacts("mask", 1, "mask", 0.0, "mask overlay msk imperfection imperfections"),
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


def coloured(meaning: Meaning) -> bool:
    """Return whether a file of this meaning is a picture in colours."""
    return any(FACTS[role].coloured for role in gives(meaning))


def title(meaning: Meaning) -> str:
    """Return a meaning in words."""
    if meaning == "left-out":
        return "left out"
    inside = packed(meaning)
    if inside:
        return "packed: " + ", ".join(FACTS[role].title for role in inside)
    return "gloss" if meaning == "gloss" else FACTS[gives(meaning)[0]].title
