"""Elvatch."""
