"""The pages of plans: a plot's own, adopting and proposing, letters, sheets and work orders. Above jobs, for adopting makes work."""
