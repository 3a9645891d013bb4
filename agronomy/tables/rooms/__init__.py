"""A module for each room of figures: its row classes, then the room with its figures and tables."""
