"""The nouns of the work: soil, reading, finding, answers, request, climate, labour, records of what was put on.

Frozen values with no rule of advice in them.
May import base, tables.
"""
