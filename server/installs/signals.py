"""What installs tell those who listen, so that they need not know them."""

from django.dispatch import Signal

# A revision was written, in this transaction: `install` (not saved since), `brief` of its result, `author`.
revision_written = Signal()
