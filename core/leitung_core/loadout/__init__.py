"""What an install takes along: counted from the plan, each thing once, with what it is for."""
