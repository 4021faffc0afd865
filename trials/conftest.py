"""Trials find what tests share."""

from tests.conftest import demo_data

__all__ = ["demo_data"]
