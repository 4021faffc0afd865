"""The command line: the same operations without a browser."""

from elvatch.cli.commands import main

__all__ = ["main"]
