"""The bench: a system carried through what is pressed, and everything its screens show."""
