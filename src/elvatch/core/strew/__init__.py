"""Things laid out by a rule, many at a time: where each lies and how it stands."""
