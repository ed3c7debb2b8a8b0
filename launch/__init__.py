"""Set-up, start, stop and tests. Standard library only: it runs before anything is installed."""
