"""What people type, say and bring: quantities, a unit in one sentence, an engineer's schedule, read into the plan."""
