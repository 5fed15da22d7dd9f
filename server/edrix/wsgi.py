"""The WSGI entry point that gunicorn serves."""

import os
from importlib import import_module

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "edrix.settings")
application = get_wsgi_application()
# Else every process would load all routes with its first request, and somebody would wait for it.
import_module("edrix.urls")
