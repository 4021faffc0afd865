"""Mending a set: each way takes maps and gives maps, all cut alike."""
