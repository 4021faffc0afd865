"""Imperfections over layers: planned, looked up, blended."""
