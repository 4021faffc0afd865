"""What can be done with the stock's sets, for the web and the command line alike."""

from __future__ import annotations

import threading
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.formats import png
from elvatch.core.parallel import Token, watched
from elvatch.core.picture.sample import Samples, finest_pixel_m
from elvatch.core.picture.swatch import swatch
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.run import Run
from elvatch.core.stock import facts, generators, intake, loaded, manifest, roles
from elvatch.core.stock.canonical import KeptMap
from elvatch.core.stock.description import Category, MadeBy, SetDescription, SetMap
from elvatch.core.stock.facts import SetFacts
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.intake import Bytes, Chosen, Decision
from elvatch.core.stock.loaded import Loaded
from elvatch.core.stock.mend import ask as mending
from elvatch.core.stock.mend.ask import MendAsk
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.stock.roles import Role
from elvatch.store.sites import SetUse
from elvatch.store.stock import Draft, SetState
from elvatch.store.store import Store
from elvatch.store.wall import SetLine, Wish

SWATCH_PX = 512
JUDGED_PX = 256
PREVIEW_PX = 256


@dataclass(frozen=True)
class Into:
    """A set whose files are replaced, as it was shown when that was asked."""

    name: str
    base: int


@result
class WallOfSets:
    """Sets that fit a wish, how many of all are in each category, tone and collection, and how fine the asking site's
    near stand looks, metres a pixel."""

    sets: list[SetLine]
    total: int
    categories: dict[str, int]
    tones: dict[str, int]
    collections: dict[str, int]
    finest_pixel_m: float | None


@result
class GeneratorKind:
    """A kind of sample set: what it is called and filed under, how large a tile is, its numbers."""

    kind: str
    title: str
    category: Category
    tile_m: float
    controls: tuple[Control, ...]


@result
class Generators:
    """All kinds of sample sets, and the sizes in pixels that they are made in."""

    sizes: tuple[int, ...]
    generators: list[GeneratorKind]


@result
class SetSheet:
    """A set laid out: what it is called, made of and worth, what undo and redo would do, where it is used."""

    name: str
    revision: int
    description: SetDescription
    facts: SetFacts
    content: str
    added_at: str
    changed_at: str
    set_aside: bool
    undo: str | None
    redo: str | None
    used_in: list[SetUse]


@result
class NewSet:
    """A set that was made."""

    set: str


@result
class KeptSets:
    """Sets that were brought in."""

    sets: list[str]


@result
class MendedSet:
    """A set that was mended: what was done, and its worst seam before and after."""

    set: str
    label: str | None
    seam_before: float
    seam_after: float


def all_generators() -> Generators:
    """Return all kinds of sample sets."""
    kinds = [
        GeneratorKind(kind, one.title, one.category, one.tile_m, one.controls)
        for kind, one in generators.GENERATORS.items()
    ]
    return Generators(generators.SIZES, kinds)


class Sets:
    """Operations on the sets of one store.

    Parameters
    ----------
    store : Store
        What is kept.
    """

    def __init__(self, store: Store) -> None:
        self.store = store
        self.samples = Samples()
        self._previews = Cache[bytes](24)
        self._judged = Cache[Loaded](4)
        self._storing = threading.Lock()

    def wall(self, wish: Wish, site: str | None = None) -> WallOfSets:
        """Return the sets that fit a wish, as a site looks at them."""
        found = self.store.wall.find(wish)
        finest = finest_pixel_m(self.store.sites.state(site).recipe.stands.near) if site else None
        return WallOfSets(found.lines, found.total, found.categories, found.tones, found.collections, finest)

    def sheet(self, state: SetState) -> SetSheet:
        """Return a set laid out."""
        return SetSheet(
            state.name,
            state.revision,
            state.description,
            state.facts,
            state.description.content,
            state.added_at,
            state.changed_at,
            state.set_aside,
            state.undo,
            state.redo,
            self.store.sites.using(state.name),
        )

    def load(self, description: SetDescription) -> Loaded:
        """Decode a set's maps."""
        return loaded.load(description, self.store.files.get)

    def draft(self, description: SetDescription, maps: Loaded | None = None, run: Run | None = None) -> Draft:
        """Measure a set and draw its swatch: all that is stored beside its maps."""
        run = run or Run()
        maps = maps or self.load(description)
        run.at(0.3)
        found = facts.gather(maps, description.lookup_px)
        run.at(0.8)
        picture = png.encode(swatch(loaded.for_lookups(maps, SWATCH_PX), SWATCH_PX))
        return Draft(description, found, picture)

    def keep(
        self, decision: Decision, files: Mapping[str, Bytes], run: Run | None = None, into: Into | None = None
    ) -> str:
        """Store one set as decided on, see :meth:`keep_all`; return its name."""
        return self.keep_all((decision,), files, run, into)[0]

    def keep_all(
        self,
        decisions: Sequence[Decision],
        files: Mapping[str, Bytes],
        run: Run | None = None,
        into: Into | None = None,
    ) -> list[str]:
        """Store sets as decided on, all or none; return their names, for one that is there already that one's.

        Parameters
        ----------
        decisions : sequence of Decision
            What each file is, and what the sets are called.
        files : mapping
            What returns each file's bytes, by its path as text.
        run : Run, optional
            Told how far it is.
        into : Into, optional
            Replace this set's files by those of the only decision; what it is called and filed under stays.

        Raises
        ------
        RefusalError
            When a file is none of those, or cannot be what it was decided to be. Nothing is stored.
        """
        run = run or Run()
        with self.store.files.putting() as keep_file:
            ready = []
            for number, decision in enumerate(decisions):
                part = run.part(number / len(decisions), (number + 1) / len(decisions))
                ready.append(self._prepared(decision, files, keep_file, part, into))
            run.token.check()
            # two that bring the same in at once find each other's here
            with self._storing:
                return [one if isinstance(one, str) else self._stored(one, into) for one in ready]

    def _prepared(
        self,
        decision: Decision,
        files: Mapping[str, Bytes],
        keep_file: Callable[[bytes], str],
        run: Run,
        into: Into | None,
    ) -> Draft | str:
        """Return a decided set ready to be stored, or the name of one on the wall that is just like it."""
        lost = [file.path for file in decision.files if file.path not in files]
        if lost:
            raise RefusalError(lost[0][:80], "no such file", "one that was brought in", "bring it in again")
        chosen = [Chosen(f.path, files[f.path], f.meaning, f.turn_green) for f in decision.files]
        maps, values = intake.keep_maps(chosen, keep_file, run.part(0, 0.55))
        description = intake.described(decision, maps)
        if into is not None:
            sizes = {name: getattr(description, name) for name in ("tile_m", "relief_m", "lookup_px", "made_by")}
            now = self.store.stock.state(into.name).description
            description = now.model_copy(update=sizes | {"maps": maps})
        else:
            same = self.store.stock.same(description)
            if same is not None:
                return same
        whole = Loaded(values, description.tile_m, description.relief_m)
        return self.draft(description, whole, run.part(0.55, 1))

    def _stored(self, draft: Draft, into: Into | None) -> str:
        if into is None:
            same = self.store.stock.same(draft.description)
            return same if same is not None else self.store.stock.add(draft, "brought in")
        return self.store.stock.remake(into.name, into.base, "files replaced", draft).name

    def make(
        self,
        kind: str,
        size_px: int,
        seed: int,
        controls: Mapping[str, float] | None = None,
        run: Run | None = None,
        into: Into | None = None,
    ) -> str:
        """Make a sample set and store it, or put it in place of another that was made; return its name."""
        run = run or Run()
        drawn = generators.draw(kind, size_px, seed, controls, run.part(0, 0.85))
        generator = generators.GENERATORS[kind]
        entries = {kept.role: self._made(kept) for kept in generators.kept(drawn)}
        made_by = MadeBy(kind=kind, seed=seed, size_px=size_px, controls=dict(controls or {}))
        update = {
            "tile_m": drawn.tile_m,
            "relief_m": drawn.relief_m,
            "maps": entries,
            "made_by": made_by,
            "lookup_px": intake.lookup_size(entries),
        }
        if into is None:
            title = generator.title if seed == 7 and not controls else f"{generator.title} {seed}"
            description = SetDescription.model_validate({"title": title, "category": generator.category, **update})
            return self.store.stock.add(self.draft(description, None, run.part(0.85, 1)), f"made, seed {seed}")
        description = self.store.stock.state(into.name).description.model_copy(update=update)
        draft = self.draft(description, None, run.part(0.85, 1))
        return self.store.stock.remake(into.name, into.base, f"made anew, seed {seed}", draft).name

    def _made(self, kept: KeptMap) -> SetMap:
        return intake.entry(kept, self.store.files.put, "made")

    def mend(self, name: str, base: int, ask: MendAsk, run: Run | None = None) -> SetState:
        """Mend a set and keep the result as its next revision."""
        run = run or Run()
        state = self.store.stock.state(name)
        before = self.load(state.description)
        done = mending.mend(before, ask, run.part(0.1, 0.5))
        maps: dict[Role, SetMap] = {}
        for role, values in done.loaded.whole.items():
            old = state.description.maps.get(role)
            if old is not None and values is before.whole.get(role):
                maps[role] = old
                continue
            earlier = old.note if old and done.origin is None else ""
            notes = [part for part in (earlier, done.notes.get(role, "")) if part]
            origin = done.origin or (old.origin if old else "derived")
            kept = KeptMap(role, values, "; ".join(notes)[-400:])
            maps[role] = intake.entry(kept, self.store.files.put, origin, old.from_name if old else "")
        description = state.description.model_copy(
            update={
                "maps": maps,
                "tile_m": done.loaded.tile_m,
                "relief_m": done.loaded.relief_m,
                "lookup_px": intake.lookup_size(maps),
            }
        )
        draft = self.draft(description, done.loaded, run.part(0.6, 1))
        return self.store.stock.remake(name, base, done.label, draft)

    def mended(self, name: str, base: int, ask: MendAsk, run: Run | None = None) -> MendedSet:
        """Mend a set, see :meth:`mend`; return what that changed."""
        before = self.store.stock.state(name)
        after = self.mend(name, base, ask, run)
        return MendedSet(name, after.undo, before.facts.seam, after.facts.seam)

    def describe(self, name: str, base: int, label: str, description: SetDescription) -> SetState:
        """Keep what a set is called, filed under or how large it is."""
        state = self.store.stock.state(name)
        if description.maps != state.description.maps or description.made_by != state.description.made_by:
            raise RefusalError(description.title, "other maps", "the maps it has", "replace its files instead")
        if description.content == state.description.content:
            return self.store.stock.edit(name, base, label, description)
        return self.store.stock.edit(name, base, label, self.draft(description))

    def map_png(self, name: str, role: Role, px: int) -> bytes:
        """Return one map of a set as it stands, reduced to a size to look at."""
        description = self.store.stock.state(name).description
        if role not in description.maps:
            title = roles.FACTS[role].title
            raise RefusalError(description.title, f"no {title} map", "a map it has", "choose another")
        maps = loaded.load(description, self.store.files.get, (role,))
        if maps.whole[role].shape[0] <= px:
            values = maps.numbers(role)
        else:
            values = maps.reduced_normals(px)[0] if role == "normal" else maps.reduced(role, px)
        return png.encode(loaded.whole(role, values, 8))

    def judged(self, drop: str, decision: Decision, files: Mapping[str, Bytes]) -> Pyramid:
        """Return a set that is not yet kept, small, to look at and judge its size by."""
        chosen = [Chosen(f.path, files[f.path], f.meaning, f.turn_green) for f in decision.files if f.path in files]
        key = digest.of_json([drop, [file.model_dump() for file in decision.files]])
        maps = self._judged.get(key, lambda: intake.small_maps(chosen, JUDGED_PX, watched()))
        sized = Loaded(maps.whole, decision.tile_m, decision.relief_m)
        return replace(loaded.for_lookups(sized, JUDGED_PX), name=digest.of_json([key, sized.tile_m, sized.relief_m]))

    def preview(self, kind: str, seed: int, controls: Mapping[str, float], token: Token) -> bytes:
        """Return a small picture of what a generator would make."""
        key = digest.of_json([kind, seed, dict(controls)])

        def make() -> bytes:
            drawn = generators.draw(kind, PREVIEW_PX, seed, controls, Run(token))
            return png.encode(swatch(generators.stored(drawn), PREVIEW_PX))

        return self._previews.get(key, make)

    def take_out(self, name: str) -> tuple[str, bytes]:
        """Return a set as a zip with clean names, and the zip's name."""
        return manifest.take_out(self.store.stock.state(name).description, self.store.files.get)
