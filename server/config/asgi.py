"""The ASGI entry. The application is synchronous and runs in a bounded pool of threads that live as long as the
process.

Django's own ASGI handler makes a thread and an event loop for each request, which costs more than most of our answers.
Web processes never simulate; workers do.
"""

import os

from a2wsgi import WSGIMiddleware
from django.core.wsgi import get_wsgi_application

from config.gate import THREADS, Gate

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = Gate(WSGIMiddleware(get_wsgi_application(), workers=THREADS))  # type: ignore[arg-type]
