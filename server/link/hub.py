"""The agents that are followed now: one reader for each machine, for as long as a panel looks at it."""

import asyncio
from dataclasses import dataclass

from link.reader import Link, follow

LINGER = 2.0
"""Seconds that an agent is followed on after the last panel has gone: a reload finds it connected."""


@dataclass(slots=True)
class _Followed:
    link: Link
    task: asyncio.Task[None]
    panels: int = 0
    leaving: asyncio.TimerHandle | None = None


_followed: dict[str, _Followed] = {}


def enter(slug: str, address: str, device: str) -> Link:
    """A panel begins to look at a machine."""
    found = _followed.get(slug)
    if found and found.link.address != address:
        found.task.cancel()
        found = None
    if found is None:
        link = Link(address)
        found = _Followed(link, asyncio.create_task(follow(link, device)))
        _followed[slug] = found
    if found.leaving:
        found.leaving.cancel()
        found.leaving = None
    found.panels += 1
    return found.link


def leave(slug: str, link: Link) -> None:
    """A panel has gone."""
    found = _followed.get(slug)
    if found is None or found.link is not link:
        return
    found.panels -= 1
    if found.panels <= 0:
        found.leaving = asyncio.get_running_loop().call_later(LINGER, _drop, slug, link)


def _drop(slug: str, link: Link) -> None:
    found = _followed.get(slug)
    if found and found.link is link and found.panels <= 0:
        found.task.cancel()
        del _followed[slug]


def link_of(slug: str) -> Link | None:
    """The link that a machine's panels have now; it may be asked from any thread."""
    found = _followed.get(slug)
    return found.link if found else None
