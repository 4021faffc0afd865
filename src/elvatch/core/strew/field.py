"""All strews of a site at work: what stands in any part of it, found block by block and kept."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.document.marks import DrawnPath
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.strew import Strew
from elvatch.core.ground import places as ground_places
from elvatch.core.ground.places import Places, ReliefAt
from elvatch.core.parallel import Token
from elvatch.core.refusal import RefusalError
from elvatch.core.strew import single
from elvatch.core.strew.candidates import Box, density_for
from elvatch.core.strew.laid import Laid, On, ceiling, densities, laid, most, radii
from elvatch.core.strew.single import Single
from elvatch.core.strew.standing import Posed, StrewShapes, posed
from elvatch.core.thing import traced
from elvatch.core.thing.levels import LEVELS
from elvatch.core.thing.model import Model
from elvatch.core.thing.solid import Solid
from elvatch.core.thing.traced import Shapes, Stood

_A_BLOCK = 1500
"""Things in a block, about."""
_LONGEST_M, _SHORTEST_M = 400.0, 2.0
_SPREAD = 256
_MOST_COUNTED = 400_000
_MOST_ASKED = 1_000_000
_MOST_LOOKED_AT = 6_000_000
"""Candidates: counting one by one would take longer than somebody waits."""
_laid = Cache[Laid](4096)
_even = Cache[NDArray[np.float64]](32)
_stood = Cache[Stood](4096)
_posed = Cache[Posed](4096)
_ceilings = Cache[float](256)


class Stocked(NamedTuple):
    """``shapes`` of all things side by side: where each strew finds its own, which are of things set by hand, and of
    which of the ``things``, by their ids, each is (``owner``, (s,)), which of its variants (``variant``, (s,)) and
    how it is stretched (``stretch``, (s, 3)); ``name`` of all of it."""

    stocks: tuple[StrewShapes, ...]
    singles: tuple[Single, ...]
    shapes: Shapes
    things: tuple[str, ...]
    owner: NDArray[np.int64]
    variant: NDArray[np.int64]
    stretch: NDArray[np.float32]
    name: str

    def as_set(self, set_things: tuple[SetThing, ...], name: str) -> Stocked:
        """Return the same shapes with their things set elsewhere."""
        moved = tuple(one._replace(of=of) for one, of in zip(self.singles, set_things, strict=True))
        return self._replace(singles=moved, name=name)


class Keeps(Protocol):
    """Keeps what was laid for longer than this process lives, by name."""

    def get(self, name: str) -> Laid | None:
        """Return what is kept, None where nothing is."""

    def put(self, name: str, found: Laid) -> None:
        """Keep it, unless it is kept already; whoever asks does not wait."""


class Block(NamedTuple):
    """Things of a strew in a block of the ground: which they are and how they stand."""

    laid: Laid
    stood: Stood


@dataclass(frozen=True)
class Field:
    """The strews of a site, and the things set on it by hand, with all that they need.

    ``strews`` those that are on; ``names`` what names what lies of each; ``stocked`` their shapes;
    ``on`` what they lie on; ``ways`` the site's paths; ``name`` names all of it but the cover's relief, ``kinds`` its
    things and their sizes, ``land`` the ground; ``keeps`` what was laid before,
    and takes what is laid where the strews rest: what passes under a moving hand is not worth a disk.
    """

    strews: tuple[Strew, ...]
    names: tuple[str, ...]
    stocked: Stocked
    on: On
    ways: tuple[DrawnPath, ...]
    name: str
    models: Mapping[str, Model] = field(default_factory=dict)
    kinds: str = ""
    land: str = ""
    keeps: Keeps | None = None
    rests: bool = False
    _sides: dict[int, float] = field(default_factory=dict)
    _prefixes: dict[int, list[str]] = field(default_factory=dict)

    @property
    def stocks(self) -> tuple[StrewShapes, ...]:
        """Where each strew finds its shapes."""
        return self.stocked.stocks

    @property
    def shapes(self) -> Shapes:
        """All shapes side by side."""
        return self.stocked.shapes

    def set_by_hand(self, relief_at: ReliefAt | None, reliefs: str) -> Stood:
        """Return how things set by hand stand, on the cover's relief where it is given and named."""
        singles = self.stocked.singles
        name = digest.of_json([self.stocked.name, self.land, reliefs])
        return _stood.get(name, lambda: single.stood(singles, self.on.survey, relief_at))

    def side_m(self, k: int) -> float:
        """Return how long the sides of a strew's blocks are: powers of two, so that a small change keeps them."""
        if k in self._sides:
            return self._sides[k]
        densest = min(most(self.strews[k]), self.upto(k), 4 * float(self.evenly(k).mean()) + 1e-9)
        wanted = math.sqrt(_A_BLOCK / max(densest, 1e-9))
        wanted = max(wanted, 24 * self.strews[k].apart_m)
        side = 2.0 ** round(math.log2(min(max(wanted, _SHORTEST_M), _LONGEST_M)))
        self._sides[k] = side
        return side

    def blocks(self, k: int, box: Box) -> list[tuple[int, int]]:
        """Return the column and row of a strew's blocks that a box touches."""
        side, survey = self.side_m(k), self.on.survey
        west, south = (max(0, math.floor(edge / side)) for edge in (box.west, box.south))
        east = min(math.floor(box.east / side), math.ceil(survey.width_m / side) - 1)
        north = min(math.floor(box.north / side), math.ceil(survey.depth_m / side) - 1)
        return [(i, j) for j in range(south, north + 1) for i in range(west, east + 1)]

    def lies(self, k: int, block: tuple[int, int], token: Token | None = None) -> Laid:
        """Return what of a strew lies in a block."""
        side = self.side_m(k)
        box = Box(block[0] * side, block[1] * side, (block[0] + 1) * side, (block[1] + 1) * side)
        upto = self.upto(k)
        name = f"{self.names[k]} {side} {block} {upto}"
        return self._once(name, lambda: laid(self.strews[k], self.on, box, upto, token))

    def _once(self, name: str, lay: Callable[[], Laid]) -> Laid:
        def find() -> Laid:
            found = self.keeps.get(name) if self.keeps else None
            return lay() if found is None else found

        found = _laid.get(name, find)
        if self.keeps and self.rests:
            self.keeps.put(name, found)
        return found

    def evenly(self, k: int) -> NDArray[np.float64]:
        """Return how densely a strew's things lie at places spread evenly over the ground, per m²."""

        def make() -> NDArray[np.float64]:
            at = ground_places.on_grid(self.on.survey, _SPREAD, _SPREAD, 0, _SPREAD)
            return np.minimum(densities(self.strews[k], self.on, at).whole, most(self.strews[k]))

        return _even.get(self.names[k], make)

    @property
    def area_m2(self) -> float:
        """How large the ground is on the map."""
        return self.on.survey.width_m * self.on.survey.depth_m

    def expected(self, k: int) -> float:
        """Return how many things a strew would come to without a ceiling, by the integral of its density."""
        return float(self.evenly(k).mean() * self.area_m2)

    def upto(self, k: int) -> float:
        """Return the turn from which on a strew's ceiling leaves things out; infinity where it leaves out none."""
        strew = self.strews[k]
        name = f"{self.names[k]} {strew.at_most}"
        return _ceilings.get(name, lambda: ceiling(strew, self.evenly(k), self.area_m2))

    def densities(self, k: int, at: Places, token: Token | None = None) -> NDArray[np.float64]:
        """Return how densely things of each kind of a strew lie at places, (n, kinds) per m², as they are laid."""
        found = densities(self.strews[k], self.on, at, token)
        held = min(most(self.strews[k]), density_for(self.upto(k), self.strews[k].apart_m))
        scale = np.minimum(found.whole, held) / np.maximum(found.whole, 1e-30)
        return np.asarray(found.kinds * scale[:, None])

    def whole(self, k: int, token: Token | None = None) -> Laid:
        """Return all of a strew's things.

        Raises
        ------
        RefusalError
            When they are too many to be held at once.
        """
        wanted = min(self.expected(k), self.strews[k].at_most)
        if wanted > _MOST_ASKED:
            raise RefusalError(
                self.strews[k].name,
                f"about {wanted:,.0f} things",
                f"at most {_MOST_ASKED:,} where all are asked for",
                "make it less dense, or set its ceiling lower",
            )
        name, upto = self.names[k], self.upto(k)
        return self._once(
            digest.of_json([name, "whole", str(upto)]), lambda: laid(self.strews[k], self.on, None, upto, token)
        )

    def count(self, k: int) -> tuple[int, bool]:
        """Return how many things a strew has, and whether they were counted one by one."""
        wanted = min(self.expected(k), self.strews[k].at_most)
        if wanted > _MOST_COUNTED or min(most(self.strews[k]), self.upto(k)) * self.area_m2 > _MOST_LOOKED_AT:
            return round(wanted), False
        return len(self.whole(k).number), True

    def stands(
        self, k: int, block: tuple[int, int], relief_at: ReliefAt | None, reliefs: str, token: Token | None = None
    ) -> Block:
        """Return what of a strew stands in a block, on the cover's relief where it is given and named."""
        return self.stand([(k, block, relief_at is not None)], relief_at, reliefs, token)[0]

    def stand(
        self,
        wanted: Sequence[tuple[int, tuple[int, int], bool]],
        relief_at: ReliefAt | None,
        reliefs: str,
        token: Token | None = None,
    ) -> list[Block]:
        """Return what stands in blocks of strews, each with whether it stands on the cover's relief.

        The relief is asked for below all of them at once: block by block most of the time would go into asking.
        """
        names = [" ".join([*self._prefix(k), str(block), reliefs if on else ""]) for k, block, on in wanted]
        laid_there = [self.lies(k, block, token) for k, block, _ in wanted]
        made = [_stood.peek(name) for name in names]
        missing = [i for i, one in enumerate(made) if one is None]
        poses = [self._posed(*wanted[i][:2], laid_there[i]) for i in missing]
        raised = [pose.under for i, pose in zip(missing, poses, strict=True) if wanted[i][2]]
        relief = relief_at(ground_places.joined(raised)) if raised and relief_at is not None else None
        first = 0
        for i, pose in zip(missing, poses, strict=True):
            count = len(pose.under.x_m) if wanted[i][2] else 0
            made[i] = stands = pose.on(relief[first : first + count] if relief is not None and wanted[i][2] else None)
            _stood.put(names[i], stands)
            first += count
        return [Block(found, one) for found, one in zip(laid_there, made, strict=True) if one is not None]

    def _posed(self, k: int, block: tuple[int, int], found: Laid) -> Posed:
        name = " ".join([*self._prefix(k), str(block)])
        strew, stock = self.strews[k], self.stocks[k]
        return _posed.get(name, lambda: posed(strew, found, stock, self.on.survey, self.ways))

    def _prefix(self, k: int) -> list[str]:
        """Return what names all that stands of a strew, found once."""
        if k not in self._prefixes:
            strew = self.strews[k]
            ways = digest.of_json([digest.of_part(path) for path in self.ways]) if strew.stands.path else ""
            self._prefixes[k] = [
                self.name_of_shapes(k),
                self.names[k],
                str(self.side_m(k)),
                str(self.upto(k)),
                digest.of_part(strew.stands),
                digest.of_part(strew.looks),
                ways,
            ]
        return self._prefixes[k]

    def name_of_shapes(self, k: int) -> str:
        """Return what names where a strew's shapes are found."""
        stock = self.stocks[k]
        return digest.of_json([stock.first.tolist(), stock.variants.tolist(), stock.height.round(5).tolist()])


def stocked(
    strews: tuple[Strew, ...], models: Mapping[str, Model], set_things: tuple[SetThing, ...] = (), name: str = ""
) -> Stocked:
    """Return the shapes of all things that are strewn or set, each once, and where each strew finds its own.

    Parameters
    ----------
    strews : tuple of Strew
        What is strewn.
    models : mapping
        By the ids of things.
    set_things : tuple of SetThing
        What was set by hand.
    name : str
        What names all of it.
    """
    used = list(
        dict.fromkeys([*(one.thing for strew in strews for one in strew.kinds), *(one.thing for one in set_things)])
    )
    first: dict[str, int] = {}
    solids: list[Solid] = []
    owner: list[int] = []
    number: list[int] = []
    for k, thing in enumerate(used):
        first[thing] = len(solids)
        variants = models[thing].variants
        solids += [level for variant in variants for level in variant]
        number += [which for which, variant in enumerate(variants) for _ in variant]
        owner += [k] * (len(solids) - len(owner))
    stretch = [single.AS_IT_IS] * len(solids)
    found = tuple(
        _stock([models[one.thing] for one in strew.kinds], [first[one.thing] for one in strew.kinds])
        for strew in strews
    )
    singles = []
    for one in set_things:
        singles.append(single.placed(one, models[one.thing], first[one.thing], solids))
        own = len(solids) - len(owner)
        owner += [used.index(one.thing)] * own
        number += [min(one.variant, len(models[one.thing].variants) - 1)] * own
        stretch += [one.stretch] * own
    return Stocked(
        found,
        tuple(singles),
        traced.shapes(solids),
        tuple(used),
        np.array(owner, np.int64),
        np.array(number, np.int64),
        np.array(stretch, np.float32).reshape(-1, 3),
        name,
    )


def _stock(of: list[Model], first: list[int]) -> StrewShapes:
    """Return where a strew finds the shapes of its kinds."""
    widest = max(len(one.variants) for one in of)
    feet, height = np.zeros((len(of), widest, 8, 3), np.float32), np.zeros((len(of), widest), np.float32)
    for k, one in enumerate(of):
        feet[k, : len(one.feet)], height[k, : len(one.height)] = one.feet, one.height
    return StrewShapes(
        np.array(first, np.int64),
        np.array([len(one.variants) for one in of], np.int64),
        np.full(len(of), LEVELS, np.int64),
        feet,
        height,
    )


def joined(parts: list[Stood]) -> Stood:
    """Return what stands in several blocks together."""
    all_of = [traced.no_places(), *parts]
    return Stood(
        np.concatenate([one.at for one in all_of]),
        np.concatenate([one.turn for one in all_of]),
        np.concatenate([one.size for one in all_of]),
        np.concatenate([one.shape for one in all_of]),
        np.concatenate([one.tint for one in all_of]),
        np.concatenate([one.ties for one in all_of]),
    )


def places_and_radii(found: Laid, strew: Strew, foot: Mapping[str, float]) -> NDArray[np.float64]:
    """Return where things lie and how wide their feet are, (n, 3) metres, as rules that ask for them read it."""
    return np.stack([found.x_m, found.y_m, radii(strew, found, foot)], 1)
