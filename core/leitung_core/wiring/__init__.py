"""Landings: cables, terminals and conventions, and what stands against them."""
