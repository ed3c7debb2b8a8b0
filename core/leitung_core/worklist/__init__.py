"""The work list of an install: who does what, in which order, how long; taken from the plan and its start-up steps."""
