"""Drawing and describing ground before a sample is taken: shapes, boundaries, kinds and sizes, texture by feel, rotation.

May import base, tables, model.
"""
