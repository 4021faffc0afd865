"""The made-up scenario that a new user lands in."""
