"""From a choice to an application: household measures, rounding to what can be weighed.

May import base to products.
"""
