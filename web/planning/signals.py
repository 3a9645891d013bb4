"""What other rooms may hang on a plan: they add the rows that they touch to `touched`, so that one undo puts all of it back."""

from django.dispatch import Signal

work_may_change = Signal()  # plot, touched: rows as they are before a plan for the plot is adopted
plan_adopted = Signal()  # adopted, plan, touched: rows made or changed because of it
plan_withdrawn = Signal()  # adopted: it is about to go
work_ahead = Signal()  # plot, today, units: receivers answer with the plot's next open jobs, as rows of a page
