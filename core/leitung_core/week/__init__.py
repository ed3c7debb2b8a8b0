"""The week of a crew: tasks put to people and times, the fewest visits first, and why it cannot be done."""
