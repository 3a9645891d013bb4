"""What other rooms may hang on a plan: they add the rows that they touch to `touched`, so that one undo puts all of it back."""

from django.dispatch import Signal

work_may_change = Signal()  # plot, touched, choice: rows as they are before a plan for the plot is adopted and its overlaps settled
plan_adopted = Signal()  # adopted, plan, touched: rows made or changed because of it
work_beside = Signal()  # plot, plan: receivers answer with the overlaps of the plan and of other work that is meant for the plot
work_settled = Signal()  # plot, plan, choice, reason, made: the other work is dropped, the new cut, or both kept
plan_withdrawn = Signal()  # adopted: it is about to go
work_ahead = Signal()  # plot, today, units: receivers answer with the plot's next open jobs, as rows of a page
