"""How it goes on, and what the desks work out: measures, bands, tanks, acid, bales, blends, manure, spreader.

May import base to dose.
"""
