"""Elvatch builds terrain and large-surface materials."""

__version__ = "0.6.0"
