"""Trials on the holding's own ground: laid out, weighed, told."""
