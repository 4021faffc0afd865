"""Overlays: drawn seamless and alike from the same numbers, their range, how they are stored."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core import parallel
from elvatch.core.mapping.lookup import look_up_sheet
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.stock import overlay, overlays, sheet
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.overlays import OVERLAYS, strokes
from elvatch.core.stock.overlays.strokes import along
from elvatch.core.stock.resize import resized
from elvatch.core.stock.sheet import RISE_RIGHT, RISE_RMS, RISE_UP, VALUE

PX = 256
STRAIGHT = np.linspace(0, 1, sheet.CODES, dtype=np.float32)
_OPEN_ENDED = ("tidemarks", "drying", "tyres", "boots", "barrow")


def steps(values: np.ndarray, axis: int) -> tuple[float, np.ndarray]:
    """The mean step across the wrap edge, and those inside."""
    apart = np.abs(values - np.roll(values, 1, axis)).mean(axis=1 - axis)
    return float(apart[0]), apart[1:]


@pytest.mark.parametrize("what", list(OVERLAYS))
def test_an_overlay_is_seamless_and_the_same_from_the_same_numbers(what: str) -> None:
    drawn = overlays.draw(what, 3, size_px=PX).astype(np.float64) / 65535
    np.testing.assert_array_equal(drawn, overlays.draw(what, 3, size_px=PX).astype(np.float64) / 65535)
    assert not np.array_equal(drawn, overlays.draw(what, 4, size_px=PX) / 65535)
    # hairlines are finer than a pixel of so small a drawing, and as much fainter
    assert drawn.max() > (0.15 if what == "cracks" else 0.3)
    assert drawn.std() > 0.005
    if what not in ("drying", "dust"):  # of these neither the marks nor what lies between them is most
        known = overlay.known(np.rint(drawn * 65535).astype(np.uint16), "")
        assert (known.dark_on_light, known.sure > 0.6) == (False, True)
    # along a path and along levels only one way wraps; the other way it ends in nothing
    across, inside = steps(drawn, 1)
    assert across <= np.quantile(inside, 0.98) * 1.6 + 1e-6
    if what in _OPEN_ENDED:
        assert max(drawn[0].max(), drawn[-1].max()) < 0.08
    else:
        across, inside = steps(drawn, 0)
        assert across <= np.quantile(inside, 0.98) * 1.6 + 1e-6


@pytest.mark.parametrize("what", list(OVERLAYS))
def test_drawn_small_its_marks_are_where_they_are_drawn_large(what: str) -> None:
    whole = resized(overlays.draw(what, 7).astype(np.float32) / np.float32(65535), PX)
    small = overlays.draw(what, 7, size_px=PX) / 65535
    assert np.corrcoef(whole.ravel(), small.ravel())[0, 1] > 0.85
    assert abs(float(whole.mean()) - float(small.mean())) < 0.05


def test_drawing_stops_when_what_its_thread_watches_is_cancelled() -> None:
    token = parallel.Token()
    token.cancel()
    with parallel.watching(token), pytest.raises(CancelledError):
        overlays.draw("cracks", 3)


@pytest.mark.parametrize(
    ("what", "control"), [(what, one) for what, kind in OVERLAYS.items() for one in kind.controls]
)
def test_every_control_changes_its_overlay(what: str, control: Control) -> None:
    ends = [overlays.draw(what, 3, {control.name: v}, size_px=64) for v in (control.least, control.most)]
    assert not np.array_equal(ends[0], ends[1])
    with pytest.raises(RefusalError, match=f"{control.label}: found"):
        overlays.draw(what, 3, {control.name: control.most + 1})


def test_a_stroke_is_as_wide_as_it_says_and_comes_in_on_the_other_side() -> None:
    line = np.array([[-20.0, 40.0], [300.0, 40.0]])
    drawn = strokes.drawn(PX, [along(line, np.full(2, 5.0), np.full(2, 0.8), 0.7)])
    assert drawn[:, 128].sum() == pytest.approx(10 * 0.8, rel=0.05)
    assert drawn.max() == pytest.approx(0.8)
    np.testing.assert_allclose(drawn[:, 2], drawn[:, 250], atol=1e-6)
    corner = strokes.drawn(PX, [along(np.array([[0.0, 0.0], [0.1, 0.0]]), np.full(2, 6.0), np.ones(2), 1.0)])
    assert min(corner[0, 0], corner[-1, -1], corner[0, -1], corner[-1, 0]) == 1.0


def test_tracks_lie_apart_as_told() -> None:
    controls = {"gauge": 60.0, "tyre": 10.0}
    drawn = overlays.draw("tyres", 1, controls, size_px=512).astype(float).mean(axis=1)
    middle = (np.arange(512) + 0.5) / 512 - 0.5
    left = float((drawn * middle)[middle < 0].sum() / drawn[middle < 0].sum())
    right = float((drawn * middle)[middle > 0].sum() / drawn[middle > 0].sum())
    assert right - left == pytest.approx(0.60, abs=0.02)


@given(st.booleans(), st.floats(0, 0.9), st.floats(0.01, 1), st.floats(0, 1))
def test_a_range_rises_from_nothing_to_all(turned: bool, none_at: float, wide: float, soft: float) -> None:
    full_at = min(1.0, none_at + wide)
    table = overlay.table(turned, none_at, full_at, soft)
    rising = table[::-1] if turned else table
    assert (np.diff(rising) >= -1e-6).all()
    at = np.linspace(0, 1, sheet.CODES)
    assert (rising[at <= none_at] <= 1e-6).all()
    assert (rising[at >= full_at] >= 1 - 1e-6).all()
    middle = rising[round((none_at + full_at) / 2 * 65535)]
    assert middle == pytest.approx(0.5, abs=0.01)


def test_a_sheet_averages_what_is_shown_and_keeps_lost_slopes() -> None:
    rng = np.random.default_rng(2)
    codes = rng.integers(0, 65536, (64, 64)).astype(np.uint16)
    table = overlay.table(False, 0.5, 0.6, 0.0)
    made = sheet.build(codes, table, "a")
    shown = table[codes]
    # far away: the mean of what the range makes, not the range of the mean
    assert float(made.mean[VALUE]) == pytest.approx(float(shown.mean()), abs=2e-4)
    right = (np.roll(shown, -1, 1) - np.roll(shown, 1, 1)) / 2
    up = (np.roll(shown, 1, 0) - np.roll(shown, -1, 0)) / 2
    out = np.empty(4, np.float32)
    texels = made.texels.ctypes.data
    for row, col in ((5, 9), (0, 63), (63, 0)):
        look_up_sheet(texels, 64, (col + 0.5) / 64, (row + 0.5) / 64, 1 / 64, 0.0, 0.0, 1, out)
        wanted = [shown[row, col], right[row, col], up[row, col]]
        np.testing.assert_allclose(out[[VALUE, RISE_RIGHT, RISE_UP]], wanted, atol=3e-5)
    look_up_sheet(texels, 64, 0.3, 0.3, 1.0, 0.0, 0.0, 1, out)
    assert out[RISE_RMS] == pytest.approx(float(np.sqrt((right**2 + up**2).mean())), rel=2e-3)
    with pytest.raises(RefusalError, match="a square of a power of two"):
        sheet.build(codes[:, :48].copy(), table, "b")
