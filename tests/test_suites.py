"""Suites: laid on another ground as they are or by quantile, packed and brought elsewhere."""

from __future__ import annotations

import io
import itertools
import json
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.app.workshop import Workshop
from elvatch.core.document import suite as suites
from elvatch.core.document.recipe import MOST_LAYERS, Recipe
from elvatch.core.document.rule import OnLayer, OnMeasure, OnPainted, Rule, on
from elvatch.core.document.suite import SHARES, Suite, at_same_quantile
from elvatch.core.document.wear import Made, Wear
from elvatch.core.ground.clauses import between
from elvatch.core.refusal import RefusalError
from elvatch.store.store import Store
from tests.conftest import file_ground, layer, put_set
from tests.core.handing import rolling


def site(shop: Workshop, high_m: float) -> Recipe:
    """A site over rolling ground of this height, without layers."""
    stream = io.BytesIO()
    land = rolling(129, 200.0)
    land = land.__class__(land.heights_m * np.float32(high_m), land.width_m, land.depth_m)
    np.save(stream, land.heights_m)
    return shop.sites.new_recipe(file_ground(land, shop.store.files.put(stream.getvalue())), empty=True)


def column(shop: Workshop) -> tuple[Recipe, list[str]]:
    """A site with a layer below, a steep one, and one that lies on neither; a wear on the steep one."""
    sets = [put_set(shop.store, of, name) for of, name in ((0.2, "Low"), (0.4, "Steep"), (0.6, "Rest"))]
    steep = Rule(clauses=(on(between("slope", lower=14.0, soft_lower=3.0)),))
    rest = Rule(
        clauses=(
            OnLayer(join="except", layer="steep0000", called="Steep"),
            on(between("aspect", 300.0, 60.0), "or"),
            OnPainted(mask="brushed", called="Brushed", join="add"),
        )
    )
    named = zip(("Low", "Steep", "Rest"), sets, (None, steep, rest), strict=True)
    layers = [layer(name, 0, rule).model_copy(update={"set": of}) for name, of, rule in named]
    wear = Wear(id="runs", name="Runs", source=Made(what="smears"), place="steep0000", over=("steep0000", "low0000"))
    recipe = site(shop, 1.0)
    return recipe.model_copy(update={"layers": tuple(layers), "wears": (wear,)}), [one.id for one in layers]


def numbered() -> Any:
    count = itertools.count()
    return lambda: f"new{next(count):04d}"


def test_a_limit_keeps_its_share_of_the_ground_or_its_number(workshop: Workshop) -> None:
    recipe, ids = column(workshop)
    line = workshop.suites.keep(recipe, ids, "Slopes", "Here")
    assert (line.layers, line.wears, line.measured) == (["Rest", "Steep", "Low"], 1, 1)
    there = site(workshop, 2.3)
    share = {}
    for how in ("limits", "quantiles"):
        laid = workshop.suites.lay(there, line.id, None, how).recipe
        steep = laid.layers[1]
        (clause,) = steep.rule.clauses
        assert isinstance(clause, OnMeasure)
        assert clause.lower is not None
        at = workshop.covers.spread(workshop.grounds.land(laid.ground))
        share[how] = float(workshop.judging.says(laid, steep.rule, at).mean())
        if how == "limits":
            assert (clause.lower, clause.soft_lower) == (14.0, 3.0)
        else:
            # heights times 2.3 are tangents times 2.3, place by place
            wanted = [np.degrees(np.arctan(2.3 * np.tan(np.radians(of)))) for of in (14.0, 11.0)]
            assert [clause.lower, clause.lower - clause.soft_lower] == pytest.approx(wanted, rel=0.01)
    at = workshop.covers.spread(workshop.grounds.land(recipe.ground))
    before = float(workshop.judging.says(recipe, recipe.layers[1].rule, at).mean())
    assert share["quantiles"] == pytest.approx(before, rel=0.02)
    assert share["limits"] > 1.5 * before


def test_what_is_laid_speaks_of_its_own_parts_and_tells_what_is_not_here(workshop: Workshop) -> None:
    recipe, ids = column(workshop)
    suite = suites.keep(recipe, ids[1:], "Two", "Here", lambda *_of: SHARES * 50)
    there = recipe.model_copy(update={"layers": recipe.layers[:2], "wears": ()})
    laid = suites.lay(suite, there, ids[0], "limits", lambda *_of: SHARES, numbered())
    assert [one.name for one in laid.recipe.layers] == ["Low", "Steep", "Rest", "Steep"]
    steep, rest = laid.recipe.layers[1:3]
    assert {steep.group, rest.group} == {"Two"}
    asked = rest.rule.clauses[0]
    assert isinstance(asked, OnLayer)
    assert asked.layer == steep.id != ids[1]
    (wear,) = laid.recipe.wears
    assert (wear.place, wear.over) == (steep.id, (steep.id,))
    assert laid.notes == ("Rest asks for Brushed, which is not here",)
    with pytest.raises(RefusalError, match="a layer of this column"):
        suites.lay(suite, there, "nothere", "limits", lambda *_of: SHARES, numbered())
    full = there.model_copy(update={"layers": tuple(layer(f"l{k}", 0) for k in range(MOST_LAYERS - 1))})
    with pytest.raises(RefusalError, match="at most"):
        suites.lay(suite, full, None, "limits", lambda *_of: SHARES, numbered())


@given(
    st.lists(st.floats(-1e4, 1e4), min_size=len(SHARES), max_size=len(SHARES)),
    st.lists(st.floats(-1e4, 1e4), min_size=len(SHARES), max_size=len(SHARES)),
    st.lists(st.floats(-3e4, 3e4), min_size=2, max_size=8),
)
def test_limits_keep_their_order_on_any_ground(there: list[float], here: list[float], values: list[float]) -> None:
    known, found = np.sort(there), np.sort(here)
    moved = [at_same_quantile(value, known, found) for value in sorted(values)]
    assert all(a <= b + 1e-6 for a, b in itertools.pairwise(moved))
    same = [at_same_quantile(value, known, known) for value in values]
    steps = np.diff(known).max() + 1e-6
    assert np.allclose(same, values, atol=steps, rtol=1e-9)


def test_a_suite_moves_to_another_machine_with_its_sets(workshop: Workshop, tmp_path: Path) -> None:
    recipe, ids = column(workshop)
    line = workshop.suites.keep(recipe, ids, "Slopes", "Here")
    title, data = workshop.suites.packed(line.id)
    assert title == "slopes.suite.zip"
    other = Workshop(Store(tmp_path / "other"))
    put_set(other.store, 0.4, "Steep")
    came = other.suites.bring(other.suites.look(io.BytesIO(data)))
    assert (came.layers, came.measured) == (line.layers, line.measured)
    # one of its sets was there already
    assert len(other.store.stock) == 3
    laid = other.suites.lay(site(other, 1.0), came.id, None, "limits").recipe
    here = workshop.suites.lay(site(workshop, 1.0), line.id, None, "limits").recipe
    assert [other.store.stock.state(one.set).description for one in laid.layers] == [
        workshop.store.stock.state(one.set).description for one in here.layers
    ]
    # a set that a kept suite needs stays in the stock
    other.store.stock.set_aside(laid.layers[0].set, True)
    with pytest.raises(RefusalError, match="the suite Slopes"):
        other.store.stock.remove(laid.layers[0].set)
    other.suites.forget(came.id)
    other.store.stock.remove(laid.layers[0].set)
    assert other.suites.all() == []


def test_a_damaged_suite_is_refused_whole(workshop: Workshop, tmp_path: Path) -> None:
    recipe, ids = column(workshop)
    _, data = workshop.suites.packed(workshop.suites.keep(recipe, ids, "Slopes", "Here").id)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        of = {name: archive.read(name) for name in archive.namelist()}
    told = json.loads(of["suite.json"])

    def written(members: dict[str, bytes]) -> io.BytesIO:
        stream = io.BytesIO()
        with zipfile.ZipFile(stream, "w") as archive:
            for name, content in members.items():
                archive.writestr(name, content)
        stream.seek(0)
        return stream

    def with_told(**more: Any) -> io.BytesIO:
        return written(of | {"suite.json": json.dumps(told | more).encode()})

    falling = told["suite"]["spreads"][0] | {"values": list(reversed(told["suite"]["spreads"][0]["values"]))}
    file = next(name for name in of if name.startswith("files/"))
    other = Workshop(Store(tmp_path / "other"))
    bad = [
        io.BytesIO(data[: len(data) // 2]),
        io.BytesIO(b"no zip"),
        written({}),
        with_told(format="elvatch-site"),
        with_told(suite=told["suite"] | {"layers": []}),
        with_told(suite=told["suite"] | {"spreads": [falling]}),
        with_told(sets={}),
        written({name: v for name, v in of.items() if name != file}),
        written(of | {"../outside": b"x"}),
        written(of | {file: of[file][::-1]}),
    ]
    for stream in bad:
        with pytest.raises(RefusalError):
            other.suites.bring(other.suites.look(stream))
    assert other.suites.all() == []
    assert len(other.store.stock) == 0
    assert not any(path.is_file() for path in (tmp_path / "other" / "files").rglob("*"))


def test_a_suite_needs_its_sets_and_a_name(workshop: Workshop) -> None:
    recipe, ids = column(workshop)
    for layers, name in ((["nothere"], "Name"), ([], "Name"), (ids, "  "), (ids, "x" * 81)):
        with pytest.raises((RefusalError, ValueError)):
            workshop.suites.keep(recipe, layers, name, "Here")
    gone = Suite(name="Gone", layers=(layer("Gone", 2),))
    with pytest.raises(RefusalError, match="not in the stock"):
        workshop.store.suites.keep("Gone", gone, [], gone.sets())
    assert workshop.suites.all() == []
