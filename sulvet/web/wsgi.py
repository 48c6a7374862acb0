"""The WSGI application."""

import gc
import os

from django.core.wsgi import get_wsgi_application
from django.urls import get_resolver

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "sulvet.web.settings")
application = get_wsgi_application()
# All views and what they import are loaded now and stay: looking through them again and again
# for what may be thrown away cost single requests up to a tenth of a second (measured).
get_resolver().url_patterns  # noqa: B018
gc.collect()
gc.freeze()
