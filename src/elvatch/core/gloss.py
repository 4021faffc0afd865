"""What surfaces mirror, by how rough they are and how they are met; how the ground about them throws light back."""

from __future__ import annotations

import math

from elvatch.core.kernel import inner

AROUND = 0.2
"""Albedo of the ground around a place where its own colour says nothing of it."""
OWN = 0.5
"""How far the ground around a place is taken to have the place's own colour."""
SUN_AROUND = 0.7
"""How much of the ground around a place lies in the sun, when it does."""


@inner
def sun_shape(roughness: float, n_l: float, n_v: float, n_h: float) -> float:
    """GGX distribution and height-correlated Smith masking (Heitz 2014): a lobe but for Fresnel."""
    a2 = roughness * roughness
    a2 = max(a2 * a2, 1e-6)
    d = n_h * n_h * (a2 - 1.0) + 1.0
    mask = n_l * math.sqrt(n_v * n_v * (1.0 - a2) + a2) + n_v * math.sqrt(n_l * n_l * (1.0 - a2) + a2)
    return float(0.5 * a2 / (math.pi * d * d * max(mask, 1e-5)))


@inner
def facing(v_h: float) -> float:
    """Return the part by which a surface mirrors more the flatter it is met (Schlick 1994): to the fifth power."""
    away = 1.0 - v_h
    square = away * away
    return square * square * away


@inner
def mirrored_share(roughness: float, n_v: float) -> tuple[float, float]:
    """Return what even light's mirrored part at normal incidence is multiplied by, and what is added (Karis 2014)."""
    r0, r1 = 1.0 - roughness, -0.0275 * roughness + 0.0425
    r2, r3 = -0.572 * roughness + 1.04, 0.022 * roughness - 0.04
    a = min(r0 * r0, math.exp(-6.4324 * n_v)) * r0 + r1
    return -1.04 * a + r2, 1.04 * a + r3
