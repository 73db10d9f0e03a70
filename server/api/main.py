"""The one API of the server: routers per app, and one place where errors become answers."""

from http import HTTPStatus
from typing import Any

from ninja import NinjaAPI

from api.errors import install_error_handlers
from api.json import StrictParser, StrictRenderer
from api.problems import Problem
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

#: How any operation may refuse; operations name only what else they answer.
REFUSALS = (401, 403, 404, 409, 422, 429, 503)


class Api(NinjaAPI):
    """The API, whose document says of every operation how it refuses.

    Said here and not at each operation: a model for every status of a hundred operations took a second of every start.
    """

    def get_openapi_schema(self, **options: Any) -> Any:
        """The OpenAPI document."""
        document = super().get_openapi_schema(**options)
        document["components"]["schemas"]["Problem"] = Problem.json_schema()
        content = {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
        for path in document["paths"].values():
            for operation in path.values():
                for status in REFUSALS:
                    refusal = {"description": HTTPStatus(status).phrase, "content": content}
                    operation["responses"].setdefault(status, refusal)
        return document


api = Api(
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
