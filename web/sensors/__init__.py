"""Probes in the ground: gateways, what they send, and what it is worth."""
