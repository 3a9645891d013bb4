"""Plots and what stands on them: shapes, crops by year, waters, their life from cut to retired."""
