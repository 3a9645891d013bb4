"""Making, changing, cutting up, merging and retiring plots; their crops, texture and waters; the drawing board and boundary files."""
