"""The invented holdings of the demo, and how they are loaded."""
