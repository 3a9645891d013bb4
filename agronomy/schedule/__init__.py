"""From an application to a dated one: windows, gates by weather, intervals, labour, programmes.

May import base to apply.
"""
