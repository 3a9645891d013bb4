"""What was really put on: the log, its photos, corrections and totals by year."""
