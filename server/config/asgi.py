"""The ASGI entry. Web processes never simulate; workers do."""

import os

from django.core.asgi import get_asgi_application

from config.gate import Gate

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = Gate(get_asgi_application())
