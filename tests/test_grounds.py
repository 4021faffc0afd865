"""A ground asked for its numbers: facts, histogram, cuts, places, against shapes whose answers are known."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
import tifffile

from elvatch.app import grounds, stages
from elvatch.app.histogram import of_drape
from elvatch.app.workshop import Workshop
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.core.ground.description import Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.steps.level import LevelStep
from elvatch.core.picture.picture import View
from elvatch.core.run import Run
from tests.conftest import file_ground, plane
from tests.core.shapes import ground_of


def stored(workshop: Workshop, land: Heightfield) -> Ground:
    stream = io.BytesIO()
    np.save(stream, land.heights_m)
    return file_ground(land, workshop.store.files.put(stream.getvalue()))


def test_facts_of_a_plane(workshop: Workshop) -> None:
    facts = workshop.grounds.facts(stored(workshop, plane(20, 90)))
    assert (facts.rows, facts.cols, facts.left) == (65, 65, False)
    assert facts.cell_x_m == pytest.approx(100 / 64)
    assert facts.steepest_deg == pytest.approx(20, abs=0.01)
    assert facts.mean_deg == pytest.approx(20, abs=0.01)
    assert facts.highest_m - facts.lowest_m == pytest.approx(100 * np.tan(np.radians(20)), abs=1e-3)
    assert facts.share_lowest == pytest.approx(1 / 65, abs=0.002)


def test_a_cut_off_summit_shows_in_the_facts(workshop: Workshop) -> None:
    hill = ground_of(lambda x, y: 40 * np.exp(-(x * x + y * y) / 900))
    whole = stored(workshop, hill)
    assert workshop.grounds.facts(whole).share_highest < 0.001
    top = LevelStep(id="step", name="x", level_m=20, fill=False, soft_m=0)
    facts = workshop.grounds.facts(whole.model_copy(update={"steps": (top,)}))
    expected = float((hill.heights_m >= 20).mean())
    assert facts.share_highest == pytest.approx(expected, abs=0.002)
    assert facts.highest_m == 20


def test_a_histogram_counts_every_sample_where_it_lies(workshop: Workshop) -> None:
    ground = stored(workshop, plane(20, 90))
    drape = workshop.grounds.drape(ground, "elevation", None, None, None)
    found = of_drape(drape)
    assert found.counts.sum() == 65 * 65
    assert found.mean == pytest.approx(50, abs=1e-3)
    # a plane has as much ground at every elevation, the ends of the ramp aside
    assert found.counts[2:-3].max() <= 65 * 2
    steep = of_drape(workshop.grounds.drape(ground, "slope", None, None, None))
    assert np.count_nonzero(steep.counts) <= 3


def test_a_cut_follows_the_ground_between_its_ends(workshop: Workshop) -> None:
    ground = stored(workshop, plane(20, 90))
    cut = workshop.grounds.cut(ground, (10, 50), (90, 50))
    assert (cut.distance_m[0], cut.distance_m[-1]) == (0, 80)
    np.testing.assert_allclose(cut.elevation_m, 50 + np.tan(np.radians(20)) * (cut.distance_m - 40), atol=1e-2)
    across = workshop.grounds.cut(ground, (30, 0), (30, 100))
    assert np.ptp(across.elevation_m) < 1e-3


def test_a_place_is_answered_inside_and_beyond_the_border(workshop: Workshop) -> None:
    ground = stored(workshop, plane(20, 90))
    drape = workshop.grounds.drape(ground, "slope", None, None, None)
    inside = workshop.grounds.at(ground, 75, 20, drape)
    assert inside.elevation_m == pytest.approx(50 + 25 * np.tan(np.radians(20)), abs=1e-2)
    assert inside.value == pytest.approx(20, abs=0.01)
    beyond = workshop.grounds.at(ground, 1e6, 20, None)
    assert beyond.elevation_m == pytest.approx(50 + 50 * np.tan(np.radians(20)), abs=1e-2)


def test_a_measure_without_a_size_is_the_grounds_own_grid(workshop: Workshop) -> None:
    land = ground_of(lambda x, y: 30 * np.cos(x / 20) + 0.2 * y)
    ground = stored(workshop, land)
    of = Recipe(ground=ground, peg=Peg(east_m=1, north_m=1))
    data, size = workshop.measure_tiff(of, "elevation", None)
    assert size == (129, 129)
    np.testing.assert_allclose(tifffile.imread(io.BytesIO(data)), land.heights_m, atol=1e-3)
    _, half = workshop.measure_tiff(of, "slope", 64)
    assert half == (64, 64)


def test_the_same_ground_is_measured_once(workshop: Workshop) -> None:
    ground = stored(workshop, plane(20, 90))
    assert workshop.grounds.land(ground) is workshop.grounds.land(ground.model_copy(deep=True))
    assert workshop.grounds.measures(ground) is workshop.grounds.measures(ground)
    wider = ground.model_copy(update={"width_m": 200.0})
    assert workshop.grounds.land(wider) is not workshop.grounds.land(ground)
    assert workshop.grounds.facts(wider).steepest_deg < 12


def test_while_a_vast_ground_is_measured_a_thinned_one_is_shown(
    workshop: Workshop, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(grounds, "VAST", 1000)
    monkeypatch.setattr(grounds, "_COARSE", 17)
    ground = stored(workshop, plane(20, 90))
    state = workshop.sites.new("Vast", ground)
    surveys = tmp_path / "data/surveys"
    assert not list(surveys.glob("*.arrays")), "a new site waits for nothing to be measured"
    preview = workshop.grounds.while_measured(ground)
    assert preview is not None
    thinned = workshop.grounds.land(ground, preview).ground
    assert (thinned.rows, thinned.cols) == (17, 17)
    whole = workshop.grounds.shaped(ground).ground
    np.testing.assert_array_equal(thinned.heights_m, whole.heights_m[::4, ::4])
    quick = workshop.pictures.take(state.recipe, View("far", 60, 40, 1))
    assert not list(surveys.glob("*.arrays"))
    rested = workshop.pictures.take(state.recipe, View("far", 60, 40, 4))
    assert len(list(surveys.glob("*.arrays"))) == 1
    assert workshop.grounds.while_measured(ground) is None
    assert quick.pixels.shape == rested.pixels.shape


def test_what_was_dear_to_shape_is_not_shaped_again_after_a_restart(
    workshop: Workshop, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(stages, "_DEAR_S", 0.0)
    filled = [LevelStep(id=f"step{k}", name=f"level {k}", level_m=40.0 + k, cut=False, soft_m=0.0) for k in range(3)]
    ground = stored(workshop, plane(20, 90)).model_copy(update={"steps": tuple(filled)})
    first = workshop.grounds.shaped(ground).ground.heights_m

    applied: list[str] = []
    apply = LevelStep.apply

    def counted(self: LevelStep, shaped: Shaped, run: Run) -> Shaped:
        applied.append(self.id)
        return apply(self, shaped, run)

    monkeypatch.setattr(LevelStep, "apply", counted)
    later = grounds.Grounds(workshop.store)
    later.make_ready(ground, "step2")
    assert applied == []
    last = filled[2].model_copy(update={"level_m": 45.0})
    moved = later.shaped(ground.model_copy(update={"steps": (*filled[:2], last)}))
    assert applied == ["step2"]
    assert moved.ground.heights_m.min() == pytest.approx(45)
    back = later.shaped(ground).ground.heights_m
    np.testing.assert_array_equal(back, first)

    large = stages.Stages(workshop.store.made, most_samples=first.size - 1)
    large.get("too large", lambda: Shaped(Heightfield(first, 100.0, 100.0)))
    assert stages.Stages(workshop.store.made, first.size).peek("too large") is None
    kept = stages.Stages(workshop.store.made, first.size)
    kept.get("just so large", lambda: Shaped(Heightfield(first, 100.0, 100.0)))
    found = stages.Stages(workshop.store.made, first.size).get("just so large", lambda: pytest.fail("made again"))
    np.testing.assert_array_equal(found.ground.heights_m, first)
