"""The ASGI entry. Requests are synchronous and run in a bounded pool of threads that live as long as the process.

Django's own ASGI handler makes a thread and an event loop for each request, which costs more than most of our answers.
Requests never simulate, workers do; only lines to running benches do, in threads of their own (benches.hosting).
"""

import os
from typing import Any

from a2wsgi import WSGIMiddleware
from channels.auth import AuthMiddlewareStack
from channels.routing import ProtocolTypeRouter, URLRouter
from channels.security.websocket import AllowedHostsOriginValidator
from django.core.wsgi import get_wsgi_application

from config.gate import THREADS, Gate

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
requests = Gate(WSGIMiddleware(get_wsgi_application(), workers=THREADS))  # type: ignore[arg-type]

from benches.routing import routes  # noqa: E402  needs the applications, which are loaded now


def with_plain_send(application: Any) -> Any:
    """Lines that find their own ``send`` in the scope: that of the session looks at the session for every message."""

    async def passing(scope: dict[str, Any], receive: Any, send: Any) -> None:
        await application({**scope, "plain_send": send}, receive, send)

    return passing


lines = AllowedHostsOriginValidator(with_plain_send(AuthMiddlewareStack(URLRouter(routes))))
application = ProtocolTypeRouter({"http": requests, "websocket": lines})
