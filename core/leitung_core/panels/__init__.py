"""Panels: which spaces a circuit has, and whether they fit."""
