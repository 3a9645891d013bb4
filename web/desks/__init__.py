"""Calculators for a bench, a shed or a yard: tank, spreader, measures, manure, signs."""
