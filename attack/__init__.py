"""The attack on this program, kept with it: `make attack` runs each part in bounds, on this machine only."""
