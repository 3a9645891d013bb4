"""Nitrogen by its budget, credits of what is given anyway, micronutrients."""
