"""From a reading to a finding: acidity, nutrients, salt, balance, water, and what cannot be true.

May import base to sampling.
"""
