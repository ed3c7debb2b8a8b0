"""What installs tell those who listen, so that they need not know them."""

from django.dispatch import Signal

# A revision was written: `install` (not saved since), `brief` of its result. In the transaction that writes it.
revision_written = Signal()
