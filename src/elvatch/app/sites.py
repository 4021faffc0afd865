"""What can be done with whole sites: listed, begun, copied, their parts named anew."""

from __future__ import annotations

from pydantic import Field

from elvatch.app.beginning import Beginning
from elvatch.app.grounds import Grounds
from elvatch.app.stand import on_stand
from elvatch.core.cache import Cache
from elvatch.core.document import begin_strew
from elvatch.core.document.change import MOST_PUTS, Put, changed
from elvatch.core.document.naming import renamed
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands, from_data
from elvatch.core.document.thing import Thing
from elvatch.core.ground.description import FileSource, Ground
from elvatch.core.ground.upright import Upright
from elvatch.core.parts import Part
from elvatch.core.results import result
from elvatch.store.sites import SiteState
from elvatch.store.store import Store

_RECIPES = 16


@result
class SiteLine:
    """A site as the front door lists it."""

    id: str
    title: str
    changed_at: str
    revision: int
    width_m: float
    depth_m: float
    layers: int
    steps: int


@result
class SiteLines:
    """All sites, the one changed last first."""

    sites: list[SiteLine]


@result
class KeptGround:
    """A ground that is kept: its size, how many steps shape it, what it was read from, '' where nothing."""

    id: str
    name: str
    width_m: float
    depth_m: float
    steps: int
    file_name: str


@result
class KeptGrounds:
    """All grounds that are kept, by name."""

    grounds: list[KeptGround]


@result
class Removed:
    """What is not there any more."""

    removed: str


class Base(Part):
    """A recipe told by what differs from one that was kept: as short as what a hand changes."""

    site: str = Field(max_length=64)
    revision: int = Field(ge=0)
    changes: tuple[Put, ...] = Field(default=(), max_length=MOST_PUTS)


class UnknownBaseError(Exception):
    """Raised when the kept recipe that changes are made on is not at hand; the whole recipe has to be sent."""


def _before(face: Upright, size_m: float) -> Stands:
    """Return where one stands before a face: a little aside of straight before it, so that its relief is seen."""
    along = (face.faces_deg + 180.0) % 360.0
    return Stands(
        far=Stand(bearing_deg=(along + 25) % 360, tilt_deg=4, distance_m=size_m * 1.5, view_deg=38),
        mid=Stand(bearing_deg=(along + 30) % 360, tilt_deg=0, distance_m=min(14.0, size_m * 0.5), view_deg=42),
        near=Stand(bearing_deg=(along + 35) % 360, tilt_deg=4, distance_m=3.4, view_deg=44),
    )


def _about(size_m: float, rise_m: float) -> Stands:
    """Return where one stands about a ground that lies, so large and so high."""
    return Stands(
        far=Stand(bearing_deg=20, tilt_deg=min(24 + 20 * rise_m / size_m, 40), distance_m=size_m * 1.05, view_deg=38),
        mid=Stand(bearing_deg=330, tilt_deg=14, distance_m=min(38.0, size_m * 0.4), view_deg=42),
        near=Stand(bearing_deg=330, tilt_deg=17, distance_m=4.4, view_deg=44),
    )


class Sites:
    """The sites of one store.

    Parameters
    ----------
    store : Store
        What is kept.
    grounds : Grounds
        Their grounds.
    beginning : Beginning
        How their covers begin.
    """

    def __init__(self, store: Store, grounds: Grounds, beginning: Beginning) -> None:
        self._store, self._grounds, self._beginning = store, grounds, beginning
        self._recipes = Cache[Recipe](_RECIPES)

    def recipe(self, base: Base) -> Recipe:
        """Return a kept recipe with what was changed of it since.

        Raises
        ------
        UnknownBaseError
            When that revision is not in force, nor was lately.
        """
        name = f"{base.site} {base.revision}"
        known = self._recipes.peek(name)
        if known is None:
            state = self._store.sites.state(base.site)
            if state.revision != base.revision:
                raise UnknownBaseError
            known = self._recipes.get(name, lambda: state.recipe)
        return changed(known, base.changes) if base.changes else known

    def lines(self) -> SiteLines:
        """Return all sites in short."""
        return SiteLines(
            [
                SiteLine(
                    head.id,
                    head.title,
                    head.changed_at,
                    head.revision,
                    head.recipe.ground.width_m,
                    head.recipe.ground.depth_m,
                    len(head.recipe.layers),
                    len(head.recipe.ground.steps),
                )
                for head in self._store.sites.all()
            ]
        )

    def new(self, title: str, ground: Ground, empty: bool = False) -> SiteState:
        """Begin a site on a ground; one that cannot be read is refused before anything is made."""
        return self._store.sites.add(title, self.new_recipe(ground, empty))

    def new_recipe(self, ground: Ground, empty: bool = False) -> Recipe:
        """Return the recipe of a new site: layers of the stock where such material lies, unless it begins empty; the
        peg in the middle."""
        size = max(ground.width_m, ground.depth_m)
        land = self._grounds.shaped(ground).ground
        rise = land.highest_m - land.lowest_m
        stands = _before(ground.upright, size) if ground.upright else _about(size, rise)
        # on level ground a figure stands anywhere, before a face at its foot
        peg = Peg(east_m=ground.width_m / 2, north_m=0.0 if ground.upright else ground.depth_m / 2)
        recipe = Recipe(ground=ground, layers=(), peg=peg, stands=stands)
        return recipe if empty else recipe.model_copy(update={"layers": self._beginning.layers(recipe)})

    def of_thing(self, thing: Thing) -> SiteState:
        """Begin a site of one thing on a stand, as large as the largest that a strew of it has at first."""
        return self._store.sites.add(thing.name, on_stand(thing, begin_strew.of(thing).size.to_m))

    def kept_grounds(self) -> KeptGrounds:
        """Return the grounds that any site can lie on."""
        return KeptGrounds(
            [
                KeptGround(
                    id,
                    name,
                    ground.width_m,
                    ground.depth_m,
                    len(ground.steps),
                    ground.source.file_name if isinstance(ground.source, FileSource) else "",
                )
                for id, name, ground in self._store.grounds.all()
            ]
        )

    def keep_ground(self, name: str, ground: Ground) -> KeptGrounds:
        """Keep a ground under a name, in place of one of the same name."""
        self._store.grounds.keep(name, ground, ground.files())
        return self.kept_grounds()

    def forget_ground(self, id: str) -> KeptGrounds:
        """Keep a ground no longer."""
        self._store.grounds.remove(id)
        return self.kept_grounds()

    def on_kept_ground(self, title: str, id: str, empty: bool = False) -> SiteState:
        """Begin a site on a ground that is kept."""
        return self.new(title, self._store.grounds.get(id), empty)

    def lay_under(self, site: str, base: int, id: str) -> SiteState:
        """Lay a kept ground under a site, whose layers stay; it is looked at as a new site would be.

        Raises
        ------
        ConflictError
            When the site has been changed since ``base``.
        """
        state, ground = self._store.sites.state_on(site, base), self._store.grounds.get(id)
        fresh = self.new_recipe(ground, empty=True)
        update: dict[str, object] = {"ground": ground, "peg": fresh.peg, "stands": fresh.stands}
        if (ground.width_m, ground.depth_m) != (state.recipe.ground.width_m, state.recipe.ground.depth_m):
            # parts and shots were drawn on another ground
            whole = tuple(sheet.model_copy(update={"region": None}) for sheet in state.recipe.sheets)
            update |= {"shots": (), "sheets": whole}
        recipe = from_data(state.recipe.model_copy(update=update).model_dump(mode="json"))
        return self._store.sites.edit(site, base, "another ground laid under it", recipe)

    def name_part(self, site: str, base: int, id: str, name: str) -> SiteState:
        """Give a layer, wear, mask, path, image, strew or set thing another name, wherever it is spoken of.

        Raises
        ------
        ConflictError
            When the site has been changed since ``base``.
        """
        state = self._store.sites.state_on(site, base)
        return self._store.sites.edit(site, base, f"named {name.strip()}", renamed(state.recipe, id, name))

    def duplicate(self, site: str) -> SiteState:
        """Copy a site."""
        state = self._store.sites.state(site)
        return self._store.sites.add(f"{state.title[:70]}, copy", state.recipe, f"copied {state.title}")
