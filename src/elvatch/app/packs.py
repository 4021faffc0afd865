"""Whole sites out and in: packed with all they need, looked through, opened whole or not at all."""

from __future__ import annotations

import re
import secrets
import shutil
import time
from pathlib import Path
from typing import IO

from elvatch.app.covers import Covers
from elvatch.app.grounds import Grounds
from elvatch.app.panoramas import Panoramas
from elvatch.app.sets import Sets
from elvatch.core import digest
from elvatch.core.document.marks import TILE
from elvatch.core.document.recipe import Recipe, from_data
from elvatch.core.ground.description import FileSource
from elvatch.core.handoff import site_pack
from elvatch.core.handoff.site_pack import Pack
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError, of_disk
from elvatch.core.results import result
from elvatch.core.run import Run
from elvatch.store.paths import file_inside
from elvatch.store.sites import SiteState
from elvatch.store.stock import Draft
from elvatch.store.store import Store

_ID = re.compile(r"[0-9a-f]{16}")
_FORGOTTEN_S = 24 * 3600


@result
class PackFacts:
    """What a pack holds: the site's title and size, how many of its sets are in the stock already, the same in lines
    for people."""

    pack: str
    title: str
    width_m: float
    depth_m: float
    layers: int
    steps: int
    wears: int
    sets: list[str]
    known_sets: int
    files: int
    bytes: int
    made_by: str
    told: list[str]


class Packs:
    """Whole sites of one store.

    Parameters
    ----------
    store : Store
        What is kept.
    sets, grounds, covers, panoramas
        What reads what is brought in.
    """

    def __init__(self, store: Store, sets: Sets, grounds: Grounds, covers: Covers, panoramas: Panoramas) -> None:
        self._store, self._sets, self._grounds = store, sets, grounds
        self._covers, self._panoramas = covers, panoramas

    @property
    def _folder(self) -> Path:
        """Where packs lie that were brought, or are taken out."""
        folder = self._store.folder / "packs"
        folder.mkdir(exist_ok=True)
        return folder

    @staticmethod
    def file_name(state: SiteState) -> str:
        """Return what the pack of a site is called."""
        return f"{plain_name(state.title)}.elvatch.zip"

    def packed(self, state: SiteState) -> Path:
        """Return a site as one file, made when it is first asked for as it is now."""
        contents = self._store.stock.contents(state.recipe.sets())
        name = digest.of_json([state.title, state.recipe.model_dump(mode="json"), contents])
        path = self._folder / f"out-{name}.zip"
        if not path.exists():
            for older in self._folder.glob("out-*.zip"):
                older.unlink(missing_ok=True)
            self.pack(state.title, state.recipe, path)
        return path

    def bring(self, stream: IO[bytes]) -> PackFacts:
        """Keep a pack until it is opened or let go; return what it holds. One that is none goes again."""
        for older in self._folder.glob("in-*.zip"):
            if time.time() - older.stat().st_mtime > _FORGOTTEN_S:
                older.unlink(missing_ok=True)
        id = secrets.token_hex(8)
        path = self._folder / f"in-{id}.zip"
        try:
            with path.open("wb") as out:
                shutil.copyfileobj(stream, out, 1 << 20)
            return self.facts(path, id)
        except BaseException as error:
            path.unlink(missing_ok=True)
            if isinstance(error, OSError):
                raise of_disk("the pack", error) from None
            raise

    def brought(self, id: str) -> Path:
        """Return where a pack lies that was brought."""
        if not _ID.fullmatch(id):
            raise RefusalError("the pack", repr(id[:40]), "one that was brought", "drop it again")
        return file_inside(self._folder, f"in-{id}.zip")

    def open_brought(self, path: Path, run: Run) -> SiteState:
        """Open a pack that was brought, and let it go."""
        state = self.open(path, run)
        path.unlink(missing_ok=True)
        return state

    def tidy(self) -> None:
        """Clear away packs that an earlier run left."""
        shutil.rmtree(self._store.folder / "packs", ignore_errors=True)

    def pack(self, title: str, recipe: Recipe, path: Path, run: Run | None = None) -> list[str]:
        """Write a site with all that it needs; return what is in it, in lines."""
        lost = [name for name in recipe.sets() if name not in self._store.stock]
        if lost:
            raise RefusalError(title, "a texture set that is not in the stock", "all that it uses", "choose another")
        sets = {name: self._store.stock.state(name).description for name in recipe.sets()}
        return site_pack.write(path, title, recipe, sets, self._store.files.get, run)

    def facts(self, path: Path, name: str = "") -> PackFacts:
        """Return what a pack holds, before it is opened."""
        pack = site_pack.look(path)
        told, ground = pack.told, pack.recipe.ground
        known = sum(self._known(pack, name) is not None for name in told.sets)
        return PackFacts(
            name or path.name, told.title, ground.width_m, ground.depth_m, len(pack.recipe.layers),
            len(ground.steps), len(pack.recipe.wears), sorted(one.title for one in told.sets.values()), known,
            len(told.files), sum(told.files.values()), told.made_by, site_pack.lines_of(told, pack.recipe),
        )  # fmt: skip

    def _known(self, pack: Pack, name: str) -> str | None:
        """Return the name of a set of the stock that is just like one of a pack, or None."""
        description, stock = pack.told.sets[name], self._store.stock
        if name in stock and stock.state(name).description == description:
            return name
        return stock.same(description)

    def open(self, path: Path, run: Run | None = None) -> SiteState:
        """Make a site of a pack: all of it, or nothing.

        Raises
        ------
        RefusalError
            When it is no whole pack, or a file in it is not what the recipe takes it for. Nothing is kept.
        """
        run = run or Run()
        pack = site_pack.look(path)
        with self._store.files.putting() as put:
            for k, name in enumerate(pack.told.files):
                put(pack.file(name))
                run.at(0.4 * (k + 1) / len(pack.told.files))
            self._check(pack.recipe)
            known = {name: self._known(pack, name) for name in pack.told.sets}
            drafts = self._drafts(pack, [name for name, same in known.items() if same is None], run.part(0.4, 1))
            run.token.check()
            # sets and site come to be together, or neither
            with self._store.database.writing():
                names = {name: same for name, same in known.items() if same is not None}
                for name, draft in drafts.items():
                    taken = name in self._store.stock
                    names[name] = self._store.stock.add(
                        draft, f"came with {pack.told.title}", None if taken else name
                    )
                recipe = _renamed(pack.recipe, names)
                return self._store.sites.add(pack.told.title, recipe, "opened from a pack")

    def _drafts(self, pack: Pack, new: list[str], run: Run) -> dict[str, Draft]:
        """Measure the sets that are not in the stock yet, which reads every map of them."""
        drafts = {}
        for k, name in enumerate(new):
            description = pack.told.sets[name]
            maps = self._sets.load(description)
            for role, one in description.maps.items():
                found = maps.whole[role]
                if found.shape[:2] != (one.height_px, one.width_px) or found.dtype.itemsize * 8 != one.bits:
                    raise RefusalError(
                        f"{description.title}, {role}", f"{found.shape[1]} x {found.shape[0]} pixels",
                        f"{one.width_px} x {one.height_px} of {one.bits} bits", "pack the site again",
                    )  # fmt: skip
            drafts[name] = self._sets.draft(description, maps, run.part(k / len(new), (k + 1) / len(new)))
        return drafts

    def _check(self, recipe: Recipe) -> None:
        """Refuse files that are not what a recipe takes them for."""
        ground = recipe.ground
        if isinstance(ground.source, FileSource):
            self._grounds.height_file(ground.source.file, ground.source.file_name, ground.source.reading)
        self._grounds.image(ground)
        for mask in recipe.marks.masks:
            for tile in mask.tiles:
                if self._covers.tile(tile.file).shape != (TILE, TILE):
                    raise RefusalError(mask.name, "a tile of another size", f"{TILE} x {TILE}", "pack the site again")
        for image in recipe.marks.images:
            self._covers.packed(image.file, image.file_name)
        for light in (recipe.light, *(shot.light for shot in recipe.shots if shot.light)):
            self._panoramas.of(light)


def _renamed(recipe: Recipe, names: dict[str, str]) -> Recipe:
    """Return a recipe whose sets have the names that they have here."""
    if all(name == new for name, new in names.items()):
        return recipe

    def put(of: object) -> object:
        if isinstance(of, dict):
            return {key: put(value) for key, value in of.items()}
        if isinstance(of, list):
            return [put(value) for value in of]
        return names.get(of, of) if isinstance(of, str) else of

    return from_data(put(recipe.model_dump(mode="json")))
