"""Find the rule: rules made at random are found again from noisy masks of them, noise is told to be noise."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray

from elvatch.core.document.clause import Join
from elvatch.core.document.rule import OnMeasure, Rule
from elvatch.core.ground import places
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import KINDS, MeasureName, Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import survey
from elvatch.core.judging import find_rule
from elvatch.core.refusal import RefusalError
from elvatch.core.rules import program, rules
from elvatch.core.rules.evidence import Evidence

SIDE, SIZE_M = 161, 512.0
ASKED: tuple[MeasureName, ...] = (
    "elevation",
    "slope",
    "aspect",
    "curvature-profile",
    "curvature-plan",
    "curvature-mean",
    "relative-height",
    "openness",
    "drainage",
    "wetness",
)
PLACES = 12_000


def terrain(seed: int) -> Heightfield:
    """Fractal ground, rougher or gentler."""
    rng = np.random.default_rng(seed)
    waves = np.fft.rfft2(rng.normal(size=(SIDE, SIDE)))
    often = np.hypot(np.fft.fftfreq(SIDE)[:, None], np.fft.rfftfreq(SIDE)[None])
    often[0, 0] = 1
    heights = np.fft.irfft2(waves * often ** -(1.7 + 0.1 * (seed % 4)), s=(SIDE, SIDE))
    heights = (heights - heights.min()) / np.ptp(heights) * (40 + 10 * seed)
    return Heightfield(heights.astype(np.float32), SIZE_M, SIZE_M)


class Site:
    """A terrain with its measures, all its samples as places."""

    def __init__(self, seed: int) -> None:
        land = terrain(seed)
        measures = Measures(Shaped(land))
        self.values = {name: measures.map(name, None).ravel() for name in ASKED}
        self.evidence = Evidence(SIZE_M, SIZE_M, measures.map, reach=measures.reach)
        x = np.tile(np.linspace(0, SIZE_M, SIDE), SIDE)
        y = np.repeat(np.linspace(SIZE_M, 0, SIDE), SIDE)
        self.at = places.on_ground(survey(land), x, y, 1e-3)

    def says(self, rule: Rule) -> NDArray[np.float32]:
        return rules.presences(program.compiled([("rule", rule)], self.evidence, ()), 0, self.at)


def clause(rng: np.random.Generator, site: Site, name: MeasureName, join: Join) -> OnMeasure:
    if name == "aspect":
        since, soft = rng.uniform(0, 360), rng.uniform(0, 30)
        until = (since + rng.uniform(90, 200)) % 360
        return OnMeasure(
            measure=name, unit="°", lower=since, upper=until, soft_lower=soft, soft_upper=soft, join=join
        )
    values = site.values[name]
    soft = float(rng.uniform(0, 0.08) * np.ptp(np.quantile(values, (0.05, 0.95))))
    start = rng.uniform(0.5, 0.8) if join == "or" else rng.uniform(0.15, 0.6)
    end = start + rng.uniform(0.15, 0.3) if join == "except" else rng.uniform(start + 0.25, 1.2)
    kind = rng.random()
    upto = min(1 - start + (0.2 if join == "and" else 0), 0.9)
    low = None if 0.5 <= kind < 0.8 else float(np.quantile(values, start))
    high = float(np.quantile(values, upto)) if 0.5 <= kind < 0.8 else None
    if kind >= 0.8 and end < 1:
        high = float(np.quantile(values, end))
    return OnMeasure(
        measure=name, unit=KINDS[name].unit, lower=low, upper=high, soft_lower=soft, soft_upper=soft, join=join
    )


def rule_of(rng: np.random.Generator, site: Site, count: int) -> tuple[Rule, NDArray[np.float32]]:
    """A rule each of whose clauses matters, and what it lets in."""
    while True:
        names = [str(name) for name in rng.permutation(ASKED)[:count]]
        joins = ["and", *rng.choice(["and", "and", "or", "except"], count - 1)]
        clauses = [clause(rng, site, name, join) for name, join in zip(names, joins, strict=True)]  # type: ignore[arg-type]
        found = site.says(Rule(clauses=tuple(clauses)))
        if not 0.08 < (found > 0.5).mean() < 0.8:
            continue
        fewer = [site.says(Rule(clauses=tuple(clauses[:k] + clauses[k + 1 :]))) for k in range(count)]
        if count == 1 or all(((one > 0.5) != (found > 0.5)).mean() > 0.04 for one in fewer):
            return Rule(clauses=tuple(clauses)), found


def test_thirty_six_of_forty_rules_are_found_again() -> None:
    good, missed = 0, []
    for seed in range(8):
        site, rng = Site(seed), np.random.default_rng(seed)
        for k in range(5):
            count = 1 + k % 4
            _rule, true = rule_of(rng, site, count)
            noisy = np.where(rng.random(len(true)) < 0.05, 1 - true, true)
            pick = rng.permutation(len(true))[:PLACES]
            found = find_rule.find({name: one[pick] for name, one in site.values.items()}, noisy[pick])
            rest = np.ones(len(true), bool)
            rest[pick] = False
            said, wanted = site.says(found.rule)[rest] > 0.5, true[rest] > 0.5
            overlap = (said & wanted).sum() / (said | wanted).sum()
            if overlap >= 0.9 and len(found.rule.clauses) <= count + 1:
                good += 1
            else:
                missed.append((seed, k, round(float(overlap), 3), found.sentence))
            assert found.explained
            # a mask with one place in twenty turned over cannot be right more often than that, nor much less
            assert found.right < 0.97
    assert good >= 36, missed


def test_noise_is_told_to_be_noise() -> None:
    site, rng = Site(1), np.random.default_rng(5)
    pick = rng.permutation(SIDE * SIDE)[:PLACES]
    found = find_rule.find({name: one[pick] for name, one in site.values.items()}, (rng.random(PLACES) < 0.3) * 1.0)
    assert not found.explained
    assert abs(found.told) < 0.1


@pytest.mark.parametrize("of", [0.0, 1.0, 0.4])
def test_a_mask_that_is_alike_everywhere_is_refused(of: float) -> None:
    with pytest.raises(RefusalError, match="everywhere alike"):
        find_rule.find({"slope": np.linspace(0, 40, 500)}, np.full(500, of))


def test_soft_ends_are_as_wide_as_the_masks() -> None:
    slope = np.random.default_rng(2).uniform(0, 60, 12_000)
    t = np.clip((slope - 20) / 10, 0, 1)
    found = find_rule.find({"slope": slope}, t * t * (3 - 2 * t))
    [only] = found.rule.clauses
    assert isinstance(only, OnMeasure)
    assert only.lower == pytest.approx(30, abs=1.5)
    assert only.upper is None
    assert only.soft_lower == pytest.approx(10, abs=2.5)
    assert "steeper than" in found.sentence
