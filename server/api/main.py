"""The one API of the server: routers per app, and one place where errors become answers."""

from ninja import NinjaAPI

from accounts.api import router as accounts_router
from api.errors import install_error_handlers
from api.json import StrictParser, StrictRenderer
from library.api import router as library_router
from practice.api import router as practice_router

api = NinjaAPI(
    title="Leitfaden", version="0.2", docs_url=None, openapi_url=None, parser=StrictParser(), renderer=StrictRenderer()
)
api.add_router("", accounts_router)
api.add_router("", library_router)
api.add_router("", practice_router)
install_error_handlers(api)
