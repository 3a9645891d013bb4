"""What was measured: reports, laboratories' files, kits, meters, leaf cards."""
