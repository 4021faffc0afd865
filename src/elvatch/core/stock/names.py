"""What the name of a file says: which set it belongs to, which map of it, how large, which way up."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass
from pathlib import PurePosixPath
from typing import Literal

from elvatch.core.stock.roles import FACTS, Meaning

# words that stand for a map wherever they are, and letters that do so only at the end
_WORDS: dict[Meaning, str] = {
    **{role: facts.words for role, facts in FACTS.items()},
    "gloss": "gloss glossiness glossy smoothness smooth gls",
    "packed-orm": "orm arm aorm occlusionroughnessmetallic aoroughmetal ao_rough_metal occlusion_roughness_metallic",
    "packed-rma": "rma roughmetalao roughnessmetallicao",
    "packed-mra": "mra mrao metalroughao metallicroughnessao",
    "packed-orh": "orh ord arh ard aoroughheight",
    "left-out": "preview thumb thumbnail render sphere cube opacity alpha specular spec "
    "translucency subsurface sss edge id cavity curvature fuzz transmission readme license licence",
}
_LETTERS: dict[str, Meaning] = {
    "d": "colour",
    "c": "colour",
    "a": "colour",
    "b": "colour",
    "n": "normal",
    "r": "roughness",
    "g": "gloss",
    "m": "metallic",
    "o": "occlusion",
    "h": "height",
}
_WORD_OF = {word.replace("_", ""): meaning for meaning, words in _WORDS.items() for word in words.split()}
_LONGEST = 4
"""Most pieces of a name that are read together as one word."""

_SIZE = re.compile(r"(\d{1,2})k|(\d{2,5})px|(\d{3,5})x(\d{3,5})|(256|512|1024|2048|4096|8192)")
_METRES = re.compile(
    r"(\d+(?:\.\d+)?)(mm|cm|m)|(\d+(?:\.\d+)?)(?:x\d+(?:\.\d+)?)(mm|cm|m)|(\d+(?:\.\d+)?)(meters?|metres?)"
)
_NOISE = re.compile(
    r"v(er|ersion)?\d+|rev\d*|final|copy|\d*bits?|\d+b|png|jpe?g|tiff?|exr|webp|tga|maps?|tex|textures?|texs?|"
    r"tx|t|mat|material|var\d*|variation\d*|srgb|linear|raw|seamless|tileable|tiling|pbr|lod\d+|1001|hi|hires|lowres|"
    r"half|float|sq|px|lin|nc|noncolou?r|utility"
)
_UP, _DOWN = {"gl", "opengl", "ogl", "yup", "yplus"}, {"dx", "directx", "d3d", "ydown", "yminus", "ydn"}
_TRAILERS = {"metalness", "specular", "metallic", "gloss"}

Green = Literal["up", "down"]


@dataclass(frozen=True)
class NameFacts:
    """What a name says.

    ``key`` tells sets apart (lower case, without what concerns the one map); ``title`` is the same
    for people. ``word`` is the piece the meaning was read from, '' when there is none; ``sure`` is
    less for a single letter. ``tile_m`` and ``green`` are None where the name does not say.
    """

    key: str
    title: str
    meaning: Meaning | None
    word: str
    sure: float
    green: Green | None
    size_px: int | None
    tile_m: float | None


@dataclass(eq=False)
class _Token:
    text: str
    kind: str = "name"
    meaning: Meaning | None = None
    span: int = 1


def _pieces(stem: str) -> list[str]:
    """Cut a name at signs, at a capital after a small letter, and before a run of capitals' last one."""
    plain = unicodedata.normalize("NFC", stem)
    plain = re.sub(r"(?<=\d)[.,](?=\d+(mm|cm|m)(?![A-Za-z0-9]))", "·", plain, flags=re.I)
    plain = re.sub(r"(?<=[A-WYZa-wyz])(?=\d+(\.\d+)?(k|px|mm|cm|m)(?![a-z0-9]))", " ", plain, flags=re.I)
    plain = re.sub(r"(?<=[a-z])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z]{2})", " ", plain)
    return [piece.replace("·", ".") for piece in re.split(r"[\s_\-.,()\[\]{}+&#@!']+", plain) if piece]


def _meaning(word: str, span: int) -> Meaning | None:
    found = _WORD_OF.get(word)
    if found is None and span == 1 and len(word) > 3:
        found = _WORD_OF.get(word.rstrip("0123456789"))
    return found


def _read(pieces: list[str]) -> list[_Token]:
    """Name the kind of each piece; longer words win over shorter ones inside them."""
    tokens: list[_Token] = []
    at = 0
    while at < len(pieces):
        for span in range(min(_LONGEST, len(pieces) - at), 0, -1):
            text = "".join(pieces[at : at + span]).lower()
            meaning = _meaning(text, span)
            if meaning and (span == 1 or all(len(piece) > 1 for piece in pieces[at : at + span])):
                tokens.append(_Token(" ".join(pieces[at : at + span]), "role", meaning, span))
                break
        else:
            tokens.append(_Token(pieces[at], _plain_kind(pieces[at].lower())))
            span = 1
        at += span
    return tokens


def _plain_kind(text: str) -> str:
    if text in _UP | _DOWN:
        return "green"
    if _SIZE.fullmatch(text):
        return "size"
    if _METRES.fullmatch(text):
        return "metres"
    return "noise" if _NOISE.fullmatch(text) else "name"


def _choose(tokens: list[_Token], alone: bool) -> _Token | None:
    """Return the token that says which map it is: the last word, a last letter, or one before a trailer.

    ``alone`` lets a name be nothing but a letter, when a folder names the set.
    """
    said = [token for token in tokens if token.kind in ("role", "name")]
    if not said:
        return None
    last = said[-1]
    if last.kind == "name":
        if len(last.text) == 1 and last.text.lower() in _LETTERS and (len(said) > 1 or alone):
            last.kind, last.meaning = "role", _LETTERS[last.text.lower()]
            return last
        # a word for a map inside the name counts when it is the only one and a word of the trade, not of the ground
        words = [t for t in said if t.kind == "role" and t.text.lower() not in _ALSO_GROUND]
        return words[-1] if words else None
    before = [token for token in said[:-1] if token.kind == "role" and token.text.lower() not in _ALSO_GROUND]
    if last.text.lower() in _TRAILERS and before:
        between = tokens[tokens.index(before[-1]) + 1 : tokens.index(last)]
        if any(token.kind == "size" for token in between):
            last.kind = "noise"
            return before[-1]
    return last


_ALSO_GROUND = {
    "rough",
    "metal",
    "smooth",
    "base",
    "color",
    "colour",
    "glossy",
    "edge",
    "mask",
    "cube",
    "sphere",
    "met",
    "bump",
    "rou",
    "dis",
}
"""Words that a name may well hold as part of what the material is."""


def _metres(tokens: list[_Token]) -> float | None:
    for token in tokens:
        if token.kind == "metres":
            number, unit = re.match(r"([\d.]+).*?(mm|cm|m)", token.text.lower()).groups()  # type: ignore[union-attr]
            value = float(number) * {"mm": 0.001, "cm": 0.01, "m": 1.0}[unit]
            if 0.02 <= value <= 200:
                return value
    return None


def _size(tokens: list[_Token]) -> int | None:
    for token in tokens:
        if token.kind == "size":
            kilo, pixels, wide, _, plain = _SIZE.fullmatch(token.text.lower()).groups()  # type: ignore[union-attr]
            return int(kilo) * 1024 if kilo else int(pixels or wide or plain)
    return None


def read(path: str) -> NameFacts:
    """Read a file's name, and the folder it lies in where the name alone does not say.

    Parameters
    ----------
    path : str
        Relative, with forward slashes; used as text only.

    Examples
    --------
    >>> facts = read("slate/Slate_Scree_03_2K_NormalDX.png")
    >>> facts.meaning, facts.green, facts.key, facts.size_px
    ('normal', 'down', 'slate scree 03', 2048)
    """
    pure = PurePosixPath(path)
    tokens = _read(_pieces(pure.stem))
    folders = list(pure.parts[:-1])
    chosen = _choose(tokens, bool(folders))
    word = chosen.text if chosen else ""
    letter = chosen is not None and len(chosen.text) == 1
    meaning, sure = (chosen.meaning, 0.75 if letter else 0.95) if chosen else (None, 0.0)
    if meaning is None and folders:
        above = [token for token in _read(_pieces(folders[-1])) if token.kind == "role"]
        if len(above) == 1:
            meaning, word, sure = above[0].meaning, f"{folders.pop()}/", 0.85
    green = _green(tokens, word)
    bits = {id(token) for token in _after(tokens, chosen) if token.text in ("8", "16", "32")}
    name = [t for t in tokens if t is not chosen and t.kind in ("name", "role") and id(t) not in bits]
    if not name and folders:
        name = [token for token in _read(_pieces(folders[-1])) if token.kind in ("name", "role")]
    shown = " ".join(token.text for token in name)
    if shown.istitle():
        # words cut apart at their capitals are read as a sentence
        shown = shown.lower()
    return NameFacts(
        key=shown.casefold(),
        title=shown[:1].upper() + shown[1:],
        meaning=meaning,
        word=word,
        sure=sure,
        green=green,
        size_px=_size(tokens),
        tile_m=_metres(tokens),
    )


def folder_title(path: str) -> str:
    """Return what the folder that a file lies in is called, without sizes, formats and words for maps."""
    folders = PurePosixPath(path).parts[:-1]
    if not folders:
        return ""
    return " ".join(token.text for token in _read(_pieces(folders[-1])) if token.kind == "name").lower()


def _after(tokens: list[_Token], chosen: _Token | None) -> list[_Token]:
    return tokens[tokens.index(chosen) + 1 :] if chosen else []


def _green(tokens: list[_Token], word: str) -> Green | None:
    said = {token.text.lower() for token in tokens if token.kind == "green"}
    close = word.lower()
    if said & _UP or close.endswith(("gl", "opengl")):
        return "up"
    return "down" if said & _DOWN or close.endswith(("dx", "directx")) else None
