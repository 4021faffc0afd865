"""Measured ratios against plain references. Each first checks that both sides agree."""
