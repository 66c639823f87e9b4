"""Serve the application: manage.py serve --port 8710. One process; behind a proxy that speaks TLS for more than one
machine."""

import asyncio
import contextlib
import resource
import socket
import sqlite3
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

import uvicorn
from computing import processes
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from uvicorn.protocols.http.h11_impl import H11Protocol

from shop import asking
from shop.storage import applied, of_later_version, sound, to_be_migrated

FIRST_REQUEST = 15.0
"""Seconds after which a connection that has sent no whole request is closed: else it keeps its place for as long as it
likes."""


class RequestTimeoutProtocol(H11Protocol):
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


class Ready(uvicorn.Server):
    """Says where it is to be found when it answers, not before."""

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        if not self.started:
            return
        await asyncio.to_thread(asking.warm)
        host = "localhost" if self.config.host in ("127.0.0.1", "0.0.0.0") else self.config.host
        print(f"ready: http://{host}:{self.config.port}", flush=True)


def _free(host: str, port: int) -> None:
    """Whether the port can be had, before anything is loaded.

    Raises:
        CommandError: with what to do.
    """
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    with socket.socket(family, socket.SOCK_STREAM) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as failed:
            raise CommandError(
                f"Port {port} of {host} can't be had ({failed.strerror}). Stop what uses it, or choose another with --port."
            ) from None


def _usable(database: Path) -> None:
    """Whether the database is there, whole and of this version.

    Raises:
        CommandError: with what to do.
    """
    migrate = "Run: manage.py migrate"
    try:
        missing, later = to_be_migrated(database), of_later_version(database)
    except sqlite3.Error as failed:
        raise CommandError(f"The database can't be read ({failed}). Restore a backup: manage.py restore FILE") from None
    if later:
        raise CommandError(
            f"The database was written by a later version of Orthotrope ({later[-1]}). Install that version."
        )
    if missing:
        what = "is of an earlier version" if applied(database) else "has no tables yet"
        raise CommandError(f"The database {what}. {migrate}")
    try:
        sound(database)
    except CommandError as damaged:
        raise CommandError(f"{damaged} Restore a backup: manage.py restore FILE") from None


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8710)

    def handle(self, *args: Any, **options: Any) -> None:
        if settings.TLS and not settings.PROXY:
            raise CommandError("ORTHOTROPE_TLS=1 needs ORTHOTROPE_PROXY: the address of the proxy that speaks TLS.")
        _free(options["host"], options["port"])
        _usable(settings.DATABASE)
        processes.ready()  # the workers' modules are loaded while the server's own are
        _, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
        resource.setrlimit(resource.RLIMIT_NOFILE, (hard, hard))  # a connection that only waits costs a file, no more
        config = uvicorn.Config(
            "config.asgi:application",
            host=options["host"],
            port=options["port"],
            http=RequestTimeoutProtocol,
            lifespan="off",
            log_config=None,
            log_level="warning",
            access_log=False,
            timeout_keep_alive=20,
            timeout_graceful_shutdown=2,
            ws_max_size=2_000_000,
            server_header=False,
            proxy_headers=False,  # what a proxy says is read by shop.requests, of the one that the settings name
        )
        try:
            with contextlib.suppress(KeyboardInterrupt):
                Ready(config).run()
        finally:
            from shop.proofs import running as proofs  # with the models, which the command line need not load
            from shop.reviews import running as reviews
            from shop.rooms import running as rooms

            proofs.end()  # what was started ends with the server
            reviews.end()
            rooms.end()
            asking.end()
