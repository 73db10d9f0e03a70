"""The ASGI entry: loads the compiled simulator before the first request, so that no request waits for it."""

import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_asgi_application()

from leitfaden_core.simulate import warm_up_compiler  # noqa: E402  after Django's set-up

warm_up_compiler()
