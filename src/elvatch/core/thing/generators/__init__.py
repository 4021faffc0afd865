"""Kinds of things that are drawn: each declared once, with its controls; the same seed draws the same."""
