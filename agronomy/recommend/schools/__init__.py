"""Five ways from the same findings to needs, each a module with one entry, `needs`."""
