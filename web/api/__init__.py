"""The HTTP API: readings in, plans, jobs, log and shed out, for programs of one's own."""
