"""One agent, followed: its documents fetched within bounds, its state kept, its silence told."""

import asyncio
import json
import time
from collections import deque
from collections.abc import AsyncIterator
from copy import deepcopy
from dataclasses import dataclass, field
from typing import Any, Literal

import httpx

from link.standard import Edge, MachineState, Meanings, NotStandard, Streams, as_json, read_devices, read_streams

INTERVAL = 0.03
"""Seconds between two parts of a stream."""

HEARTBEAT = 1.0
"""Seconds after which an agent with nothing new says so."""

SLOW, LOST = 1.5, 4.0
"""Seconds without an answer after which an agent is called slow, and lost."""

POLL = 0.2
"""Seconds between two questions to an agent that does not stream."""

LARGEST = 1_000_000
"""Bytes of a document; a larger one is not read."""

WAIT_LONGEST = 3.0

Standing = Literal["connecting", "connected", "slow", "lost"]


@dataclass(slots=True)
class Link:
    """What is known of the machine at an address, and how fresh that is."""

    address: str
    standing: Standing = "connecting"
    says: str = "Connecting."
    state: MachineState = field(default_factory=MachineState)
    edges: deque[Edge] = field(default_factory=lambda: deque(maxlen=60))
    seen: float = field(default_factory=time.monotonic)
    heard_once: bool = False
    version: int = 0
    changed: asyncio.Event = field(default_factory=asyncio.Event)
    _text: tuple[int, str] = (-1, "")

    @property
    def age(self) -> float:
        """Seconds since the last document."""
        return time.monotonic() - self.seen

    def touch(self) -> None:
        """Something is new: whoever waits is woken."""
        self.version += 1
        self.changed.set()
        self.changed = asyncio.Event()

    def stands(self, standing: Standing, says: str) -> None:
        if (standing, says) != (self.standing, self.says):
            self.standing, self.says = standing, says
            self.touch()

    def text(self) -> str:
        """The state as JSON text; made once for all panels."""
        if self._text[0] != self.version:
            data = {"link": {"standing": self.standing, "says": self.says, "age": round(self.age, 1) if self.heard_once else None},
                    "machine": as_json(self.state), "edges": self._edges()}  # fmt: skip
            self._text = (self.version, json.dumps(data))
        return self._text[1]

    def _edges(self) -> list[dict[str, Any]]:
        return [{"name": e.name, "at": e.when.timestamp(), "made": e.made} for e in self.edges]

    def frozen(self) -> MachineState:
        """The state as it is now, to be looked at from another thread."""
        return deepcopy(self.state)


async def follow(link: Link, device: str) -> None:
    """Follow an agent until cancelled; what goes wrong is told in the link, and tried again."""
    pause = 0.5
    timeout = httpx.Timeout(WAIT_LONGEST, read=max(LOST, 2 * HEARTBEAT))
    async with httpx.AsyncClient(timeout=timeout, follow_redirects=False, trust_env=False) as client:
        while True:
            began = time.monotonic()
            try:
                await _follow_once(client, link, device)
                what = "The agent has ended its answer."
            except NotStandard as bad:
                what = str(bad)
            except httpx.TimeoutException:
                what = "The agent does not answer in time."
            except (httpx.HTTPError, httpx.InvalidURL, OSError, ValueError) as failed:
                what = f"The agent can't be reached ({_reason(failed)})."
            link.stands("lost", what)
            pause = 0.5 if time.monotonic() - began > 5 else min(WAIT_LONGEST, pause * 1.5)
            await asyncio.sleep(pause)


def _reason(failed: Exception) -> str:
    return str(failed)[:120] or type(failed).__name__


async def _follow_once(client: httpx.AsyncClient, link: Link, device: str) -> None:
    meanings = read_devices(await _fetch(client, f"{link.address}/probe"), device)
    state = MachineState()
    streams = _taken(link, await _fetch(client, f"{link.address}/current"), meanings, state)
    link.edges.clear()
    watch = asyncio.create_task(_watch(link))
    try:
        sample = f"{link.address}/sample?from={streams.next_sequence}&interval={INTERVAL * 1000:.0f}&count=500"
        async with client.stream("GET", f"{sample}&heartbeat={HEARTBEAT * 1000:.0f}") as answer:
            kind = answer.headers.get("content-type", "")
            if "multipart" not in kind:
                await answer.aclose()
                await _poll(client, link, meanings, state)
                return
            async for part in parts(answer.aiter_bytes()):
                _taken(link, part, meanings, state)
    finally:
        watch.cancel()


async def _poll(client: httpx.AsyncClient, link: Link, meanings: Meanings, state: MachineState) -> None:
    """An agent that does not stream is asked again and again."""
    while True:
        _taken(link, await _fetch(client, f"{link.address}/current"), meanings, state)
        await asyncio.sleep(POLL)


def _taken(link: Link, content: bytes, meanings: Meanings, state: MachineState) -> Streams:
    streams = read_streams(content, meanings, state)
    link.state, link.seen = state, time.monotonic()
    first, link.heard_once = not link.heard_once, True
    link.edges.extend(streams.edges)
    link.stands("connected", "")
    if streams.taken or first:
        link.touch()
    return streams


async def _watch(link: Link) -> None:
    """Tell when nothing has come for a while."""
    while True:
        await asyncio.sleep(0.25)
        if link.age > LOST:
            link.stands("lost", "The agent has gone silent.")
        elif link.age > SLOW:
            link.stands("slow", "The agent answers slowly.")
        if link.age > SLOW:
            link.touch()  # the age goes on


async def _fetch(client: httpx.AsyncClient, address: str) -> bytes:
    content = bytearray()
    async with client.stream("GET", address) as answer:
        async for piece in answer.aiter_bytes():
            content += piece
            if len(content) > LARGEST:
                raise NotStandard(f"The answer is larger than {LARGEST / 1e6:g} MB; it is not read.")
    return bytes(content)


async def parts(pieces: AsyncIterator[bytes]) -> AsyncIterator[bytes]:
    """The documents of a multipart answer, by their content length.

    Raises:
        NotStandard: a part without a length, or one that is too large.
    """
    kept = bytearray()
    wanted: int | None = None
    async for piece in pieces:
        kept += piece
        while True:
            if wanted is None:
                end = kept.find(b"\r\n\r\n")
                if end < 0:
                    if len(kept) > 10_000:
                        raise NotStandard("The stream has no parts as the standard has them.")
                    break
                wanted = _length(bytes(kept[:end]))
                del kept[: end + 4]
            if len(kept) < wanted:
                break
            yield bytes(kept[:wanted])
            del kept[:wanted]
            wanted = None


def _length(head: bytes) -> int:
    for line in head.decode("latin-1").splitlines():
        name, _, value = line.partition(":")
        if name.strip().lower() == "content-length" and value.strip().isdigit():
            length = int(value.strip())
            if length > LARGEST:
                raise NotStandard(f"A part of the stream is larger than {LARGEST / 1e6:g} MB; it is not read.")
            return length
    raise NotStandard("A part of the stream does not tell its length.")
