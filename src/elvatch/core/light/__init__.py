"""Sun, sky, air and water as physics gives them, for pictures."""
