"""What the tests would read in one, three and five years."""
