"""The ASGI entry. Requests are synchronous and run in a bounded pool of threads that live as long as the process.

Django's own ASGI handler makes a thread and an event loop for each request, which costs more than most of our answers.
Requests never simulate, workers do; only lines to running benches do, in threads of their own (benches.hosting).
"""

import os

from a2wsgi import WSGIMiddleware
from channels.auth import AuthMiddlewareStack
from channels.routing import ProtocolTypeRouter, URLRouter
from channels.security.websocket import AllowedHostsOriginValidator
from django.core.wsgi import get_wsgi_application

from config.gate import THREADS, Gate

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
requests = Gate(WSGIMiddleware(get_wsgi_application(), workers=THREADS))  # type: ignore[arg-type]

from benches.routing import routes  # noqa: E402  needs the applications, which are loaded now

application = ProtocolTypeRouter(
    {"http": requests, "websocket": AllowedHostsOriginValidator(AuthMiddlewareStack(URLRouter(routes)))}
)
