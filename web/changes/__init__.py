"""Undo for any change, forms that are done once, and two tabs."""
