"""A web process on a listening socket that another process holds, so that several share one port and a new one takes
over without a gap.
"""

import gc
import os
import socket
import threading
from typing import Any

import uvicorn
from django.core.management.base import BaseCommand

#: Longer than somebody reads before the next click, so that the connection is still there. [s]
KEEP_ALIVE = 75
#: On a line to a bench. [bytes]
LONGEST_MESSAGE = 64_000


class Command(BaseCommand):
    """web --fd N, or web --bind ADDRESS --port N."""

    help = "Serve on an inherited socket, or on an address of one's own"

    def add_arguments(self, parser: Any) -> None:
        """Where to listen."""
        parser.add_argument("--fd", type=int)
        parser.add_argument("--bind", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8010)

    def handle(self, *args: Any, **options: Any) -> None:
        """Serve until a signal comes."""
        listener = (
            socket.socket(fileno=options["fd"])
            if options["fd"] is not None
            else _listen(options["bind"], options["port"])
        )
        # Connections inherit it: without it every small answer waits 40 ms for the other side's acknowledgement.
        listener.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        # Where other web processes pass lines on to this one.
        here = os.environ.get("LEITFADEN_PEER_BIND") or options["bind"]
        peers = _listen(here, 0)
        os.environ["LEITFADEN_PEER"] = f"{here}:{peers.getsockname()[1]}"
        config = uvicorn.Config(
            "config.asgi:application",
            log_level="warning",
            access_log=False,
            lifespan="off",
            proxy_headers=False,
            server_header=False,
            timeout_keep_alive=KEEP_ALIVE,
            timeout_graceful_shutdown=3,
            ws="websockets-sansio",
            # A block of values is small and new twenty times a second: packing it costs more than sending it.
            ws_per_message_deflate=False,
            ws_max_size=LONGEST_MESSAGE,
        )
        threading.Thread(target=_warm_up, daemon=True).start()
        uvicorn.Server(config).run(sockets=[listener, peers])


def _warm_up() -> None:
    """The first bench of a process would wait for the compiled step otherwise, and every bench for the collector of
    garbage whenever it looks through all that was there before it: some 0.2 s.
    """
    from leitfaden_core.live import Beginning, Bench

    Bench(Beginning(rig="R1")).go_to(500)
    gc.collect()
    gc.freeze()


def _listen(bind: str, port: int) -> socket.socket:
    return socket.create_server((bind, port), backlog=1024)
