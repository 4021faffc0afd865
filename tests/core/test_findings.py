"""Findings: a site made to have each is found out by the right number, its mend ends it, clean sites raise none."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
import pytest

from elvatch.core.cover import function, plan, repetition, standing
from elvatch.core.document.fit import Fit, Repeats
from elvatch.core.document.layer import Layer, Look
from elvatch.core.document.recipe import Recipe, Waved
from elvatch.core.document.rule import OnMeasure, OnNear, OnPainted, Rule
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.sheet import Fine, Sheet
from elvatch.core.document.strew import Mixed, Strew
from elvatch.core.document.thing import DrawnThing, Thing
from elvatch.core.document.wear import Wear
from elvatch.core.ground import places
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import MeasureName
from elvatch.core.ground.survey import survey
from elvatch.core.judging import findings
from elvatch.core.judging.finding import Finding
from elvatch.core.judging.judged import Judged, SetKnown
from elvatch.core.picture.sample import finest_pixel_m
from elvatch.core.refusal import RefusalError
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock.description import Category
from elvatch.core.stock.facts import MapFacts, SeamFact, SetFacts, SetFinding
from elvatch.core.stock.overlays.wiped import SCRATCHES_TILE_M
from elvatch.core.stock.pyramid import Pyramid
from tests.conftest import NAMES, file_ground, flat_set, layer, plane, recipe
from tests.core.handing import entry, rolling, source_of

SETS: dict[str, Pyramid] = {name: flat_set(0.2 + 0.05 * k) for k, name in enumerate(NAMES)}
_NO_SEAM = SeamFact(ratio=1, worst_ratio=1, worst_from=0, worst_to=1)
SEEN_AGAIN = repetition.Repetition(0.9, 0.8, 0, 0)
SMALL = Fine(value=256)


def known(
    size_px: int = 512, colour: float = 0.2, rough: float = 0.8, category: Category = "soil and mud", odd: str = ""
) -> SetKnown:
    told = MapFacts(
        role="roughness",
        width_px=size_px,
        height_px=size_px,
        bits=8,
        levels=200,
        least=0,
        most=1,
        mean=rough,
        across=_NO_SEAM,
        down=_NO_SEAM,
    )
    facts = SetFacts(
        maps=[told],
        seam=1,
        repetition_far=0,
        repetition_near=0,
        colour=[colour] * 3,
        memory_bytes=1,
        findings=[SetFinding(text=odd, mend="turn-green")] if odd else [],
    )
    return SetKnown("Set", category, size_px, facts, 1.0)


def judged(
    site: Recipe,
    land: Heightfield,
    sets: Sequence[SetKnown] = (),
    counts: dict[str, float] | None = None,
    repeats: Callable[[int], repetition.Repetition] | None = None,
) -> Judged:
    measures = source_of(site, land, SETS).measures
    evidence = Evidence(
        land.width_m,
        land.depth_m,
        measures.map,
        marks=site.marks,
        reach=measures.reach,
    )
    source = source_of(site, land, SETS, evidence=evidence)
    prepared = plan.prepare(site.layers, SETS, evidence)
    at = places.on_grid(source.survey, 64, 64, 0, 64)
    found = function.ask(prepared, at).shares
    shares = np.stack([found[:, p] if p >= 0 else np.zeros(len(found), np.float32) for p in prepared.positions], 1)
    facts = dict(zip(NAMES, [*sets, *[known()] * 5], strict=False))
    return Judged(
        site,
        source.survey,
        prepared,
        at,
        shares.astype(np.float32),
        [None] * len(site.layers),
        facts,
        finest_pixel_m(site.stands.near),
        standing.on_top(prepared, source.survey, site.peg.east_m, site.peg.north_m),
        counts or {},
        source,
        repeats or (lambda _k: repetition.Repetition(0, 0, 0, 0)),
    )


def of_kind(site: Judged, kind: str) -> list[Finding]:
    return [one for one in findings.of_site(site) if one.kind == kind]


FITTING = Fit(tile_m=1.0, relief_m=0.05)


def base(**more: Any) -> Layer:
    given: dict[str, Any] = {"fit": FITTING, "look": Look(variation=0)} | more
    return layer("base", 0, **given)


def sited(*layers: Layer, land: Heightfield | None = None, **more: object) -> Recipe:
    return recipe(layers or (base(),), land or rolling()).model_copy(update={"sheets": (), **more})


def test_twenty_clean_sites_raise_nothing() -> None:
    # slope in 8 bits is fine, heights are not
    written = (entry("height", "height", type="uint16"), entry("slope", "slope"))
    for k in range(20):
        land = rolling(129, 100.0 + 20 * k, 8.0 + 0.3 * k)
        top = layer(
            "top",
            1,
            Rule(clauses=(OnMeasure(measure="slope", unit="°", lower=2.0 + 0.1 * k, soft_lower=1.0),)),
            fit=Fit(tile_m=0.8 + 0.05 * k, relief_m=0.03, projection="triplanar"),
        )
        sheet = Sheet(
            id="sheet",
            name="Maps",
            entries=(written),
            fine=SMALL,
        )
        found = findings.of_site(judged(sited(base(), top, land=land, sheets=(sheet,)), land))
        assert found == [], (k, [(one.kind, one.text) for one in found])


def cut_off() -> Judged:
    land = rolling()
    top = float(np.quantile(land.heights_m, 0.9))
    return judged(sited(land=land), Heightfield(np.minimum(land.heights_m, np.float32(top)), 100, 100))


def stepped() -> Judged:
    land = rolling()
    low, high = land.lowest_m, land.highest_m
    codes = np.round((land.heights_m - low) / (high - low) * 60)
    heights = Heightfield((low + codes / 60 * (high - low)).astype(np.float32), 100, 100)
    return judged(sited(land=heights, ground=file_ground(heights)), heights)


def nowhere() -> Judged:
    land = rolling()
    return judged(
        sited(
            base(),
            layer("high", 1, Rule(clauses=(OnMeasure(measure="slope", unit="°", lower=80),)), fit=FITTING),
            land=land,
        ),
        land,
    )


def asking_for_what_is_gone() -> Judged:
    rule = Rule(clauses=(OnPainted(mask="lostmask", called="Old paint"),))
    return judged(sited(base(), layer("top", 1, rule, fit=FITTING)), rolling())


def swollen() -> Judged:
    """A layer at six times its true size on what is steep, one at half of it below."""
    half = FITTING.model_copy(update={"tile_m": 0.5})
    large = Fit(tile_m=6.0, relief_m=0.3, projection="triplanar")
    rule = Rule(clauses=(OnMeasure(measure="slope", unit="°", lower=8.0),))
    return judged(sited(base(fit=half), layer("large", 1, rule, fit=large)), rolling())


def cut_out() -> Judged:
    rule = Rule(clauses=(OnMeasure(measure="slope", unit="°", lower=4.0, upper=9.0, soft_upper=1.0),))
    return judged(sited(base(), layer("cut", 1, rule, fit=FITTING)), rolling())


def huge_marks() -> Judged:
    """Scratches four times as large as life on a layer at its true size, and some that are as large as its stones."""
    scratches = {"source": {"kind": "made", "what": "scratches"}}
    wears = tuple(
        Wear.model_validate({"id": id, "name": id, "lie": {"tile_m": times * SCRATCHES_TILE_M}} | scratches)
        for id, times in (("huge", 4.0), ("right", 1.5))
    )
    return judged(sited(wears=wears), rolling())


def pulled() -> Judged:
    land = plane(60)
    return judged(sited(land=land), land)


def things(**more: Any) -> Judged:
    thing = Thing(id="boulder", name="Boulder", source=DrawnThing(what="boulder"))
    return judged(sited(things=(thing,), **more), rolling(), counts={"stones": 5000.0})


def set_up() -> Judged:
    ground = float(survey(rolling()).heights[64, 64])
    one = SetThing(
        id="hung", name="Hung", thing="boulder", east_m=50, north_m=50, size_m=1, follows=False, foot_m=ground + 0.75
    )
    return things(set_things=(one,))


def too_many() -> Judged:
    strew = Strew(id="stones", name="Stones", kinds=(Mixed(thing="boulder"),), at_most=1000, per_100_m2=50)
    return things(strews=(strew,))


def sheet_of(*entries: object, **more: object) -> Judged:
    sheet = Sheet.model_validate({"id": "sheet", "name": "Maps", "entries": entries, "fine": SMALL} | more)
    layers = (layer(f"l{k}", k, fit=FITTING, opacity=0.6) for k in range(5))
    return judged(sited(*layers, sheets=(sheet,)), rolling(), [known(64)] * 5)


def worn() -> Judged:
    wear = Wear.model_validate(
        {
            "id": "cuts",
            "name": "Cuts",
            "source": {"kind": "made", "what": "scratches"},
            "effects": {"relief": {"way": "carve", "depth_mm": 90.0}},
        }
    )
    return judged(sited(wears=(wear,)), rolling())


def test_a_rule_may_ask_for_all_that_is_there() -> None:
    one = SetThing(id="hung", name="Hung", thing="boulder", east_m=50, north_m=50, size_m=1)
    rule = Rule(clauses=(OnNear(to="thing", target="hung", called="Hung"),))
    thing = Thing(id="boulder", name="Boulder", source=DrawnThing(what="boulder"))
    site = sited(base(), layer("top", 1, rule, fit=FITTING), things=(thing,), set_things=(one,))
    assert not of_kind(judged(site, rolling()), "gone")
    assert of_kind(judged(site.model_copy(update={"set_things": ()}), rolling()), "gone")


MADE: dict[str, tuple[Callable[[], Judged], float | None, float]] = {
    "at-limits": (cut_off, 10.0, 0.35),
    "few-levels": (stepped, 61, 0.02),
    "covers-nothing": (nowhere, 0.0, 0.001),
    "gone": (asking_for_what_is_gone, 1, 0),
    # at 60 degrees a metre of texture lies over two of ground everywhere
    "stretched": (pulled, 100, 0.1),
    "scale": (swollen, 12.0, 1e-6),
    "scale of wear": (huge_marks, 4.0, 1e-6),
    "hard-edge": (cut_out, 1, 0),
    "too-coarse": (lambda: judged(sited(), rolling(), [known(64)]), 64.0, 0.01),
    "too-fine": (lambda: judged(sited(), rolling(), [known(8192)]), 8192.0, 0.01),
    "relief-large": (lambda: judged(sited(base(fit=Fit(tile_m=1, relief_m=0.6))), rolling()), 0.6, 1e-6),
    "direction-turned": (
        lambda: judged(
            sited(base(fit=FITTING.model_copy(update={"repeats": Repeats(kind="turn")}))),
            rolling(),
            [known(category="rock")],
        ),
        None,
        0,
    ),
    "dark": (lambda: judged(sited(), rolling(), [known(colour=0.005)]), 0.005, 1e-4),
    "bright": (lambda: judged(sited(), rolling(), [known(colour=0.97)]), 0.97, 1e-3),
    "wet": (lambda: judged(sited(), rolling(), [known(rough=0.2)]), 0.2, 1e-6),
    "set": (lambda: judged(sited(), rolling(), [known(odd="a seam")]), None, 0),
    "repeats": (lambda: judged(sited(), rolling(), repeats=lambda _k: SEEN_AGAIN), 0.8, 1e-6),
    "floats": (set_up, 0.75, 0.02),
    "ceiling": (too_many, 5000, 1),
    "few-bits": (lambda: sheet_of(entry("height", "height")), 8, 0),
    "finer-than-sets": (lambda: sheet_of(entry("paint", "colour"), fine=Fine(value=16384)), 163.84, 0.01),
    "sheet": (lambda: sheet_of(entry("same", "height"), entry("other", "slope", file="{site}_same")), None, 0),
    "many-layers": (lambda: sheet_of(entry("weights", "weights")), 1, 0),
    "wear-deep": (worn, None, 0),
}


@pytest.mark.parametrize("kind", MADE)
def test_what_is_odd_is_found_with_its_number_and_its_mend_ends_it(kind: str) -> None:
    make, amount, off = MADE[kind]
    kind = kind.removesuffix(" of wear")
    site = make()
    found = of_kind(site, kind)
    assert found, [one.kind for one in findings.of_site(site)]
    if amount is not None:
        assert found[0].amount == pytest.approx(amount, abs=off)
    if found[0].mend is None:
        with pytest.raises(RefusalError, match="by hand"):
            findings.mended(site, found[0].id)
        return
    label, after = findings.mended(site, found[0].id)
    assert found[0].mend in label
    if kind in ("few-levels", "repeats", "ceiling"):
        # what was measured stays as it was given here: the recipe says what is done
        assert after != site.recipe
        return
    again = dataclasses.replace(judged(after, _land(site)), sets=site.sets)
    assert [one.text for one in of_kind(again, kind)] == []


def _land(site: Judged) -> Heightfield:
    return Heightfield(site.survey.heights, site.survey.width_m, site.survey.depth_m)


def test_feet_are_told_as_deep_as_the_relief_stands() -> None:
    deep = base(fit=Fit(tile_m=8.0, relief_m=2.0, relief_mid=0.0))
    site = judged(sited(deep, land=plane(0)), plane(0))
    # the set lies half way up everywhere: a metre above the ground
    assert of_kind(site, "feet")[0].amount == pytest.approx(1.0, abs=0.02)


def test_what_was_waved_through_stays_with_its_word_until_it_is_gone() -> None:
    site = judged(sited(), rolling(), [known(rough=0.2)])
    [wet] = of_kind(site, "wet")
    waved = site.recipe.model_copy(update={"waved": (Waved(id=wet.id, word="it is wet"),)})
    told = of_kind(dataclasses.replace(site, recipe=waved), "wet")
    assert [one.waved for one in told] == ["it is wet"]
    # another number of the same thing is the same finding
    other = judged(waved, rolling(), [known(rough=0.25)])
    assert of_kind(other, "wet")[0].waved == "it is wet"
    assert math.isclose(of_kind(other, "wet")[0].amount, 0.25)
    dry = judged(waved, rolling())
    assert of_kind(dry, "wet") == []


def test_a_line_is_looked_for_without_measuring_the_ground(monkeypatch: pytest.MonkeyPatch) -> None:
    site = cut_out()
    asked: list[str] = []
    measured = site.source.measures.map

    def spied(name: MeasureName, *more: object) -> object:
        asked.append(name)
        return measured(name, *more)  # type: ignore[arg-type]

    monkeypatch.setattr(site.source.measures, "map", spied)
    [line] = [one for one in findings.of_site(site, dear=False) if one.kind == "hard-edge"]
    assert asked == [], "it follows every edit"
    findings.mended(site, line.id)
    assert asked == ["slope"]
