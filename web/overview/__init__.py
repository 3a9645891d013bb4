"""Pages over all rooms: today, the map, learning, archives, the demo, errors, health."""
