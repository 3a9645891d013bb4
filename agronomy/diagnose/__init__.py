"""What ails a plant, from what one sees and what was read: causes ranked, the next question, and the check that parts look-alikes.

It ends in a test, a look again or a pair of samples, never in a dose. May import tables, model and base.
"""
