"""Servers that Sulvet may use instead of its data folder, by their addresses.

None of them is needed: on one computer the folder holds all, and nothing here is imported.
"""

from __future__ import annotations

from typing import Any
from urllib.parse import parse_qsl, unquote, urlsplit

from django.core.exceptions import ImproperlyConfigured

#: A server that does not answer is not waited for longer, s.
CONNECT, READ = 5, 60
#: Longest that a job may take before a queue gives it up, s.
JOB = 3600
QUEUES = ("booth", "upload", "again")


def clip_storage(url: str) -> dict[str, dict[str, Any]]:
    """Django's entry for where the files of takes are kept, by its name; empty for the data folder.

    url   ``s3://KEY:SECRET@host:port/bucket``, and after a question mark ``region``, ``tls=no`` for
          a server that speaks plain HTTP, ``signed=60`` to send browsers there for so many seconds

    ImproperlyConfigured where it is no such address.
    """
    if not url:
        return {}
    found = urlsplit(url)
    bucket = found.path.strip("/")
    if found.scheme != "s3" or not found.hostname or not bucket or "/" in bucket:
        raise ImproperlyConfigured(
            "STORAGE_URL must look like s3://KEY:SECRET@host/bucket; leave it out to keep clips in "
            "the data folder."
        )
    from botocore.config import Config

    told = dict(parse_qsl(found.query))
    scheme = "http" if told.get("tls") == "no" else "https"
    port = f":{found.port}" if found.port else ""
    options = {
        "access_key": unquote(found.username or ""),
        "secret_key": unquote(found.password or ""),
        "bucket_name": bucket,
        "endpoint_url": f"{scheme}://{found.hostname}{port}",
        "region_name": told.get("region") or "us-east-1",
        "querystring_expire": int(told.get("signed") or 0),
        # What a job brings anew takes the place of what it brought before.
        "file_overwrite": True,
        "client_config": Config(
            connect_timeout=CONNECT, read_timeout=READ, signature_version="s3v4",
            s3={"addressing_style": "path"}, retries={"max_attempts": 3, "mode": "standard"},
        ),
    }  # fmt: skip
    return {"clips": {"BACKEND": "storages.backends.s3.S3Storage", "OPTIONS": options}}


def tasks(url: str) -> tuple[dict[str, Any], dict[str, Any], list[str]]:
    """Django's entry for the queue of jobs, what a queue server wants to know, and further apps.

    url   such as ``redis://host:6379/0``, any server that speaks Redis' protocol; empty for the
          database
    """
    if not url:
        return {"BACKEND": "django_tasks_db.DatabaseBackend", "QUEUES": list(QUEUES)}, {}, []
    if urlsplit(url).scheme not in {"redis", "rediss", "unix"}:
        raise ImproperlyConfigured(
            "TASKS_URL must begin with redis://; leave it out to keep jobs in the database."
        )
    # What becomes of a job is asked for under “default”, whatever queue it was in.
    names = ("default", *QUEUES)
    queues = {name: {"URL": url, "DEFAULT_TIMEOUT": JOB} for name in names}
    entry = {"BACKEND": "django_tasks_rq.RQBackend", "QUEUES": list(QUEUES)}
    return entry, queues, ["django_rq", "django_tasks_rq"]


def cache(url: str) -> dict[str, Any]:
    """Django's entry for what all processes remember together, such as tries to log in.

    url   such as ``redis://host:6379/1``; empty: each process for itself
    """
    if not url:
        return {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"}
    return {"BACKEND": "django.core.cache.backends.redis.RedisCache", "LOCATION": url}
