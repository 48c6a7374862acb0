"""``python -m sulvet review CLIP …``, ``measure MARKS …``, ``simulate SCRIPT …``, and
``audit-files``, ``backup FOLDER``, ``restore FILE`` and ``move --to ADDRESS``, which look after
what the server keeps."""

import os
import sys

from sulvet.core.shell import main

#: What is done with the server's own data: commands of its.
SERVERS = {"audit-files": "audit_files", "backup": "backup", "restore": "restore", "move": "move"}

if len(sys.argv) > 1 and sys.argv[1] in SERVERS:
    from django.core.management import execute_from_command_line

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "sulvet.web.settings")
    execute_from_command_line(["sulvet", SERVERS[sys.argv[1]], *sys.argv[2:]])
else:
    sys.exit(main())
