"""From plant to network: intent, hazards, control systems judged."""
