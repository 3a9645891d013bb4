"""What other rooms may hang on a planting: they add the rows that may change to `touched`, so that one undo puts all of it back."""

from django.dispatch import Signal

planting_may_move = Signal()  # plot, touched: rows as they are before the planting's days change
plot_may_retire = Signal()  # plot, touched: rows as they are before the plot is taken out of use
plot_retired = Signal()  # plot, into: the plot that it became part of, or None
planting_moved = Signal()  # plot, since: the day it was planted before, or None; receivers answer with how many jobs moved along
