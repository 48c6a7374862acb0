"""What a log line may say: never an address that lets somebody in, nor who somebody is."""

from __future__ import annotations

import logging
import re

#: What follows one of these in an address is as good as a password.
SECRET = re.compile(r"(/(?:join|film|eye/open|link)/)[^/\s'\"]+")
#: What Django hangs on a line beside its text: whole requests, with addresses and cookies.
BESIDE = ("request", "server_time", "status_code")


class Masked(logging.Filter):
    """Takes out of a line what is secret in it."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Always lets it pass."""
        text = record.getMessage()
        masked = SECRET.sub(r"\1…", text)
        if masked != text:
            record.msg, record.args = masked, ()
        for name in BESIDE:
            record.__dict__.pop(name, None)
        return True
