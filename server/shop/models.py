"""What is stored. A Setup is kept as revisions of the whole document; none is ever overwritten once it is referred
to."""

import json
from collections import Counter
from hashlib import sha256
from typing import Any

from django.conf import settings
from django.db import models
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.signals import Input

from shop.kept import Kept

_setups: Kept[Setup] = Kept(40)
"""By what is written in the document: reading one takes ten times as long."""


def setup_of(document: Any) -> Setup:
    """A document, read; the same one is read once.

    Raises:
        InputError: where it can't be read.
    """
    return _setups.of(_content(document), lambda: read_setup(document))


def documented(setup: Setup) -> dict[str, Any]:
    """The document of a Setup; it need not be read again."""
    document = setup.as_json()
    _setups.of(_content(document), lambda: setup)
    return document


def _content(document: Any) -> bytes:
    return sha256(json.dumps(document).encode()).digest()


class Machine(models.Model):
    """A machine of the shop; its name is its newest document's. ``agent``: the address of the MTConnect agent that it
    is read from, "" for the practice machine; ``device``: its name there, "" for the first. ``put_away``: since when it is not among those
    that are worked on (None: it is)."""

    slug = models.SlugField(max_length=80, unique=True)
    created = models.DateTimeField(auto_now_add=True)
    agent = models.CharField(max_length=200, blank=True)
    device = models.CharField(max_length=80, blank=True)
    put_away = models.DateTimeField(null=True)

    @property
    def agent_address(self) -> str:
        return self.agent.rstrip("/") or f"{settings.PRACTICE}/{self.slug}"

    @property
    def agent_device(self) -> str:
        return self.device if self.agent else self.slug

    @property
    def head(self) -> "Revision":
        revision = self.revisions.order_by("-number").first()
        assert revision is not None
        return revision


class Revision(models.Model):
    """One state of a machine's Setup. ``changed`` is the time of the last small edit that was joined into it."""

    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="revisions")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    note = models.CharField(max_length=200, blank=True)

    @property
    def setup(self) -> Setup:
        """The document, read, in the present version.

        Raises:
            InputError: where it can't be read; its file can still be had.
        """
        return setup_of(self.document)

    @classmethod
    def heads(cls) -> "models.QuerySet[Revision]":
        """The newest revision of every machine."""
        newest = cls.objects.values("machine").annotate(newest=models.Max("pk")).values("newest")
        return cls.objects.filter(pk__in=newest).select_related("machine", "author").order_by("machine__slug")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["machine", "number"], name="one_number_a_machine")]
        ordering = ["number"]


class ShopCard(models.Model):
    """What the shop shows of a machine (``entry``), worked out once for what it rests on (``key``): with hundreds of machines it is not
    worked out each time that someone looks."""

    machine = models.OneToOneField(Machine, on_delete=models.CASCADE, related_name="card")
    key = models.CharField(max_length=200)
    entry = models.JSONField()


class Proof(models.Model):
    """A run of every exchange of one revision, through the written text or through one that was ``imported`` (from
    ``file``). ``digests``: what its cases were addressed by; ``results``: a list of sequences with their findings,
    ``outline`` the worst of each ([sequence, worst]), ``counts`` how many there are: what is reported again and again is
    not counted from megabytes each time."""

    class State(models.TextChoices):
        RUNNING = "running"
        DONE = "done"
        CANCELLED = "cancelled"
        FAILED = "failed"

    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="proofs")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="proofs")
    digests = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State.choices, default=State.RUNNING)
    total = models.PositiveIntegerField()
    done = models.PositiveIntegerField(default=0)
    results = models.JSONField(default=list)
    outline = models.JSONField(default=list)
    counts = models.JSONField(default=dict)
    imported = models.TextField(blank=True)
    file = models.CharField(max_length=120, blank=True)
    error = models.TextField(blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    started = models.DateTimeField(auto_now_add=True)
    finished = models.DateTimeField(null=True)

    def take(self, results: list[dict[str, Any]]) -> None:
        """Take over what has been proven so far; it is stored by :meth:`save`."""
        self.results, self.done = results, len(results)
        self.outline, self.counts = outlined(results)


def outlined(results: list[dict[str, Any]]) -> tuple[list[list[Any]], dict[str, int]]:
    """The outline of a proof's results, and their counts."""
    worst = [result["worst"] for result in results]
    verdicts = Counter(fault["verdict"] for result in results for fault in result.get("faults", []))
    counts = {
        "stop": worst.count("stop"),
        "warn": worst.count("warn"),
        "cases": sum(verdicts.values()),
        "unsafe": verdicts["unsafe"],
        "undetectable": verdicts["undetectable"],
    }
    return [[result["sequence"], result["worst"]] for result in results], counts


class RoomSearch(models.Model):
    """A search for how wrong each of the ``total`` quantities of one revision may be. ``digests``: what the cases were addressed by;
    ``found``: the rooms of those that are ``done`` (:data:`orthotrope.proof.room.ROOM`)."""

    State = Proof.State

    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="room_searches")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="room_searches")
    digests = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=Proof.State.choices, default=Proof.State.RUNNING)
    total = models.PositiveIntegerField()
    done = models.PositiveIntegerField(default=0)
    found = models.JSONField(default=list)
    error = models.TextField(blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    started = models.DateTimeField(auto_now_add=True)
    finished = models.DateTimeField(null=True)


class AuditEntry(models.Model):
    """One action: who (None: whoever is at the server's command line, or nobody who is known), when, what, on which machine, with its
    figures."""

    when = models.DateTimeField(auto_now_add=True)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True)
    action = models.CharField(max_length=40)
    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, null=True)
    details = models.JSONField(default=dict)


class Reading(models.Model):
    """One measured value. ``quantity``: the JSON pointer of what it is for, list entries by their key; ``value`` in the
    core's unit, ``raw`` before it was rounded to ``step``. What was there when it was taken: machine position, active
    work offset, active tool and its length. ``details``: what its source adds (the dial, the side it came from, what a
    control showed)."""

    class Source(models.TextChoices):
        MACHINE = "machine"
        TYPED = "typed"
        DIAL = "dial"
        SERIES = "series"
        READ_BACK = "read-back"

    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="readings")
    quantity = models.CharField(max_length=200, db_index=True)
    source = models.CharField(max_length=10, choices=Source.choices)
    value = models.FloatField()
    raw = models.FloatField()
    step = models.FloatField(null=True)
    position = models.JSONField(null=True)
    work_offset = models.PositiveSmallIntegerField(null=True)
    tool = models.PositiveIntegerField(null=True)
    tool_length = models.FloatField(null=True)
    details = models.JSONField(default=dict)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    taken = models.DateTimeField(auto_now_add=True)


class Review(models.Model):
    """A program of the technician's own that is reviewed on a machine, as a job or whatever its ``purpose`` is. Its text (``size``
    bytes, by its ``digest`` once it is there) lies in a file (:mod:`shop.reviews.texts`); ``found``: what :func:`shop.reviews.jobs.reviewed` found in it."""

    class State(models.TextChoices):
        SENDING = "sending"
        RUNNING = "running"
        DONE = "done"
        CANCELLED = "cancelled"
        FAILED = "failed"

    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="reviews")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="reviews")
    file = models.CharField(max_length=120)
    purpose = models.CharField(max_length=10)
    profile = models.CharField(max_length=80)
    size = models.PositiveIntegerField()
    digest = models.CharField(max_length=64, blank=True)
    state = models.CharField(max_length=10, choices=State.choices, default=State.SENDING)
    found = models.JSONField(default=dict)
    error = models.TextField(blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    started = models.DateTimeField(auto_now_add=True)
    finished = models.DateTimeField(null=True)


class ProbedResult(models.Model):
    """What a routine has found on a part. ``places``: where its touches were latched, machine coordinates, mm; ``found``: what
    was worked out of them with that revision."""

    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="results")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="results")
    routine = models.CharField(max_length=80, db_index=True)
    places = models.JSONField()
    found = models.JSONField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    taken = models.DateTimeField(auto_now_add=True)


class InputTest(models.Model):
    """A test of an input: what was seen idle, made and idle again, its bounce, and the wiring that it holds for."""

    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="input_tests")
    number = models.PositiveSmallIntegerField()
    wired = models.JSONField()
    seen = models.JSONField()
    outcome = models.CharField(max_length=10)
    edges = models.JSONField(default=list)
    by_hand = models.BooleanField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    when = models.DateTimeField(auto_now_add=True)

    @staticmethod
    def wired_as(entry: Input) -> dict[str, Any]:
        """What a test depends on: change one of these and it is stale."""
        return {"terminal": entry.terminal, "wiring": entry.wiring, "level": entry.level, "filter": entry.filter}

    @classmethod
    def newest(cls, machine: Machine) -> dict[int, "InputTest"]:
        """The newest test of each input."""
        return {
            test.number: test for test in cls.objects.filter(machine=machine).order_by("pk").select_related("author")
        }

    @classmethod
    def tested(cls, machine: Machine, setup: Setup) -> set[int]:
        """The inputs whose newest test passed with the wiring that they have now."""
        newest = cls.newest(machine)
        return {
            entry.number
            for entry in setup.inputs
            if (test := newest.get(entry.number)) and test.outcome == "passed" and test.wired == cls.wired_as(entry)
        }
