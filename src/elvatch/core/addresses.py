"""Where arrays lie in memory, for compiled code that cannot hold a list of arrays cheaply."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from numpy.typing import NDArray


@dataclass
class Addresses:
    """Addresses of arrays, and the arrays: as long as this is at hand, what lies there is theirs."""

    _owners: list[object] = field(default_factory=list)

    def of(self, array: NDArray[Any]) -> int:
        """Return the address of an array's first number, and hold the array.

        Parameters
        ----------
        array : ndarray
            Contiguous, row by row.

        Raises
        ------
        ValueError
            When it is not contiguous: its numbers would not lie where compiled code looks for them.

        Examples
        --------
        >>> import numpy as np
        >>> Addresses().of(np.zeros((4, 4))[:, 1])
        Traceback (most recent call last):
        ...
        ValueError: an array that is not contiguous has no one address
        """
        if not array.flags.c_contiguous:
            raise ValueError("an array that is not contiguous has no one address")
        self._owners.append(array)
        return int(array.ctypes.data)

    def hold(self, owner: object) -> None:
        """Hold something that knows the addresses of its own arrays."""
        self._owners.append(owner)
