"""What goes into other hands: the customer's page, what to do when it stops, and when what is due."""
