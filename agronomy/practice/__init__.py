"""Exercises made of the core itself: a case that is made up by a seed, the answer that the rules give, and why."""
