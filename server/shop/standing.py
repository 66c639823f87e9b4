"""How far a machine is: its proofs, the tests of its inputs, the marks of its stages. Read from what is stored."""

from typing import Any

from django.db.models import Max
from orthotrope.calc.derived import derive
from orthotrope.calc.wiring import as_tested
from orthotrope.proof.conflicts import Conflict as Contradiction
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.digests import Digests, exchange_digests, responsible
from orthotrope.proof.findings import SEVERITIES
from orthotrope.proof.judging import VERDICTS
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changes import Change, Conflict
from orthotrope.validation import unit_at

from shop import proving
from shop.kept import Kept
from shop.models import InputTest, Machine, Proof, Revision
from shop.stages.registry import Evidence, marks


def latest_proof(machine: Machine, brought: bool = False) -> Proof | None:
    """The newest proof of the written text, or of one that was brought."""
    found = machine.proofs.exclude(brought="") if brought else machine.proofs.filter(brought="")
    return found.order_by("-pk").defer("results").select_related("revision", "author").first()


def latest_proofs() -> dict[int, Proof]:
    """The newest proof of the written text of each machine, by the machine's key."""
    newest = Proof.objects.filter(brought="").values("machine").annotate(newest=Max("pk")).values("newest")
    return {
        proof.machine_id: proof
        for proof in Proof.objects.filter(pk__in=newest).defer("results").select_related("revision", "author")
    }


def proof_json(proof: Proof, head: Revision, with_pairs: bool = False, brief: bool = False) -> dict[str, Any]:
    """A proof, whether it is stale, and what it was that changed since. ``with_pairs``: with all results; or while it
    runs, where it is to be ``brief``, with the worst of each only."""
    stale = stale_pairs(proof, head)
    state = proof.state
    if state == Proof.State.RUNNING and not proving.is_running(proof):
        proof.refresh_from_db()  # it may have ended since it was read
        state = proof.state if proof.state != Proof.State.RUNNING else Proof.State.CANCELLED  # the server was stopped
    counts = dict.fromkeys(("stop", "warn", "cases", "unsafe", "undetectable"), 0) | proof.counts
    reasons = []
    if stale:
        reasons = [change_json(change) for change in _responsible(proof, head, MOST_REASONS if with_pairs else 1)]
    summary = {
        "id": proof.pk,
        "state": state,
        "done": proof.done,
        "total": proof.total,
        **counts,
        "revision": proof.revision.number,
        "author": proof.author.get_username(),
        "started": proof.started,
        "file": proof.file,
        "error": proof.error,
        "stale": bool(stale),
        "stale_pairs": len(stale),
        "changes": reasons,
        "place": proving.place(proof),
        "changed_by": head.author.get_username() if stale else "",
        "changed_at": head.changed if stale else None,
    }
    if with_pairs and brief and state == Proof.State.RUNNING:
        pairs = [
            {"from_tool": one, "to_tool": other, "worst": worst, "seconds": 0.0, "findings": [], "stale": False}
            for one, other, worst in proof.outline
        ]
        return {**summary, "pairs": pairs, "brought": "", "causes": [], "faults": [], "times": []}
    if with_pairs:
        summary["pairs"] = [
            {**r, "from_tool": r["from"], "to_tool": r["to"], "stale": (r["from"], r["to"]) in stale}
            for r in proof.results
        ]
        summary["brought"] = proof.brought
        summary["causes"] = causes(proof.results)
        summary["faults"] = fault_groups(proof.results)
        summary["times"] = times(proof.results)
    return summary


_digests: Kept[Digests] = Kept()
_reasons: Kept[list[Change]] = Kept()


def stale_pairs(proof: Proof, head: Revision) -> frozenset[tuple[int, int]]:
    """The exchanges whose case is another one now: what it runs has changed, or it is not there any more, or is new."""
    now = _digests.of(
        (head.pk, head.changed, proof.brought), lambda: exchange_digests(read_setup(head.document), proof.brought)
    )
    before = Digests.from_json(proof.digests)
    if now == before:
        return frozenset()
    tools = {*now.fetch, *before.fetch}
    return frozenset(
        (one, other) for one in tools for other in tools if one != other and now.of(one, other) != before.of(one, other)
    )


MOST_REASONS = 20
"""Changes that are told where a proof is shown whole; elsewhere the first one is."""


def _responsible(proof: Proof, head: Revision, most: int) -> list[Change]:
    """The changes since a proof that made it stale."""

    def told() -> list[Change]:
        before, after = (read_setup(revision.document) for revision in (proof.revision, head))
        return responsible(before, after, proof.brought, most)

    return _reasons.of((proof.pk, head.pk, head.changed, most), told)


def causes(results: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The findings of all pairs by cause (same check, same value of the Setup, same cure), the worst and widest
    first."""
    found: dict[tuple[str, str, str], dict[str, Any]] = {}
    for result in results:
        for finding in result["findings"]:
            cure = finding["cure"]["says"] if finding["cure"] else ""
            key = (finding["check"], finding["quantity"] or finding["message"], cure)
            cause = found.setdefault(key, {"finding": finding, "pairs": []})
            pair_of = [result["from"], result["to"]]
            if pair_of not in cause["pairs"]:
                cause["pairs"].append(pair_of)
    return sorted(found.values(), key=lambda c: (SEVERITIES.index(c["finding"]["severity"]), -len(c["pairs"])))


def times(results: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The longest and the shortest exchange, each with where its time goes; fewer where there are fewer."""
    told = [result for result in results if result.get("spent")]
    chosen = {id(pick): pick for pick in (max(told, key=_seconds), min(told, key=_seconds))} if told else {}
    found = []
    for pick in chosen.values():
        shares = [{"name": name, "seconds": seconds} for name, seconds in pick["spent"].items()]
        found.append({"from_tool": pick["from"], "to_tool": pick["to"], "seconds": pick["seconds"], "shares": shares})
    return found


def _seconds(result: dict[str, Any]) -> float:
    return float(result["seconds"])


def fault_groups(results: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The verdicts of all pairs by fault, and within a fault by what it came to (same verdict, same check): the worst
    and widest first, each with the first pair's sentence."""
    found: dict[str, dict[tuple[str, str], dict[str, Any]]] = {}
    for result in results:
        for fault in result.get("faults", []):
            groups = found.setdefault(fault["fault"], {})
            key = (fault["verdict"], fault["check"] or "")
            group = groups.setdefault(
                key, {"verdict": fault["verdict"], "check": fault["check"], "says": fault["says"], "pairs": []}
            )
            group["pairs"].append([result["from"], result["to"]])
    order = list(VERDICTS)
    return [
        {"fault": name, "groups": sorted(groups.values(), key=lambda g: (order.index(g["verdict"]), -len(g["pairs"])))}
        for name, groups in found.items()
    ]


def change_json(change: Change | Conflict) -> dict[str, Any]:
    """A change, or a value that two people changed, with the unit that its values have in the core."""
    return {**change.as_json(), "unit": unit_at(Setup, change.where)}


_conflicts: Kept[list[Contradiction]] = Kept()


def stages(
    setup: Setup, proof: dict[str, Any] | None, tests: list[dict[str, Any]], head: Revision
) -> list[dict[str, str]]:
    """How far a machine is along the stages that are built. ``head``: the revision whose Setup it is."""
    told = _conflicts.of((head.pk, head.changed), lambda: list(conflicts(setup, derive(setup))))
    return marks(Evidence(setup, proof, tests, told))


def tests_answer(newest: dict[int, InputTest], setup: Setup) -> list[dict[str, Any]]:
    """The newest test of each input, and whether it holds for the wiring of now."""
    wired = {entry.number: InputTest.wired_as(entry) for entry in setup.inputs}
    known = {entry.number: entry for entry in setup.inputs}
    found = []
    for number, test in newest.items():
        if number not in wired:
            continue
        differs = [key for key, value in wired[number].items() if test.wired.get(key) != value]
        why = "; ".join(f"{key} was {test.wired.get(key)}, is now {wired[number][key]}" for key in differs)
        entry = known[number]
        wiring, level = as_tested(entry.wiring, entry.level, test.outcome)  # type: ignore[arg-type]
        found.append(
            {
                "number": number,
                "wiring": wiring,
                "level": level,
                "seen": test.seen,
                "outcome": test.outcome,
                "edges": test.edges,
                "by_hand": test.by_hand,
                "author": test.author.get_username(),
                "when": test.when,
                "stale": bool(differs),
                "why": why,
            }
        )
    return found
