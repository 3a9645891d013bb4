"""The shed by lots, suppliers and their prices, and what to buy. Knows nothing of plans: what is meant comes through `wanted`."""
