"""Plans beside each other: other crops, tests that would sharpen, ground without a test, aims, swaps, the whole holding, years ahead.

May import base to plan.
"""
