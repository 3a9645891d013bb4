"""Practice: exercises made of the core, for the learner alone."""
