"""Pages of the readings, one module a way of getting them in."""
