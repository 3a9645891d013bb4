"""What was really put on in a year, beside the owner's caps.

May import base to plan.
"""
