"""Serve the application: manage.py serve --port 8710. One process; behind a proxy that speaks TLS for more than one
machine."""

import asyncio
import contextlib
import resource
from argparse import ArgumentParser
from typing import Any

import uvicorn
from computing import processes
from django.core.management.base import BaseCommand
from uvicorn.protocols.http.h11_impl import H11Protocol

from shop import asking

FIRST_REQUEST = 15.0
"""Seconds after which a connection that has sent no whole request is closed: else it keeps its place for as long as it
likes."""


class Impatient(H11Protocol):
    """HTTP that does not wait for ever for a request's head."""

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self._look_later()

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        self._look_later()

    def _look_later(self) -> None:
        if self._waits():
            self.loop.call_later(FIRST_REQUEST, self._still_nothing, self.cycle)

    def _waits(self) -> bool:
        """Whether it is one of HTTP (a WebSocket has left them) on which no request is being worked on."""
        return self in self.connections and (self.cycle is None or self.cycle.response_complete)

    def _still_nothing(self, before: object) -> None:
        if self.cycle is before and self._waits() and not self.transport.is_closing():
            self.transport.close()


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8710)

    def handle(self, *args: Any, **options: Any) -> None:
        processes.ready()  # the workers' modules are loaded while the server's own are
        _, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
        resource.setrlimit(resource.RLIMIT_NOFILE, (hard, hard))  # a connection that only waits costs a file, no more
        config = uvicorn.Config(
            "config.asgi:application",
            host=options["host"],
            port=options["port"],
            http=Impatient,
            lifespan="off",
            log_config=None,
            log_level="warning",
            access_log=False,
            timeout_keep_alive=20,
            timeout_graceful_shutdown=2,
            ws_max_size=2_000_000,
            server_header=False,
        )
        try:
            with contextlib.suppress(KeyboardInterrupt):
                uvicorn.Server(config).run()
        finally:
            from shop.proofs import running as proofs  # with the models, which the command line need not load
            from shop.reviews import running as reviews
            from shop.rooms import running as rooms

            proofs.end()  # what was started ends with the server
            reviews.end()
            rooms.end()
            asking.end()
