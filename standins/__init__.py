"""Simulated stand-ins for devices and services. Each has the interface that a real one would have, and is swapped in the settings."""
