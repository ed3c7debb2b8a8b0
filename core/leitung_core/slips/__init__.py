"""If someone slips: every single mistake, its harm, the fewest tests that expose them, diagnosis from readings."""
