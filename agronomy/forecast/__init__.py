"""What soil tests are likely to read in some years: an estimate, always with its fan."""
