"""The plan document: one network of sources, circuits and units; its format, its patches."""
