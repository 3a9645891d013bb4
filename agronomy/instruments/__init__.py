"""What a grower measures with: pH meter, colour kits, leaf cards, sensors; when their readings can be trusted.

May import base, tables, model.
"""
