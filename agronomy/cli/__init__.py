"""The command line: `iron-rake`, which is `python -m agronomy`.

May import every room.
"""
