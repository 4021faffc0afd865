"""The demo sites, laid out in an empty or existing data folder: Vellin Water, its spillway apron, its dam's face."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor

from elvatch.app.sets import Into
from elvatch.app.workshop import Workshop
from elvatch.core.document.light import Light
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.water import Water
from elvatch.core.document.wear import Wear
from elvatch.core.ground.description import Ground
from elvatch.core.parallel import WORKERS
from elvatch.core.run import Run
from elvatch.core.stock.generators import GENERATORS
from elvatch.demo import apron, apron_wear, dam_face, delph, things, vellin_cover, vellin_ground, vellin_wear
from elvatch.store.sites import SiteState

TITLE = "Vellin Water"
SET_PX = 1024
SKETCH_PX = 256
"""Of sets at a first start: to be seen at once, and drawn in full while somebody looks."""
KINDS = (
    "cast-concrete",
    "coursed-masonry",
    "cracked-mud",
    "gravel-track",
    "lime-plaster",
    "moor-peat",
    "moss",
    "pebbles",
    "quarried-limestone",
    "rough-grass",
    "slate-bedrock",
    "slate-scree",
    "wet-silt",
)
"""Of the sets that Vellin Water and what is built about it are covered with."""
SEED = 7
SAMPLES = vellin_ground.SAMPLES


def lay_out(
    workshop: Workshop,
    say: Callable[[str], None],
    set_px: int = SET_PX,
    samples: int = SAMPLES,
    progress: Callable[[float], None] | None = None,
    needs: Callable[[str], None] | None = None,
    strewn: bool = True,
) -> str:
    """Make the sample sets and the sites where they are missing; return Vellin Water's id.

    Parameters
    ----------
    workshop : Workshop
        Where to.
    say : callable
        Told one line before each long part.
    set_px : int
        Size of the sample sets that are missing, pixels.
    samples : int
        Of the ground, along a side.
    progress : callable, optional
        Told the share done.
    needs : callable, optional
        Told what is about to be used of what is compiled: "ground" or "cover"; returns when that is there.
    strewn : bool
        With what is strewn over it.
    """
    wait = needs or (lambda part: None)
    titles = {line.title: line.id for line in workshop.store.sites.all()}
    ground = vellin_ground.ground(samples)
    if TITLE not in titles:
        wait("ground")
        say("shaping the ground of Vellin Water")
        workshop.grounds.shaped(ground, None, Run(progress=_every_fifth(say, progress or (lambda share: None))))
    wait("sets")
    wait("cover")
    told = progress or (lambda share: None)
    # what is looked at first comes first
    kept = _sample_sets(workshop, KINDS, set_px, say, lambda share: told(0.5 + 0.2 * share))
    _lay_works(workshop, kept, titles, say)
    if TITLE not in titles:
        # the last of them, so that it stands first among the sites
        line = [("laid out the demo", recipe(ground, kept))]
        for stroke in vellin_cover.tyre_marks():
            line.append(workshop.marks.painted_on(line[-1][1], vellin_cover.TYRES, stroke))
        wears, over_it = vellin_wear.wears(*vellin_cover.TRACK), things.vellin(kept) if strewn else None
        titles[TITLE] = _lay(workshop, TITLE, line, wears, over_it).id
    _sample_sets(workshop, tuple(GENERATORS), set_px, say, lambda share: told(0.7 + 0.3 * share))
    return titles[TITLE]


def _sample_sets(
    workshop: Workshop, kinds: Sequence[str], set_px: int, say: Callable[[str], None], told: Callable[[float], None]
) -> dict[str, str]:
    """Draw the sample sets of some kinds that are missing, side by side; return the names of all that are there."""
    kept = {
        kind: name
        for px in (set_px, SET_PX)
        for (kind, seed, size), name in workshop.store.stock.made().items()
        if seed == SEED and size == px and kind in GENERATORS
    }
    missing = [kind for kind in kinds if kind not in kept]

    def make(kind: str) -> str:
        say(f"drawing {GENERATORS[kind].title}, {set_px} px")
        return workshop.sets.make(kind, set_px, SEED)

    with ThreadPoolExecutor(WORKERS) as pool:
        for number, (kind, name) in enumerate(zip(missing, pool.map(make, missing), strict=True), start=1):
            kept[kind] = name
            told(number / len(missing))
    return kept


def _lay_works(
    workshop: Workshop, kept: dict[str, str], titles: Mapping[str, str], say: Callable[[str], None]
) -> None:
    """Lay out what is built about Vellin Water, each a site of its own, where it is missing."""
    for title, of, wears in (
        (apron.TITLE, apron.recipe, apron_wear.wears),
        (dam_face.TITLE, dam_face.recipe, dam_face.wears),
    ):
        if title not in titles:
            say(f"laying out the {title[0].lower()}{title[1:]}")
            _lay(workshop, title, [("laid out the demo", of(kept))], wears())


def learn(workshop: Workshop, run: Run, set_px: int = SET_PX, samples: int = delph.SAMPLES) -> SiteState:
    """Lay out Hallin Delph from scratch: draw the sets of it that are missing, shape its ground, add the site."""
    kept = {
        kind: name for (kind, seed, px), name in workshop.store.stock.made().items() if seed == SEED and px >= set_px
    }
    missing = [kind for kind in delph.KINDS if kind not in kept]
    done = itertools.count(1)

    def make(kind: str) -> str:
        run.token.check()
        name = workshop.sets.make(kind, set_px, SEED, None, Run(run.token))
        run.at(0.6 * next(done) / len(missing))
        return name

    with ThreadPoolExecutor(WORKERS) as pool:
        kept |= dict(zip(missing, pool.map(make, missing), strict=True))
    made = delph.recipe(kept, samples)
    workshop.grounds.shaped(made.ground, None, run.part(0.6, 0.98))
    titles = {line.title for line in workshop.store.sites.all()}
    names = itertools.chain([delph.TITLE], (f"{delph.TITLE} {number}" for number in itertools.count(2)))
    title = next(name for name in names if name not in titles)
    return _lay(
        workshop,
        title,
        [("laid out to learn from", made.model_copy(update={"wears": ()}))],
        made.wears,
        things.delph(),
    )


def draw_in_full(
    workshop: Workshop,
    say: Callable[[str], None],
    progress: Callable[[float], None] | None = None,
    full_px: int = SET_PX,
) -> None:
    """Draw the demo's sets that were only sketched in full, in their places; those changed meanwhile are left."""
    stock = workshop.store.stock
    there = stock.made()
    whole = {kind for kind, seed, size in there if seed == SEED and size >= full_px}
    sketched = {
        kind: name
        for (kind, seed, size), name in there.items()
        if kind in GENERATORS and seed == SEED and size < full_px and kind not in whole
    }
    done = itertools.count(1)

    def draw(one: tuple[str, str]) -> None:
        kind, name = one
        state = stock.state(name)
        if state.undo is None and state.redo is None:
            workshop.sets.make(kind, full_px, SEED, into=Into(name, state.revision))
            # a sketch is no state that anybody would want back
            stock.begin_history_anew(name)
        number = next(done)
        say(f"drawn {GENERATORS[kind].title} in full, {number} of {len(sketched)}")
        if progress is not None:
            progress(number / len(sketched))

    with ThreadPoolExecutor(WORKERS) as pool:
        list(pool.map(draw, sketched.items()))


def _lay(
    workshop: Workshop,
    title: str,
    line: list[tuple[str, Recipe]],
    wears: tuple[Wear, ...],
    strewn: things.Strewn | None = None,
) -> SiteState:
    """Add a site as it is and as it is worn, as two snapshots to compare: all of it or nothing."""
    for wear in wears:
        # drawn once and kept, so that the first picture need not wait for it
        workshop.wears.sheets.codes(wear.source)
    clean = line[-1][1]
    worn = clean.model_copy(update={"wears": wears})
    done = [*line, ("worn in", worn)]
    if strewn is not None:
        whole = strewn._asdict()
        done.append(("things strewn and set", Recipe.model_validate(worn.model_copy(update=whole).model_dump())))
    return workshop.store.sites.add_with_history(title, done, [("Clean", clean), ("Worn in", worn)])


def _every_fifth(say: Callable[[str], None], whole: Callable[[float], None]) -> Callable[[float], None]:
    """Return a progress that says each fifth of the way once."""
    told = 0

    def progress(share: float) -> None:
        nonlocal told
        whole(0.5 * share)
        if int(share * 5) > told:
            told = int(share * 5)
            say(f"shaping the ground: {told * 20}%")

    return progress


def recipe(ground: Ground, sets: dict[str, str]) -> Recipe:
    """Return the demo's recipe over a ground and sets by kind."""
    return Recipe(
        ground=ground,
        layers=vellin_cover.layers(sets),
        marks=vellin_cover.marks(),
        peg=Peg(east_m=858.0, north_m=470.0),
        stands=Stands(
            far=Stand(bearing_deg=335, tilt_deg=24, distance_m=1190, view_deg=38),
            mid=Stand(bearing_deg=60, tilt_deg=12, distance_m=40, view_deg=42),
            near=Stand(bearing_deg=340, tilt_deg=15, distance_m=4.6, view_deg=44),
        ),
        light=Light(sun_bearing_deg=262, sun_height_deg=30),
        # the last pool, in the old channel before the dam
        water=Water(on=True, level_m=91.2, clarity_m=1.1, colour="#7d8560", wet_m=0.18),
    )
