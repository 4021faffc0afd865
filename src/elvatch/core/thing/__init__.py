"""Things that stand on the ground: their shapes, how they are drawn or read, their levels of detail."""
