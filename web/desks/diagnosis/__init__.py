"""What ails it: the key of symptoms, what is watched, leaf meters, salt."""
