"""What records tell those who listen, so that they need not know them."""

from django.dispatch import Signal

# A record was signed, in this transaction: `install`, `user`.
record_signed = Signal()
