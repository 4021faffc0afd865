"""How images are mapped onto the ground: projection, repeats, relief, tint, filtered lookups."""
