"""Start-up: what to do in which order, what to measure, what it should read, and how far an install has come."""
