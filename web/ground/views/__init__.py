"""Pages of the ground, one module a page."""
