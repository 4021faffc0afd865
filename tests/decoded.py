"""Images as a library that is not ours reads them: channels from blue to red, codes as they are."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray


def of_file(path: str | Path, how: int = cv2.IMREAD_UNCHANGED) -> NDArray[Any]:
    """Return the image of a file."""
    found = cv2.imread(str(path), how)
    assert found is not None, f"{path} is no image"
    return found


def of_bytes(data: bytes, how: int = cv2.IMREAD_UNCHANGED) -> NDArray[Any]:
    """Return the image that bytes hold."""
    found = cv2.imdecode(np.frombuffer(data, np.uint8), how)
    assert found is not None, "these bytes are no image"
    return found
