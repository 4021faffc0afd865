"""What is said when something cannot be done: found, expected, what to do, in one sentence."""

from __future__ import annotations

import errno


class RefusalError(ValueError):
    """An input that is refused.

    Parameters
    ----------
    what : str
        What was looked at, usually a file or field name.
    found : str
        What was found there.
    expected : str
        What was expected instead.
    todo : str
        What the user can do about it.

    Examples
    --------
    >>> str(RefusalError("hill.png", "0 bytes", "a height image", "choose another file"))
    'hill.png: found 0 bytes, expected a height image; choose another file.'
    """

    def __init__(self, what: str, found: str, expected: str, todo: str) -> None:
        self.what, self.found, self.expected, self.todo = what, found, expected, todo
        super().__init__(f"{what}: found {found}, expected {expected}; {todo}.")


_FULL = frozenset({errno.ENOSPC, errno.EDQUOT, errno.EFBIG})


def of_disk(where: object, error: OSError) -> RefusalError:
    """Return what is said when something could not be written.

    Parameters
    ----------
    where : object
        The file or folder.
    error : OSError
        What the system said.
    """
    found = error.strerror or "an error"
    return RefusalError(str(where), found, "room and permission to write", "free some space and try again")


def is_full(error: OSError) -> bool:
    """Whether an error says that there is no room left."""
    return error.errno in _FULL


class CancelledError(Exception):
    """Raised between bands of work when somebody asked for the work to stop."""
