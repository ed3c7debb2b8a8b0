"""What must stop what: requirements, the matrix, functional tests, patterns, every single mistake, diagnosis."""
