"""The door for gunicorn."""

import os

from django.core.wsgi import get_wsgi_application

from agronomy.base.collector import spare_the_collector
from agronomy.tables import load_tables

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings")
application = get_wsgi_application()
load_tables()  # before the first request, and before the workers part
spare_the_collector()
