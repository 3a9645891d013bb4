"""From a need to materials: available products, the rule's choice, the optimiser, what must not meet, what a label is worth.

May import base to recommend.
"""
