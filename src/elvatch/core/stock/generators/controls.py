"""The controls of a sample-set generator: a few numbers that mean something about the material."""

from __future__ import annotations

import math
from collections.abc import Mapping

from elvatch.core.refusal import RefusalError
from elvatch.core.results import result


@result
class Control:
    """One number: what it is called, its unit and range, what it usually is, and what it does."""

    name: str
    label: str
    unit: str
    least: float
    most: float
    usual: float
    step: float
    about: str


def complete(controls: tuple[Control, ...], given: Mapping[str, float]) -> dict[str, float]:
    """Return a value for every control; those not given are as usual.

    Raises
    ------
    RefusalError
        When a name is unknown or a value out of range.
    """
    known = {control.name: control for control in controls}
    for name, value in given.items():
        if name not in known:
            listed = ", ".join(known) or "none"
            raise RefusalError("control", repr(name[:40]), f"one of {listed}", "leave it out")
        control = known[name]
        if not (math.isfinite(value) and control.least <= value <= control.most):
            raise RefusalError(
                control.label,
                f"{value:g} {control.unit}".strip(),
                f"{control.least:g} to {control.most:g} {control.unit}".strip(),
                "correct it",
            )
    return {name: float(given.get(name, control.usual)) for name, control in known.items()}
