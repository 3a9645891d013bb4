"""Trials: laid out by a drawn lot, weighed, and told in honest words."""
