"""What is asked, seen and lit anew where little changed is what a first look shows, and little is."""

from __future__ import annotations

from datetime import date
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elvatch.core.cover import function, plan
from elvatch.core.cover.asked_again import AskedAgain, AskedCover
from elvatch.core.cover.material import Material
from elvatch.core.cover.plan import Prepared
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer
from elvatch.core.document.light import Light, When
from elvatch.core.document.marks import DrawnPath, Marks, PathPoint
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.rule import Clause, OnPath, Rule
from elvatch.core.ground import places
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import survey
from elvatch.core.parallel import Token
from elvatch.core.picture import gbuffer, scene_changes, shade
from elvatch.core.picture import picture as pictures
from elvatch.core.picture.fragments import GBuffer
from elvatch.core.picture.picture import Renderer, Setting, View
from elvatch.core.picture.remembered import same_rows
from elvatch.core.picture.sunlit import SunSeen
from elvatch.core.picture.sunlit import sunlit as sun_of
from elvatch.core.picture.terrain import terrain
from elvatch.core.refusal import CancelledError
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock import pyramid
from tests.conftest import NAMES, layer, plane, recipe
from tests.core.test_cover import SETS, any_clause, any_layer

GROUND = plane(18, 70, samples=129)
AT = places.on_grid(survey(GROUND), 40, 40, 0, 40)
NO_EVIDENCE = Evidence(100.0, 100.0)


def rippled() -> dict[str, pyramid.Pyramid]:
    """Sets of which one has relief that pictures see as shape."""
    across = np.linspace(0, 4 * np.pi, 64, endpoint=False)
    ripple = np.tile(0.5 + 0.5 * np.sin(across), (64, 1)).astype(np.float32)
    level = np.zeros((64, 64, 3), np.float32)
    level[..., 2] = 1.0
    colour = np.stack([ripple * 0.5 + 0.1] * 3, axis=-1)
    maps = pyramid.Maps(colour, level, np.full_like(ripple, 0.7), ripple, np.ones_like(ripple))
    return SETS | {NAMES[1]: pyramid.build(maps, 1.0, 0.2)}


def cover(layers: tuple[Layer, ...], evidence: Evidence = NO_EVIDENCE) -> AskedCover:
    prepared = plan.prepare(layers, SETS, evidence)
    names = plan.names(layers, prepared, evidence)
    return AskedCover(prepared, names, plan.unruled_name(layers, (), prepared, names))


def lane(north_m: float, west_m: float = 0.0) -> Evidence:
    points = tuple(PathPoint(east_m=x, north_m=north_m) for x in (west_m, 100.0))
    path = DrawnPath(id="lane", name="Lane", points=points, width_m=1.5, wobble_m=0)
    return Evidence(100.0, 100.0, marks=Marks(paths=(path,)))


def same(found: Material, fresh: Material) -> None:
    for one, two in zip(found, fresh, strict=True):
        np.testing.assert_array_equal(one, two)


@given(
    st.lists(any_layer, min_size=2, max_size=5),
    st.lists(st.tuples(st.integers(0, 4), st.lists(any_clause, max_size=3)), min_size=1, max_size=5),
    st.data(),
)
@settings(max_examples=30)
def test_after_any_rules_and_moves_the_answer_is_that_of_a_first_question(
    column: list[Layer], edits: list[tuple[int, list[Clause]]], data: st.DataObject
) -> None:
    layers = [one.model_copy(update={"id": f"layer{k}"}) for k, one in enumerate(column)]
    at, asked = AT, AskedAgain(AT, 2)
    same(asked.ask(cover(tuple(layers))), function.unjoined(cover(tuple(layers)).prepared, at, taps=2))
    for which, clauses in edits:
        k = which % len(layers)
        layers[k] = layers[k].model_copy(update={"rule": Rule(clauses=tuple(clauses))})
        if data.draw(st.booleans()):
            # some places stay, some go, others come
            count = len(at.x_m)
            rows = np.array(data.draw(st.lists(st.integers(-1, count - 1), min_size=1, max_size=300, unique=True)))
            at = places.some(at, np.where(rows >= 0, rows, (rows[0] + 7) % count))
            asked.move(at, rows)
        elif data.draw(st.booleans()):
            # none stays: what was remembered of the others makes room
            at = places.some(AT, np.arange(data.draw(st.integers(0, 99)), data.draw(st.integers(100, 1600))))
            asked.turn(at)
        same(asked.ask(cover(tuple(layers))), function.unjoined(cover(tuple(layers)).prepared, at, taps=2))


def test_a_path_that_moves_is_asked_where_it_was_and_where_it_is(monkeypatch: pytest.MonkeyPatch) -> None:
    asked, plain = AskedAgain(AT, 2), function.unjoined
    counts: list[int] = []

    def counted(prepared: Prepared, at: Places, *more: Any) -> Material:
        counts.append(len(at.x_m))
        return plain(prepared, at, *more)

    monkeypatch.setattr(function, "unjoined", counted)
    layers = (layer("base", 0), layer("top", 1, Rule(clauses=(OnPath(path="lane", called="Lane"),))))
    for north in (30.0, 70.0, 70.0):
        asked.ask(cover(layers, lane(north)))
    # a row of places is 2.5 m wide: all at first, two of the 40 rows then, none where nothing changed
    assert counts[0] == 1600
    assert 40 <= counts[1] <= 160
    assert len(counts) == 2


def test_a_question_that_is_stopped_leaves_nothing_wrong_behind() -> None:
    asked, token = AskedAgain(AT, 2), Token()
    layers = (layer("base", 0), layer("top", 1, Rule(clauses=(OnPath(path="lane", called="Lane"),))))
    asked.ask(cover(layers, lane(30.0)))
    token.cancel()
    with pytest.raises(CancelledError):
        asked.ask(cover(layers, lane(70.0)), token)
    same(asked.ask(cover(layers, lane(50.0))), function.unjoined(cover(layers, lane(50.0)).prepared, AT, taps=2))


@given(st.lists(st.integers(0, 8), max_size=60), st.lists(st.integers(0, 8), max_size=60), st.integers(0, 99))
def test_a_place_is_found_again_only_where_its_pixel_saw_the_very_same(
    was: list[int], now: list[int], seed: int
) -> None:
    rng = np.random.default_rng(seed)
    first, second = (np.array(one, np.int32) for one in (was, now))
    before, after = (places.zeros(len(one)) for one in (first, second))
    for one in (before, after):
        one.x_m[:], one.sky[:] = rng.integers(0, 2, len(one.x_m)), rng.integers(0, 2, len(one.x_m))
    rows = same_rows(before, first, after, second)
    for i, row in enumerate(rows):
        candidates = np.flatnonzero(first == second[i])
        nth = int((second[:i] == second[i]).sum())
        there = candidates[nth] if nth < len(candidates) else -1
        alike = there >= 0 and before.x_m[there] == after.x_m[i] and before.sky[there] == after.sky[i]
        assert row == (there if alike else -1)


def edits() -> list[tuple[Recipe, Evidence]]:
    """A site as it is edited: a path that moves and ends, other rules, light, relief, a peg."""
    stand = Stand(bearing_deg=20, tilt_deg=30, distance_m=5, view_deg=40)
    ruled = layer("top", 1, Rule(clauses=(OnPath(path="lane", called="Lane"),)), fit=Fit(tile_m=1.0, relief_m=0.4))
    site = recipe((layer("base", 0), ruled), GROUND).model_copy(
        update={
            "stands": Stands(near=stand, mid=stand.model_copy(update={"distance_m": 9})),
            "peg": Peg(east_m=50, north_m=50),
        }
    )
    out = [(site, lane(51.0, west)) for west in (49.0, 50.0, 50.5)]
    out.append((site, lane(52.0, 50.5)))
    low = site.model_copy(update={"light": Light(sun_height_deg=12, sun_bearing_deg=200)})
    out += [(low, lane(52.0, 50.5)), (low, lane(52.0, 51.0)), (low, lane(52.0, 51.1))]
    raised = ruled.model_copy(update={"fit": ruled.fit.model_copy(update={"relief_m": 0.5})})
    out.append((low.model_copy(update={"layers": (site.layers[0], raised)}), lane(52.0, 51.1)))
    dated = Light(when=When(latitude_deg=54, day=date(2026, 6, 21), hour=9))
    out.append((site.model_copy(update={"light": dated}), lane(52.0, 51.0)))
    out.append((site.model_copy(update={"peg": Peg(east_m=50.5, north_m=50)}), lane(51.0, 50.0)))
    out.append((site, lane(51.0, 50.0)))
    # over the peg: the surveyor stands on it, and no longer
    out += [(site, lane(50.0, 49.5)), (site, lane(50.0, 51.5)), (site, lane(50.0, 52.0))]
    return out


@pytest.mark.parametrize(("stand", "looks"), [("near", 1), ("near", 4), ("mid", 4)])
def test_pictures_after_edits_are_those_of_a_first_look(
    stand: str, looks: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    land, kept, sets = terrain(GROUND), Renderer(), rippled()
    view = View(stand, 200, 150, looks)  # type: ignore[arg-type]
    again: list[float] = []
    lit: list[float] = []
    sunny: list[float] = []
    look, light, sun_seen = gbuffer.look, shade.again, sun_of

    def looked(*given: object, **named: object) -> GBuffer:
        buffer = look(*given, **named)  # type: ignore[arg-type]
        if given[6] is not None:
            again.append(float(given[6][1].mean()))  # type: ignore[index]
            whole = look(*given[:6])  # type: ignore[arg-type]
            assert buffer.looks is not None
            assert whole.looks is not None
            np.testing.assert_array_equal(buffer.looks.all.depth[..., 0], whole.looks.all.depth[..., 0])
            np.testing.assert_array_equal(buffer.looks.all.kind, whole.looks.all.kind)
        return buffer

    def lighted(*given: object) -> np.ndarray:
        lit.append(float(given[4].mean()))  # type: ignore[attr-defined]
        return light(*given)  # type: ignore[arg-type]

    def sunlit(*given: object) -> SunSeen:
        found = sun_seen(*given)  # type: ignore[arg-type]
        if given[7] is not None:
            sunny.append(float((given[7].rows < 0).mean()))  # type: ignore[attr-defined]
            same_sun = zip(found, sun_seen(*given[:7]), strict=True)  # type: ignore[arg-type]
            assert all(np.array_equal(one, two) for one, two in same_sun)
        return found

    for site, evidence in edits():
        with monkeypatch.context() as patch:
            patch.setattr(pictures, "sunlit", sunlit)
            patch.setattr(gbuffer, "look", looked)
            patch.setattr(shade, "again", lighted)
            shown = kept.take(land, site, sets, view, evidence=evidence).pixels
        fresh = Renderer().take(land, site, sets, view, evidence=evidence).pixels
        np.testing.assert_array_equal(shown, fresh)
    # the path's end is moved in three of the edits: few pixels look again or to the sun, most keep their light
    assert min(again) < 0.5
    assert min(lit) < 0.5
    assert min(sunny) < 0.5


def test_boxes_are_where_scenes_differ_and_other_frames_have_none() -> None:
    land, renderer, sets = terrain(GROUND), Renderer(), rippled()
    scenes = []
    for site, evidence in (edits()[k] for k in (0, 1, 9)):
        renderer.take(land, site, sets, View("near", 120, 90, 1), evidence=evidence)
        scenes.append(renderer._kept[True].last._items.popitem()[1].scene)
    boxes = scene_changes.changed_boxes(scenes[0], scenes[1])
    assert boxes is not None
    # from 49 to 50 m east of a lane 1.5 m wide
    assert boxes[..., 0].min() > 46
    assert boxes[..., 0].max() < 54
    assert scene_changes.changed_boxes(scenes[0], scenes[0]) is not None
    assert scene_changes.changed_boxes(scenes[0], scenes[2]) is None


def test_what_is_remembered_follows_a_picture_all_of_which_was_kept(monkeypatch: pytest.MonkeyPatch) -> None:
    land, sets, view = terrain(GROUND), rippled(), View("near", 200, 150, 4)
    (site, here), (_, there) = edits()[0], edits()[3]
    ask = function.unjoined
    counts: list[int] = []

    def counted(*given: object) -> Material:
        counts[-1] += len(given[1].x_m)  # type: ignore[attr-defined]
        return ask(*given)  # type: ignore[arg-type]

    monkeypatch.setattr(function, "unjoined", counted)
    for catches_up in (False, True):
        kept = Renderer()
        setting = Setting(catches_up=catches_up)
        counts.append(0)
        for evidence in (here, there, here):
            kept.take(land, site, sets, view, evidence=evidence, setting=setting)
        counts[-1] = 0
        kept.take(land, site, sets, view, evidence=lane(51.0, 49.2))
    assert counts[1] < 0.5 * counts[0]
