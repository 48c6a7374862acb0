"""Django's command line."""

import os
import sys

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "sulvet.web.settings")
    # Matrices here are small, and clips are read side by side: threads would wait for each other.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
