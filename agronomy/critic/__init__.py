"""Reads a finished plan and its letter as the one who has to sign them, and says what no plan may hold."""
