"""Lime by buffer tests or estimate, sulfur, and how much may go on at a time."""
