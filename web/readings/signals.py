"""What later rooms listen to."""

from django.dispatch import Signal

# Sent with `plot_ids` when many readings came or went at once, past Django's own signals for single rows.
readings_changed = Signal()
