"""``python -m sulvet review CLIP …`` and ``python -m sulvet measure MARKS …``."""

import sys

from sulvet.core.shell import main

sys.exit(main())
