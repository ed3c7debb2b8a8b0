"""Accessories by pattern: fitted to a plan, or what stands in the way."""
