"""Documents in and out: the request with all its errors at once, the plan as JSON, own crops and labels, unit conversion.

May import base to ledger.
"""
