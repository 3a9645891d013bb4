"""What follows from looking at a standing crop and at years of readings."""
