"""The plan as one plant: sources, lines, cables, devices and terminals, each with one address."""
