"""Colours that the code reserves, and what makes a conductor ungrounded."""

# Colours that stay ground where line voltage is about; green is an ordinary colour in thermostat cable (250.119).
GROUND_COLOURS = ("green", "green-yellow", "bare")
# From this size on a grounding conductor may be marked green where it ends (250.119(A)).
MARKED_FROM = "4"
# White and grey are the grounded conductor's: as an ungrounded one they are re-identified at each end (200.7(C)(1)).
GROUNDED_COLOURS = ("white", "grey")
UNGROUNDED = ("line-1", "line-2", "line-3", "switched-line")
