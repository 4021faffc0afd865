"""Kinds of what a ray can meet."""

SKY, GROUND, SIDE, FIGURE, BEYOND, WATER, THING = range(7)
