"""Rounds of samples: walks, bags, labels, and the page for the phone at the plot."""
