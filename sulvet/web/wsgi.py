"""The WSGI application."""

import os

from django.core.wsgi import get_wsgi_application
from django.urls import get_resolver

from sulvet.web.memory import settle

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "sulvet.web.settings")
application = get_wsgi_application()
# All views and what they import are loaded now, not at the first request.
get_resolver().url_patterns  # noqa: B018
settle()
