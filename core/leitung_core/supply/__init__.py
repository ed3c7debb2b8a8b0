"""Supply: what feeds a plan's lines, source by source, and whether they start on it."""
