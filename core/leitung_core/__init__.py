"""The trade: the plan as one electrical network, and everything that is computed from it.

Pure Python: no web framework, no database, no input or output beyond reading its own tables.
"""
