"""The command line on the core: check a plan, size a circuit. No database, no web."""
