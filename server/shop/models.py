"""What is stored. A Setup is kept as revisions of the whole document; none is ever overwritten once it is referred to."""

from django.conf import settings
from django.db import models


class Machine(models.Model):
    """A machine of the shop; its name is its newest document's."""

    slug = models.SlugField(max_length=80, unique=True)
    created = models.DateTimeField(auto_now_add=True)

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

    class Meta:
        constraints = [models.UniqueConstraint(fields=["machine", "number"], name="one_number_a_machine")]
        ordering = ["number"]


class Proof(models.Model):
    """A run of every exchange of one revision. ``results``: a list of pairs with their findings."""

    class State(models.TextChoices):
        RUNNING = "running"
        DONE = "done"
        CANCELLED = "cancelled"
        FAILED = "failed"

    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="proofs")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="proofs")
    digest = models.CharField(max_length=64)
    state = models.CharField(max_length=10, choices=State.choices, default=State.RUNNING)
    total = models.PositiveIntegerField()
    done = models.PositiveIntegerField(default=0)
    results = models.JSONField(default=list)
    error = models.TextField(blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    started = models.DateTimeField(auto_now_add=True)
    finished = models.DateTimeField(null=True)


class AuditEntry(models.Model):
    """One action: who, when, what, on which machine, with its figures."""

    when = models.DateTimeField(auto_now_add=True)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    action = models.CharField(max_length=40)
    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, null=True)
    details = models.JSONField(default=dict)
