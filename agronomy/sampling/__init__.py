"""Where to take how many cores, how deep, when; codes on bags; two samples compared.

May import base to ground.
"""
