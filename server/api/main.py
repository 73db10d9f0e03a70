"""The one API of the server: routers per app, and one place where errors become answers."""

from ninja import NinjaAPI

from api.errors import install_error_handlers
from api.json import StrictParser, StrictRenderer
from atlas.api import router as atlas_router
from benches.api import router as benches_router
from drills.api import router as drills_router
from lessons.api import router as lessons_router
from people.api import router as people_router
from practice.api import router as practice_router
from signatures.api import router as signatures_router
from simulations.api import router as simulations_router
from simulations.workings import router as workings_router
from values.api import router as values_router

api = NinjaAPI(
    title="Leitfaden", version="0.2", docs_url=None, openapi_url=None, parser=StrictParser(), renderer=StrictRenderer()
)
api.add_router("", people_router)
api.add_router("", simulations_router)
api.add_router("", workings_router)
api.add_router("", benches_router)
api.add_router("", values_router)
api.add_router("", atlas_router)
api.add_router("", signatures_router)
api.add_router("", lessons_router)
api.add_router("", practice_router)
api.add_router("", drills_router)
install_error_handlers(api)
