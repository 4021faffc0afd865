"""Findings about layers, their sets and wear."""

from __future__ import annotations

import itertools
import math

import numpy as np

from elvatch.core.cover import stretch
from elvatch.core.document.fit import NearDetail
from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import Bracket, Clause, OnMeasure, Rule, refers_to, singles
from elvatch.core.ground.measures import KINDS
from elvatch.core.judging.finding import Mendable, found, in_layer
from elvatch.core.judging.judged import Judged
from elvatch.core.rules.account import LEAST_SHARE
from elvatch.core.stock.facts import BRIGHTEST, DARKEST, WETTEST

SCALES_APART, MEETS = 3.0, 0.2
"""So many times larger than a neighbour's; how much of a place each takes at least where they meet."""
COARSE, FINE = 0.5, 8.0
"""Pixels of a set for one of Near, from which on it is coarse or fine."""
STRETCHED, STRETCHED_ON = 1.5, 0.1
RELIEF_OF_TILE = 0.35
REPEATS = 0.6
DRY_M = 0.5
_DIRECTED = ("rock", "paving", "wood")
_LAID_IN_LINES = ("paving", "concrete", "wood", "metal")
_SOFT_OVER = 1 / 12


def _part(layer: Layer) -> tuple[str, str]:
    return layer.id, layer.name


def covers_nothing(site: Judged) -> list[Mendable]:
    """Find layers that are on and lie nowhere."""
    out = []
    for k, layer, share in site.shown():
        if share >= LEAST_SHARE:
            continue
        why = site.reasons[k] or "others cover it everywhere"
        hide = in_layer(layer.id, on=False)
        out.append(found("covers-nothing", _part(layer), f"lies nowhere: {why}", 100 * share, "%", ("hide it", hide)))
    return out


def _without(rule: Rule, gone: set[str]) -> Rule:
    kept: list[Clause] = []
    for clause in rule.clauses:
        if isinstance(clause, Bracket):
            inside = tuple(one for one in clause.clauses if refers_to(one) not in gone)
            if inside:
                kept.append(clause.model_copy(update={"clauses": inside}))
        elif refers_to(clause) not in gone:
            kept.append(clause)
    return Rule(clauses=tuple(kept))


def gone(site: Judged) -> list[Mendable]:
    """Find rules that ask for a mask, path, image, layer, strew or thing that is not there any more."""
    recipe = site.recipe
    there = recipe.part_ids()
    out = []
    for layer in recipe.layers:
        lost = [one for one in singles(layer.rule) if (id := refers_to(one)) is not None and id not in there]
        if not lost:
            continue
        names = ", ".join(dict.fromkeys(str(getattr(one, "called", "")) for one in lost))
        ids = {id for one in lost if (id := refers_to(one)) is not None}
        mend = in_layer(layer.id, rule=_without(layer.rule, ids).model_dump())
        out.append(
            found(
                "gone",
                _part(layer),
                f"its rule asks for {names}, which is gone",
                len(lost),
                "clauses",
                ("take those clauses out", mend),
            )
        )
    return out


def density(site: Judged) -> list[Mendable]:
    """Find sets whose pixels are seen in Near, or are far finer than it shows."""
    out, wanted = [], 1.0 / site.near_pixel_m
    for _k, layer, share in site.shown():
        known = site.sets.get(layer.set)
        if known is None or share < LEAST_SHARE:
            continue
        dense = known.size_px / layer.fit.tile_m
        if dense < COARSE * wanted and layer.fit.detail is None:
            # a finer copy, not a smaller tile: how large its stones are stays
            tile = float(np.clip(round(known.size_px / wanted, 2), 0.02, layer.fit.tile_m / 2))
            detail = NearDetail(tile_m=tile, relief_m=min(0.01 * tile, 0.004))
            mend = in_layer(layer.id, fit={"detail": detail.model_dump()})
            text = f"{dense:.0f} px/m where Near shows {wanted:.0f}"
            out.append(
                found("too-coarse", _part(layer), text, dense, "px/m", (f"near detail on a tile of {tile:g} m", mend))
            )
        elif dense > FINE * wanted and known.size_px > 512:
            text = f"{dense:.0f} px/m where Near shows {wanted:.0f}: a set of {known.size_px} px is not needed"
            out.append(found("too-fine", _part(layer), text, dense, "px/m"))
    return out


def scale(site: Judged) -> list[Mendable]:
    """Find layers that are laid much larger or smaller than life where they meet one that is not."""
    sizes = {
        k: layer.fit.tile_m / site.sets[layer.set].tile_m
        for k, layer, share in site.shown()
        if layer.set in site.sets and share >= LEAST_SHARE
    }
    worst: dict[int, tuple[float, int]] = {}
    for one, other in itertools.combinations(sizes, 2):
        apart = max(sizes[one], sizes[other]) / min(sizes[one], sizes[other])
        if apart < SCALES_APART or float(site.meet(one, other).max()) < MEETS:
            continue
        # the one that is further from life
        odd, like = sorted((one, other), key=lambda k: -abs(math.log(sizes[k])))
        worst[odd] = max(worst.get(odd, (0.0, like)), (apart, like))
    out = []
    for k, (apart, like) in worst.items():
        layer = site.recipe.layers[k]
        fit, tile = layer.fit, round(site.sets[layer.set].tile_m * sizes[like], 3)
        times, down = tile / fit.tile_m, fit.tile_down_m
        mend = in_layer(
            layer.id,
            fit={
                "tile_m": tile,
                "tile_down_m": down and round(down * times, 3),
                "relief_m": round(fit.relief_m * times, 4),
            },
        )
        text = f"{sized(sizes[k])} where it meets {site.recipe.layers[like].name}, which lies {sized(sizes[like])}"
        out.append(
            found(
                "scale",
                _part(layer),
                text,
                apart,
                "×",
                (f"a tile of {tile:g} m", mend),
                site.worst(site.meet(k, like)),
            )
        )
    return out


def sized(times: float) -> str:
    """Return how large something lies, in words."""
    return "at its true size" if abs(times - 1) < 0.02 else f"at {times:.3g} times its true size"


def hard_edge(site: Judged) -> list[Mendable]:
    """Find layers that end in a line: limits without a soft end, in a rule that nothing breaks up."""
    out = []
    for k, layer, share in site.shown():
        known = site.sets.get(layer.set)
        if not LEAST_SHARE <= share <= 1 - LEAST_SHARE or (known is not None and known.category in _LAID_IN_LINES):
            continue
        if layer.edge.fingers > 0 or any(one.join == "break-up" for one in singles(layer.rule)):
            continue
        hard = [end for one in singles(layer.rule) if isinstance(one, OnMeasure) for end in _hard_ends(one)]
        if not hard:
            continue

        def soft(now: Recipe, layer: Layer = layer) -> Recipe:
            # measured when it is asked for: this looks after every edit
            return in_layer(layer.id, rule=_softened(site, layer.rule).model_dump())(now)

        text = f"{', '.join(hard)} without a soft end"
        out.append(
            found("hard-edge", _part(layer), text, len(hard), "limits", ("give it soft ends", soft), site.ends(k))
        )
    return out


def _hard_ends(clause: OnMeasure) -> list[str]:
    """Return a clause's limits that have no soft end, each as it is told."""
    kind, unit = KINDS[clause.measure], f" {clause.unit}" if clause.unit not in ("", "°") else clause.unit
    ends = ((clause.lower, clause.soft_lower, kind.above), (clause.upper, clause.soft_upper, kind.below))
    return [f"{word} {limit:g}{unit}" for limit, soft, word in ends if limit is not None and soft == 0]


def _softened(site: Judged, rule: Rule) -> Rule:
    """Return a rule whose hard limits have soft ends over which about a twelfth of the ground lies."""

    def soft(clause: Clause) -> Clause:
        if isinstance(clause, Bracket):
            return clause.model_copy(update={"clauses": tuple(soft(one) for one in clause.clauses)})
        if not isinstance(clause, OnMeasure) or not _hard_ends(clause):
            return clause
        values = site.source.measures.map(clause.measure, clause.radius_m)

        def over(limit: float | None, now: float) -> float:
            if limit is None or now > 0:
                return now
            below = float((values < limit).mean())
            low, high = np.quantile(values, [max(below - _SOFT_OVER / 2, 0), min(below + _SOFT_OVER / 2, 1)])
            return float(f"{max(float(high - low), 1e-3):.2g}")

        ends = {
            "soft_lower": over(clause.lower, clause.soft_lower),
            "soft_upper": over(clause.upper, clause.soft_upper),
        }
        return clause.model_copy(update=ends)

    return Rule(clauses=tuple(soft(one) for one in rule.clauses))


def stretched(site: Judged) -> list[Mendable]:
    """Find layers that are drawn out over much of where they lie."""
    out = []
    for k, layer, share in site.shown():
        position = site.prepared.positions[k]
        if share < LEAST_SHARE or position < 0 or layer.fit.projection == "triplanar":
            continue
        pulled, _ = stretch.of_layer(site.prepared, position, site.at)
        weight = site.shares[:, k]
        on = float((weight * (pulled > STRETCHED)).sum() / max(float(weight.sum()), 1e-9))
        if on <= STRETCHED_ON:
            continue
        mend = in_layer(layer.id, fit={"projection": "triplanar"})
        text = f"drawn out more than {STRETCHED:g} times on {on:.0%} of where it lies"
        out.append(
            found(
                "stretched",
                _part(layer),
                text,
                100 * on,
                "%",
                ("project from three sides", mend),
                site.worst(weight * np.minimum(pulled, 8)),
            )
        )
    return out


def relief_large(site: Judged) -> list[Mendable]:
    """Find relief that is too high for the tile it repeats over."""
    out = []
    for _k, layer, _share in site.shown():
        tile = min(layer.fit.tile_m, layer.fit.down_m)
        part = layer.fit.relief_m / tile
        if part <= RELIEF_OF_TILE:
            continue
        lower = round(0.5 * RELIEF_OF_TILE * tile, 3)
        mend = in_layer(layer.id, fit={"relief_m": lower})
        text = f"{layer.fit.relief_m:g} m from its lowest to its highest on a tile of {tile:g} m"
        out.append(found("relief-large", _part(layer), text, part, "m/m", (f"relief of {lower:g} m", mend)))
    return out


def direction(site: Judged) -> list[Mendable]:
    """Find beds and courses whose patches are turned against repeats."""
    out = []
    for _k, layer, _share in site.shown():
        known = site.sets.get(layer.set)
        if known is None or known.category not in _DIRECTED or layer.fit.repeats.kind != "turn":
            continue
        shift = in_layer(layer.id, fit={"repeats": layer.fit.repeats.model_dump() | {"kind": "shift"}})
        text = f"{known.title} runs one way, and its patches are turned"
        out.append(found("direction-turned", _part(layer), text, 1, "", ("shift patches, do not turn them", shift)))
    return out


def tone(site: Judged) -> list[Mendable]:
    """Find layers that no dry, plain material looks like: too dark, too bright, or as smooth as wet ones."""
    out: list[Mendable] = []
    water = site.recipe.water_over.level()
    dry = site.at.elevation_m > (water + DRY_M if water is not None else -np.inf)
    for k, layer, share in site.shown():
        known = site.sets.get(layer.set)
        if known is None or share < LEAST_SHARE:
            continue
        out += _of_colour(layer, known.facts.colour)
        rough = [one.mean for one in known.facts.maps if one.role == "roughness"]
        on_dry = float(site.shares[dry, k].mean()) if dry.any() else 0.0
        if rough and on_dry >= LEAST_SHARE:
            out += _of_roughness(layer, rough[0], site.worst(site.shares[:, k] * dry))
    return out


def _of_colour(layer: Layer, linear: list[float] | None) -> list[Mendable]:
    if linear is None:
        return []
    shade = float(np.dot(linear, (0.2126, 0.7152, 0.0722))) * layer.look.brightness
    if DARKEST <= shade <= BRIGHTEST:
        return []
    kind, wanted = ("dark", 2 * DARKEST) if shade < DARKEST else ("bright", 0.8 * BRIGHTEST)
    times = float(np.clip(round(layer.look.brightness * wanted / max(shade, 1e-6), 2), 0.1, 4))
    mend = in_layer(layer.id, look={"brightness": times})
    text = f"its mean reflectance is {shade:.3f}; materials lie between {DARKEST:g} and {BRIGHTEST:g}"
    return [found(kind, _part(layer), text, shade, "", (f"brightness {times:g} ×", mend))]


def _of_roughness(layer: Layer, mean: float, place: tuple[float, float] | None) -> list[Mendable]:
    look = layer.look
    low, high = look.roughness_lowest, look.roughness_highest
    rough = float(np.clip(low + (high - low) * mean + look.roughness_shift, 0, 1))
    if rough >= WETTEST:
        return []
    shift = float(np.clip(round(look.roughness_shift + 0.6 - rough, 2), -1, 1))
    mend = in_layer(layer.id, look={"roughness_shift": shift})
    text = f"its roughness is {rough:.2f} on the mean where the ground is dry"
    return [found("wet", _part(layer), text, rough, "", (f"roughness {shift:+g}", mend), place)]


def of_sets(site: Judged) -> list[Mendable]:
    """Pass on what is odd about the sets of layers that are on."""
    out = []
    for name in dict.fromkeys(layer.set for _k, layer, _share in site.shown()):
        known = site.sets.get(name)
        if known is not None:
            odd = [one.text for one in known.facts.findings if one.mend != "derive"]
            out += [found("set", (name, known.title), text, 1) for text in odd]
    return out


def repeats(site: Judged) -> list[Mendable]:
    """Find layers whose tile the eye finds again, dear: each is looked at from above."""
    out = []
    for k, layer, share in site.shown():
        if share < 0.01 or layer.set not in site.sets:
            continue
        seen = site.repeats(k)
        worst = max(seen.far_after, seen.near_after)
        if worst <= REPEATS:
            continue
        known = site.sets[layer.set]
        kind = "shift" if known.category in _DIRECTED else "turn"
        mend = in_layer(layer.id, fit={"repeats": layer.fit.repeats.model_dump() | {"kind": kind}})
        done = layer.fit.repeats.kind != "none"
        text = f"its tile is found again by {worst:.2f} of 1{' in spite of what is done against it' if done else ''}"
        out.append(found("repeats", _part(layer), text, worst, "", None if done else (f"{kind} its patches", mend)))
    return out
