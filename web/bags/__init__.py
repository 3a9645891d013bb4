"""Which bags: aims, swaps, a search over the whole holding, what materials are worth, and a page for each."""
