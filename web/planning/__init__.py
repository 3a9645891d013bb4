"""What a plot asks for: its request, its summary, and the ways to choose otherwise."""
