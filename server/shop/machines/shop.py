"""The shop: what is shown of every machine, kept until something that it rests on changes; what is not known yet is worked out beside
the answer."""

import threading
from functools import cache
from hashlib import sha256
from typing import Any

import structlog
from django.db import DatabaseError, connection
from django.db.models import Max
from django.utils import timezone
from orthotrope.proof.case import CHECKS
from orthotrope.proof.faults.registry import FAULTS
from pydantic_core import to_jsonable_python

from shop.machines.answers import ShopEntry, card_of
from shop.models import InputTest, Machine, Proof, Reading, Revision, ShopCard
from shop.proofs.answers import latest_proofs

log = structlog.get_logger("shop")

AT_ONCE = 3
"""Machines that are worked out while someone waits; more are worked out beside that."""

_working = threading.Lock()


def shop_entries() -> list[ShopEntry]:
    """Every machine, by its address."""
    found = _Found()
    missing = [head for head in found.heads if found.card(head) is None]
    for head in missing[:AT_ONCE]:
        found.keep(head)
    if len(missing) > AT_ONCE:
        threading.Thread(target=_work_out, daemon=True, name="shop cards").start()
    return [ShopEntry.of(head, found.card(head)) for head in found.heads]


def _work_out() -> None:
    """Work out what is not known yet; one thread at a time does."""
    if not _working.acquire(blocking=False):
        return
    try:
        found = _Found()
        for head in found.heads:
            if found.card(head) is None:
                found.keep(head)
    except Exception:
        log.exception("shop cards")
    finally:
        _working.release()
        connection.close()


class _Found:
    """The newest revision, proof, test and reading of each machine, and the cards that are kept; all in a handful of queries, without
    the documents."""

    def __init__(self) -> None:
        self.heads = list(Revision.heads().defer("document"))
        self.proofs = latest_proofs()
        self._tests = self._newest(InputTest)
        self._readings = self._newest(Reading)
        self._now: dict[int, dict[str, Any]] = {}
        """What was worked out for this answer."""
        self._cards: dict[int, tuple[str, dict[str, Any]]] = {
            machine: (key, entry) for machine, key, entry in ShopCard.objects.values_list("machine", "key", "entry")
        }

    @staticmethod
    def _newest(model: type[InputTest] | type[Reading]) -> dict[int, int]:
        return dict(model.objects.values_list("machine").annotate(last=Max("pk")))

    def _key(self, head: Revision) -> str:
        """What a card rests on: these, and which checks there are; a probe may be due again on another day."""
        machine = head.machine_id
        proof: Proof | None = self.proofs.get(machine)
        how_far = (proof.pk, proof.state, proof.finished) if proof else None
        parts = (head.pk, head.changed, how_far, self._tests.get(machine), self._readings.get(machine))
        return sha256(repr((*parts, timezone.now().date(), _program())).encode()).hexdigest()

    def card(self, head: Revision) -> dict[str, Any] | None:
        """What is kept of a machine, if that holds still."""
        key, entry = self._cards.get(head.machine_id, ("", {}))
        proof = self.proofs.get(head.machine_id)
        running = proof is not None and proof.state == Proof.State.RUNNING  # it moves on without being stored
        return entry if key == self._key(head) and not running else self._now.get(head.machine_id)

    def keep(self, head: Revision) -> None:
        """Work a machine's card out, and keep it."""
        machine: Machine = head.machine
        entry = to_jsonable_python(card_of(head, self.proofs.get(head.machine_id)))
        self._now[head.machine_id] = entry
        try:
            ShopCard.objects.update_or_create(machine=machine, defaults={"key": self._key(head), "entry": entry})
        except DatabaseError as failed:  # no room to keep it is no reason not to show it
            log.warning("shop card not kept", machine=machine.slug, why=str(failed))


@cache
def _program() -> tuple[str, ...]:
    return (*CHECKS, *FAULTS)
