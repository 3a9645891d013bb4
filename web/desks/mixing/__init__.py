"""What is mixed: tanks and acids, blends, sieves."""
