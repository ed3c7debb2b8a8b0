"""Django's command line for the server, with the core on the path."""

import os
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT / "core"), str(ROOT / "server")]

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
    from collecting import rarely
    from django.core.management import execute_from_command_line

    rarely()
    execute_from_command_line(sys.argv)
