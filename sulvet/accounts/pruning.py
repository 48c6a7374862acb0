"""What an installation gathers and nobody needs any more: old sessions, jobs and tries."""

from __future__ import annotations

import datetime
from importlib import import_module

from axes.models import AccessAttempt
from axes.models import AccessLog as LoginLog
from django.conf import settings
from django.core.management import call_command

from sulvet.accounts import access_log, local_time
from sulvet.core import clock

#: Days for which ended jobs, and for which names and addresses of logins, are kept.
JOB_DAYS, LOGIN_DAYS = 7, 30


def prune() -> None:
    """Remove all of it."""
    import_module(settings.SESSION_ENGINE).SessionStore.clear_expired()
    if not settings.RQ_QUEUES:
        # A queue server forgets by itself.
        call_command("prune_db_task_results", min_age_days=JOB_DAYS, verbosity=0)
    old = clock.now() - datetime.timedelta(days=LOGIN_DAYS)
    for rows in (AccessAttempt.objects, LoginLog.objects):
        rows.filter(attempt_time__lt=old).delete()
    access_log.prune(local_time.today())
