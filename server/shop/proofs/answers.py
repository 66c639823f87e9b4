"""What a stored proof says."""

from dataclasses import dataclass, fields
from typing import Any

from django.db.models import Max
from orthotrope.machine.passing import PASSING, Passing
from orthotrope.proof.coverage import unreached
from orthotrope.proof.digests import Digests, digests_of, responsible
from orthotrope.proof.findings import FINDING, SEVERITIES, Finding, Severity
from orthotrope.proof.judging import VERDICTS, Verdict
from orthotrope.proof.sequences.registry import SEQUENCE, AnySequence, SequenceRef
from orthotrope.setup.changes import Change

from shop.kept import Kept
from shop.models import Machine, Proof, Revision
from shop.proofs import running
from shop.proofs.summary import ProofSummary

Results = list[dict[str, Any]]
"""As they are stored: :meth:`orthotrope.proof.sequences.registry.SequenceResult.as_json`."""

MOST_REASONS = 20
"""Changes that are reported where a proof is shown whole; elsewhere the first one is."""


@dataclass(frozen=True, slots=True)
class ProvenSequence:
    """``closest``: what it passes closest."""

    sequence: AnySequence
    worst: Severity | None
    seconds: float
    findings: list[Finding]
    stale: bool
    closest: Passing | None


@dataclass(frozen=True, slots=True)
class VerdictGroup:
    """Sequences that came to the same under a fault; ``says`` is the sentence of the first."""

    verdict: Verdict
    check: str | None
    says: str
    sequences: list[AnySequence]


@dataclass(frozen=True, slots=True)
class FaultGroups:
    fault: str
    groups: list[VerdictGroup]


@dataclass(frozen=True, slots=True)
class TimeShare:
    name: str
    seconds: float


@dataclass(frozen=True, slots=True)
class Times:
    sequence: AnySequence
    seconds: float
    shares: list[TimeShare]


@dataclass(frozen=True, slots=True)
class Cause:
    """Findings of several sequences that have one cause; ``finding`` is the first."""

    finding: Finding
    sequences: list[AnySequence]


@dataclass(frozen=True, slots=True, kw_only=True)
class WholeProof(ProofSummary):
    """``imported``: the program that was imported, "" where it is the written one."""

    imported: str
    sequences: list[ProvenSequence]
    causes: list[Cause]
    faults: list[FaultGroups]
    times: list[Times]


def latest_proof(machine: Machine, imported: bool = False) -> Proof | None:
    """The newest proof of the written text, or of one that was imported."""
    found = machine.proofs.exclude(imported="") if imported else machine.proofs.filter(imported="")
    return found.order_by("-pk").defer("results").select_related("revision", "author").first()


def latest_proofs() -> dict[int, Proof]:
    """The newest proof of the written text of each machine, by the machine's key."""
    newest = Proof.objects.filter(imported="").values("machine").annotate(newest=Max("pk")).values("newest")
    return {
        proof.machine_id: proof
        for proof in Proof.objects.filter(pk__in=newest).defer("results").select_related("revision", "author")
    }


def summary(proof: Proof, head: Revision, most_reasons: int = 1) -> ProofSummary:
    """How far a proof is, whether it is stale, and what it was that changed since."""
    stale = stale_sequences(proof, head)
    state = Proof.State(proof.state)
    if state == Proof.State.RUNNING and not running.is_running(proof):
        proof.refresh_from_db()  # it may have ended since it was read
        state = (
            Proof.State(proof.state) if proof.state != Proof.State.RUNNING else Proof.State.CANCELLED
        )  # the server was stopped
    counts = dict.fromkeys(("stop", "warn", "cases", "unsafe", "undetectable"), 0) | proof.counts
    return ProofSummary(
        id=proof.pk,
        state=state.value,  # type: ignore[arg-type]
        done=proof.done,
        total=proof.total,
        **counts,
        revision=proof.revision.number,
        author=proof.author.get_username(),
        started=proof.started,
        file=proof.file,
        error=proof.error,
        stale=bool(stale),
        stale_sequences=len(stale),
        changes=_responsible(proof, head, most_reasons) if stale else [],
        changed_by=head.author.get_username() if stale else "",
        changed_at=head.changed if stale else None,
        place=running.place(proof),
    )


def whole(proof: Proof, brief: bool = False) -> WholeProof:
    """A proof with all its results; while it runs, where it is to be ``brief``, with the worst of each pair only."""
    head = proof.machine.head
    reported = summary(proof, head, MOST_REASONS)
    shared = {field.name: getattr(reported, field.name) for field in fields(reported)}
    if brief and reported.state == "running":
        outline = [
            ProvenSequence(SEQUENCE.validate_python(sequence), worst, 0.0, [], False, None)
            for sequence, worst in proof.outline
        ]
        return WholeProof(**shared, imported="", sequences=outline, causes=[], faults=[], times=[])
    stale, results = stale_sequences(proof, head), proof.results
    return WholeProof(
        **shared,
        imported=proof.imported,
        sequences=[
            ProvenSequence(
                sequence,
                result["worst"],
                result["seconds"],
                [FINDING.validate_python(finding) for finding in result["findings"]],
                sequence in stale,
                PASSING.validate_python(result["closest"]) if result.get("closest") else None,
            )
            for result in results
            for sequence in (_sequence(result),)
        ],
        causes=causes(results),
        faults=fault_groups(results),
        times=times(results),
    )


_digests: Kept[Digests] = Kept()
_reasons: Kept[list[Change]] = Kept()


def stale_sequences(proof: Proof, head: Revision) -> frozenset[SequenceRef]:
    """The sequences whose case is another one now: what it runs has changed, or it is not there any more, or is new."""
    now = digests_now(head, proof.imported)
    before = Digests.from_json(proof.digests)
    if now == before:
        return frozenset()
    every = Digests("", now.parts | before.parts).sequences()
    return frozenset(sequence for sequence in every if now.of(sequence) != before.of(sequence))


def _sequence(result: dict[str, Any]) -> SequenceRef:
    """The sequence that a stored result is of."""
    return SEQUENCE.validate_python(result["sequence"])


def digests_now(head: Revision, imported: str = "") -> Digests:
    """The digests of the cases that a proof would have now."""
    return _digests.of((head.pk, head.changed, imported), lambda: digests_of(head.setup, imported))


def _responsible(proof: Proof, head: Revision, most: int) -> list[Change]:
    """The changes since a proof that made it stale."""

    def reported() -> list[Change]:
        return responsible(proof.revision.setup, head.setup, digests_now(head, proof.imported), proof.imported, most)

    return _reasons.of((proof.pk, head.pk, head.changed, most), reported)


def causes(results: Results) -> list[Cause]:
    """The findings of all sequences by cause (same check, same value of the Setup, same fix), the worst and widest
    first."""
    found: dict[tuple[str, str, str], Cause] = {}
    for result in results:
        sequence = _sequence(result)
        for finding in result["findings"]:
            fix = finding["fix"]["says"] if finding["fix"] else ""
            key = (finding["check"], finding["quantity"] or finding["message"], fix)
            if key not in found:
                found[key] = Cause(FINDING.validate_python(finding), [])
            if found[key].sequences[-1:] != [sequence]:  # it may have several findings of one cause
                found[key].sequences.append(sequence)
    for finding, of in unreached(results):
        known = found.setdefault((finding.check, finding.message, ""), Cause(finding, []))
        known.sequences.extend(_sequence(result) for result in of)
    return sorted(found.values(), key=lambda c: (SEVERITIES.index(c.finding.severity), -len(c.sequences)))


def times(results: Results) -> list[Times]:
    """The longest and the shortest exchange, each with where its time goes; fewer where there are fewer."""
    reported = [result for result in results if result.get("spent")]
    chosen = {id(pick): pick for pick in (max(reported, key=_seconds), min(reported, key=_seconds))} if reported else {}
    return [
        Times(
            _sequence(pick),
            pick["seconds"],
            [TimeShare(name, seconds) for name, seconds in pick["spent"].items()],
        )
        for pick in chosen.values()
    ]


def _seconds(result: dict[str, Any]) -> float:
    return float(result["seconds"])


def fault_groups(results: Results) -> list[FaultGroups]:
    """The verdicts of all sequences by fault, and within a fault by what it came to (same verdict, same check): the worst
    and widest first, each with the sentence of the first."""
    found: dict[str, dict[tuple[str, str], VerdictGroup]] = {}
    for result in results:
        sequence = _sequence(result)
        for fault in result["faults"]:
            groups = found.setdefault(fault["fault"], {})
            key = (fault["verdict"], fault["check"] or "")
            if key not in groups:
                groups[key] = VerdictGroup(fault["verdict"], fault["check"], fault["says"], [])
            groups[key].sequences.append(sequence)
    order = list(VERDICTS)
    return [
        FaultGroups(name, sorted(groups.values(), key=lambda g: (order.index(g.verdict), -len(g.sequences))))
        for name, groups in found.items()
    ]
