"""A holding whole, as one file: taken out while the server runs, and put back here or on another server (docs/archive.md)."""
