"""The control network: built from a plan or read from a file, solved for calls and causes, explained."""
