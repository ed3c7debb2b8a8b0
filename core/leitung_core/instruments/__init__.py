"""What a meter shows on a system as it was built: as the plan has it, or with a mistake hidden in it."""
