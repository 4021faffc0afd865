"""Splat maps: shares as whole weights of four layers a file, out and in."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands
from elvatch.core.refusal import RefusalError

A_FILE = 4
"""Layers in a file: one a channel."""
WEIGHTS = ("weights", "strongest-layers", "strongest-weights")
"""Values that are whole weights, or tell whose they are."""


@kernel
def _weigh_rows(
    shares: NDArray[np.float32], most: int, rest: NDArray[np.float64], out: NDArray[np.uint16], a: int, b: int
) -> None:
    count = shares.shape[1]
    for i in range(a, b):
        total = 0.0
        for k in range(count):
            total += shares[i, k]
        left = most
        for k in range(count):
            exact = shares[i, k] / total * most if total > 0.0 else 0.0
            whole = int(exact)
            out[i, k] = whole
            rest[k] = exact - whole
            left -= whole
        if total <= 0.0:
            out[i, 0] = most
            continue
        while left > 0:
            best = 0
            for k in range(1, count):
                if rest[k] > rest[best]:
                    best = k
            out[i, best] += 1
            rest[best] = -1.0
            left -= 1


def weights(shares: NDArray[np.float32], bits: int) -> NDArray[np.uint16]:
    """Return shares as whole weights that sum exactly to 255 or 65535 at every place.

    Parameters
    ----------
    shares : ndarray, shape (n, layers), float32
        At least one layer; each row sums to about 1.
    bits : int
        8 or 16.

    Returns
    -------
    ndarray, shape (n, layers), uint16
        Rounded by largest remainders (Hamilton), so that none is off by a whole unit.
    """
    out = np.empty(shares.shape, np.uint16)
    most = (1 << bits) - 1

    def work(a: int, b: int) -> None:
        _weigh_rows(shares, most, np.empty(shares.shape[1]), out, a, b)

    over_bands(len(shares), work, least=4096)
    return out


@kernel
def _strongest_rows(shares: NDArray[np.float32], most: int, out: NDArray[np.float32], a: int, b: int) -> None:
    count = shares.shape[1]
    for i in range(a, b):
        total, kept = 0.0, 0.0
        for k in range(count):
            total += shares[i, k]
        for _ in range(min(most, count)):
            best = -1
            for k in range(count):
                if out[i, k] == 0.0 and shares[i, k] > 0.0 and (best < 0 or shares[i, k] > shares[i, best]):
                    best = k
            if best < 0:
                break
            out[i, best] = shares[i, best]
            kept += shares[i, best]
        for k in range(count):
            out[i, k] *= total / kept if kept > 0.0 else 0.0


def strongest(shares: NDArray[np.float32], most: int) -> NDArray[np.float32]:
    """Return shares of only the ``most`` largest at each place, scaled to the sum that all had.

    Parameters
    ----------
    shares : ndarray, shape (n, layers), float32
        None negative.
    most : int
        How many may be left.
    """
    out = np.zeros_like(shares)
    over_bands(len(shares), lambda a, b: _strongest_rows(shares, most, out, a, b), least=4096)
    return out


def of_tile(shares: NDArray[np.float32], among: tuple[int, ...]) -> NDArray[np.float32]:
    """Return shares of only some layers, scaled to the sum that all had; where none of them lies, the first does.

    Parameters
    ----------
    shares : ndarray, shape (n, layers), float32
        None negative.
    among : tuple of int
        Which stay.
    """
    kept = np.zeros_like(shares)
    kept[:, among] = shares[:, among]
    left = kept.sum(axis=1)
    kept[left <= 0, among[0]] = 1.0
    left[left <= 0] = 1.0
    kept *= (shares.sum(axis=1) / left)[:, None]
    return kept


def ranked(shares: NDArray[np.float32], bits: int) -> tuple[NDArray[np.uint16], NDArray[np.uint16]]:
    """Return the four strongest layers of each place by number, and their whole weights, the strongest first.

    Parameters
    ----------
    shares : ndarray, shape (n, layers), float32
        None negative.
    bits : int
        Of the weights, 8 or 16. The order is that of the shares, so that it is the same for both.

    Returns
    -------
    layers, weights : ndarray, shape (n, 4), uint16
        Where there are fewer than four layers, numbers of layers that do not exist, with no weight.
    """
    few = ((0, 0), (0, max(0, A_FILE - shares.shape[1])))
    order = np.argsort(-np.pad(shares, few), axis=1, kind="stable")[:, :A_FILE]
    whole = np.pad(weights(strongest(shares, A_FILE), bits), few)
    return order.astype(np.uint16), np.take_along_axis(whole, order, 1)


def files_of(layers: int) -> int:
    """Return how many files hold so many layers' weights."""
    return -(-layers // A_FILE)


def packed(all_weights: NDArray[np.uint16], file: int) -> NDArray[np.uint16]:
    """Return the four channels of one file, (n, 4): layers ``4 * file`` on, 0 where there are no more."""
    part = all_weights[:, file * A_FILE : (file + 1) * A_FILE]
    return np.pad(part, ((0, 0), (0, A_FILE - part.shape[1])))


def presences(planes: list[NDArray[np.float32]]) -> list[NDArray[np.float32]]:
    """Return what each layer must take from those below it for its weights to be its shares.

    Parameters
    ----------
    planes : list of ndarray, shape (rows, cols), float32
        Weights of layers from the bottom of the column to its top, all of one size, none negative.

    Returns
    -------
    list of ndarray
        0..1; a fade of layer upon layer with these as presence gives ``w / sum of all w``.

    Raises
    ------
    RefusalError
        When they differ in size or say nothing anywhere.
    """
    shape = planes[0].shape
    if any(plane.shape != shape for plane in planes):
        sizes = ", ".join(sorted({f"{p.shape[1]} x {p.shape[0]}" for p in planes}))
        raise RefusalError("splat maps", f"sizes {sizes}", "one size", "resize them to one size")
    if not any(plane.any() for plane in planes):
        raise RefusalError("splat maps", "channels that are 0 everywhere", "weights", "choose other channels")
    below = np.zeros(shape, np.float64)
    out = []
    for plane in planes:
        weight = np.clip(plane, 0, None).astype(np.float64)
        below += weight
        out.append(np.divide(weight, below, out=np.zeros(shape), where=below > 0).astype(np.float32))
    return out
