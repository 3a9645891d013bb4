"""From a finding to a need: lime and acid, nitrogen, credits, micronutrients, and the schools that differ.

Says `Need`, `Nothing` or `Unmet`; never names a bag.
May import base to interpret.
"""
