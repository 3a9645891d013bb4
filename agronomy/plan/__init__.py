"""The walk through all stages: assess, needs, choice, dose, date. `plan.py` reads like the diagram of the work.

May import base to schedule.
"""
