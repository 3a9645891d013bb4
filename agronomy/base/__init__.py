"""What every rule leans on: typed errors, numbers as people write them, units, 80 % bands, workings, figures as shown.

Knows nothing of soils or crops.
May import nothing of the core.
"""
