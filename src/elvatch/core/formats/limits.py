"""How large an image from outside may be, checked before anything is decoded."""

from __future__ import annotations

from elvatch.core.refusal import RefusalError

MOST_BYTES = 1 << 30
MOST_SIDE = 20_000
MOST_SAMPLES = 140_000_000


def check_size(name: str, width: int, height: int) -> None:
    """Refuse an image whose header promises more than can be worked with."""
    if width < 1 or height < 1:
        raise RefusalError(name, f"{width} x {height} samples", "at least one", "choose another file")
    if max(width, height) > MOST_SIDE or width * height > MOST_SAMPLES:
        raise RefusalError(
            name,
            f"{width} x {height} samples",
            f"at most {MOST_SIDE} a side and {MOST_SAMPLES / 1e6:.0f} million",
            "reduce it before bringing it in",
        )
