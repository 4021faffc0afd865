"""Recipes of earlier versions brought up to this one, as decoded JSON, before they are checked."""

from __future__ import annotations

import math
from collections.abc import Callable

from elvatch.core.document import begin_sheet
from elvatch.core.document.sheet import VALUES

Data = dict[str, object]
_KOSCHMIEDER = -math.log(0.02)


def upgraded(data: Data) -> Data:
    """Return a recipe of an earlier version as one of the latest; what is not as it should be stays as it is."""
    steps: dict[int, Callable[[Data], Data]] = {
        1: _steps_for_files,
        2: _clauses_of_all_measures,
        3: _unchanged,
        4: _unchanged,
        5: _air_with_units,
        6: _sides_as_from_above,
        7: _sheets_for_one_hand_off,
        8: _unchanged,
        9: _unchanged,
    }
    version = data["version"]
    while isinstance(version, int) and version in steps:
        data = steps[version](data) | {"version": version + 1}
        version += 1
    return data


def _steps_for_files(data: Data) -> Data:
    """Version 1 knew only grounds read from a file, without steps."""
    ground = data.get("ground")
    if not isinstance(ground, dict):
        return data
    source = {"kind": "file", **{key: ground.get(key) for key in ("file", "file_name", "lowest_m", "highest_m")}}
    size = {key: ground.get(key) for key in ("width_m", "depth_m")}
    return data | {"ground": {**size, "source": source}}


def _clauses_of_all_measures(data: Data) -> Data:
    """Version 2 knew clauses of elevation and slope only, and one break-up beside them."""
    out = dict(data)
    ground, layers = data.get("ground"), data.get("layers")
    if isinstance(ground, dict) and isinstance(ground.get("steps"), list):
        out["ground"] = ground | {"steps": [_step(step) for step in ground["steps"]]}
    if isinstance(layers, list):
        out["layers"] = [_layer(layer) for layer in layers]
    return out


def _unchanged(data: Data) -> Data:
    """Versions 4, 5, 9 and 10 only add (fits, wear, the hand-off, things, those set by hand); the rest holds."""
    return data


def _air_with_units(data: Data) -> Data:
    """Version 5 knew one air for sites of all sizes, as thick at every height, and a site that stood in a void."""
    light = data.get("light", {})
    if not isinstance(light, dict):
        return data
    mist = light.get("mist", 0.25)
    if isinstance(mist, bool) or not isinstance(mist, int | float) or not 0 <= mist <= 1:
        return data
    seen_km = _KOSCHMIEDER / (5e-5 * math.exp(4.8 * mist)) / 1000
    others = {key: value for key, value in light.items() if key != "mist"}
    return data | {"light": others | {"visibility_km": seen_km, "scale_height_m": 100_000.0, "beyond": "block"}}


def _sides_as_from_above(data: Data) -> Data:
    """Version 6 drew textures out down the sides of relief; a kept site is written as it was."""
    layers = data.get("layers")
    if not isinstance(layers, list):
        return data

    def drawn_out(layer: object) -> object:
        fit = layer.get("fit", {}) if isinstance(layer, dict) else None
        return (
            layer | {"fit": {"own_sides": False} | fit}
            if isinstance(layer, dict) and isinstance(fit, dict)
            else layer
        )

    return data | {"layers": [drawn_out(layer) for layer in layers]}


def _sheets_for_one_hand_off(data: Data) -> Data:
    """Version 7 had one hand-off of plain maps, all as large as each other."""
    told = data.get("hand_off", {})
    others = {key: value for key, value in data.items() if key != "hand_off"}
    if not isinstance(told, dict):
        return data
    usual = ["colour", "normal", "roughness", "occlusion", "height", "shares"]
    maps, measures = told.get("maps", usual), told.get("measures", [])
    if not isinstance(maps, list) or not isinstance(measures, list):
        return data
    told_of = [{"splat": "weights"}.get(str(name), name) for name in (*maps, *measures)]
    names = [value for name in told_of for value in VALUES if value == name]
    if len(names) != len(told_of):
        return data
    sheet = begin_sheet.plain(
        names,
        2048,
        16 if told.get("data_bits") == 16 else 8,
        told.get("height_bits") == 32,
        16 if told.get("splat_bits") == 16 else 8,
    ).model_dump(mode="json")
    fine = {"by": "pixels", "value": told.get("size_px", 2048)}
    rest = [one.model_dump(mode="json") for one in begin_sheet.READY if one.id != sheet["id"]]
    return others | {"sheets": [sheet | {"fine": fine}, *rest]}


def _step(step: object) -> object:
    if not isinstance(step, dict) or not isinstance(step.get("where"), list):
        return step
    return step | {"where": [_clause(clause) for clause in step["where"]]}


def _layer(layer: object) -> object:
    rule = layer.get("rule") if isinstance(layer, dict) else None
    if not isinstance(layer, dict) or not isinstance(rule, dict) or not isinstance(rule.get("clauses", []), list):
        return layer
    clauses = [_clause(clause) for clause in rule.get("clauses", [])]
    broken = rule.get("break_up")
    if (
        isinstance(broken, dict)
        and isinstance(broken.get("strength", 0), int | float)
        and broken.get("strength", 0) > 0
    ):
        noise = {"kind": "noise", "join": "break-up", "noise": "soft", "strength": broken["strength"]}
        clauses.append(noise | {key: broken[key] for key in ("size_m", "seed") if key in broken})
    return layer | {"rule": {"clauses": clauses}}


def _clause(clause: object) -> object:
    if not isinstance(clause, dict) or clause.get("measure") not in ("elevation", "slope"):
        return clause
    suffix, unit, soft = ("_m", "m", 2.0) if clause["measure"] == "elevation" else ("_deg", "°", 5.0)
    made: Data = {
        "kind": "measure",
        "measure": clause["measure"],
        "unit": unit,
        "opposite": clause.get("opposite", False),
    }
    for end in ("lower", "upper"):
        made[end] = clause.get(f"{end}{suffix}")
        made[f"soft_{end}"] = clause.get(f"soft_{end}{suffix}", soft)
    known = {"measure", "opposite", *(f"{part}{end}{suffix}" for part in ("", "soft_") for end in ("lower", "upper"))}
    # what should not be there is refused later, by its own name
    return made | {key: value for key, value in clause.items() if key not in known}
