"""Why a layer lies at a place or not: clause by clause, and over the whole ground."""

from __future__ import annotations

import numpy as np

from elvatch.core.document.layer import Layer
from elvatch.core.document.rule import Bracket, Clause, OnPainted, Rule, words
from elvatch.core.ground.places import Places, some
from elvatch.core.results import result
from elvatch.core.rules import program, rules
from elvatch.core.rules.evidence import Evidence

_HALF = 0.5
_LEAST_PRESENCE = 1e-3
_STRIDE = 37
LEAST_SHARE = 5e-5
"""Of the ground: what is below is told as nothing."""


@result
class Allowance:
    """What one clause says of a place: in words, how it is joined, how much it alone lets in (0..1, an
    *except* counted as what it leaves), and whether it is the one that keeps the layer out."""

    words: str
    join: str
    lets_in: float
    decides: bool


@result
class Account:
    """Why a layer lies at a place: its rule's presence with opacity, 0..1, and its clauses in order."""

    layer: str
    presence: float
    clauses: tuple[Allowance, ...]


def _alone(rule: Rule, at: int) -> Rule:
    """Return a rule of one of its clauses, with all that breaks up edges."""
    keep = [clause for k, clause in enumerate(rule.clauses) if k == at or clause.join == "break-up"]
    return Rule(clauses=tuple(keep))


def _without(rule: Rule, at: int) -> Rule:
    return Rule(clauses=rule.clauses[:at] + rule.clauses[at + 1 :])


def _standing(rule: Rule) -> list[tuple[int, Clause]]:
    return [(k, clause) for k, clause in enumerate(rule.clauses) if clause.join != "break-up"]


def account(layers: tuple[Layer, ...], evidence: Evidence, places: Places) -> list[Account]:
    """Return why each layer lies at one place, or does not.

    Parameters
    ----------
    layers : tuple of Layer
        The whole column, from the bottom up.
    evidence : Evidence
        What rules read.
    places : Places
        The place; only the first counts.
    """
    wanted: list[tuple[str, Rule]] = []
    for layer in layers:
        wanted.append((layer.name, layer.rule))
        for k, _ in _standing(layer.rule):
            wanted += [(layer.name, _alone(layer.rule, k)), (layer.name, _without(layer.rule, k))]
    programs = program.compiled(wanted, evidence, layers)
    found = [float(rules.presences(programs, k, places)[0]) for k in range(len(wanted))]
    out, at = [], 0
    for layer in layers:
        whole, at = found[at], at + 1
        allowed: list[tuple[Clause, float, float]] = []
        for _, clause in _standing(layer.rule):
            allowed.append((clause, found[at], found[at + 1] - whole))
            at += 2
        gains = [gain for _, _, gain in allowed]
        deciding = gains.index(max(gains)) if gains and whole < _HALF and max(gains) > 1e-6 else -1
        if deciding < 0 and gains and whole < _HALF:
            # none of them alone would let it in: the one that lets in least is named
            deciding = min(range(len(allowed)), key=lambda k: allowed[k][1])
        clauses = tuple(
            Allowance(words(clause), clause.join, part, k == deciding) for k, (clause, part, _) in enumerate(allowed)
        )
        out.append(Account(layer.name, whole * layer.opacity, clauses))
    return out


def why_nowhere(layers: tuple[Layer, ...], k: int, share: float, evidence: Evidence, places: Places) -> str | None:
    """Say in plain words why a layer covers nothing of the ground, or None when it covers something.

    Parameters
    ----------
    layers : tuple of Layer
        The whole column.
    k : int
        Which layer.
    share : float
        Of the ground that it covers, 0..1.
    evidence : Evidence
        What rules read.
    places : Places
        Spread evenly over the ground.
    """
    if share >= LEAST_SHARE:
        return None
    layer = layers[k]
    if not layer.on:
        return "it is hidden"
    if layer.opacity == 0 and k > 0:
        return "its opacity is 0"
    if _reaches(layer, layer.rule, layers, evidence, places):
        return "layers above it cover it"
    for at, clause in _standing(layer.rule):
        if clause.join not in ("and", "except"):
            continue
        if _reaches(layer, _alone(layer.rule, at), layers, evidence, places):
            continue
        lost = _lost(clause, layers, evidence)
        if lost is not None:
            return f"the {lost} is gone"
        if isinstance(clause, OnPainted) and not clause.opposite and clause.join == "and":
            mask = evidence.masks.get(clause.mask)
            if mask is None or not mask.tiles:
                return f"nothing is painted on {clause.called} yet"
            return f"too little is painted on {clause.called} to be counted"
        if clause.join == "except":
            return f"all of this ground is {words(clause)}"
        return f"nothing here is {words(clause)}"
    return "its clauses meet nowhere together"


def _reaches(layer: Layer, rule: Rule, layers: tuple[Layer, ...], evidence: Evidence, places: Places) -> bool:
    """Return whether a rule lets a layer in anywhere; a few places are asked first, which mostly is enough."""
    programs = program.compiled([(layer.name, rule)], evidence, layers)
    few = some(places, np.arange(0, len(places.x_m), _STRIDE))
    return any(float(np.max(rules.presences(programs, 0, at))) > _LEAST_PRESENCE for at in (few, places))


def _lost(clause: Clause, layers: tuple[Layer, ...], evidence: Evidence) -> str | None:
    """Return what a clause refers to that is not there any more, as "mask Tyres"; None when all is there."""
    if isinstance(clause, Bracket):
        return next(filter(None, (_lost(one, layers, evidence) for one in clause.clauses)), None)
    found = clause.reference()
    if found is None:
        return None
    there = found.id in {layer.id for layer in layers} if found.where == "layer" else evidence.there(found)
    return None if there else f"{found.where} {found.called}"
