"""A fix is offered only when it works: it was given to a copy of the Setup, the same was run, and the finding was gone
with no new one."""

from collections.abc import Callable, Iterable
from dataclasses import replace

from orthotrope.errors import OrthotropeError
from orthotrope.proof.case import Case
from orthotrope.proof.findings import Finding
from orthotrope.proof.review import review
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.keys import placed


def tried(
    findings: list[Finding], setup: Setup, again: Callable[[Setup], Case], beside: Iterable[Finding] = ()
) -> list[Finding]:
    """The findings, those whose fix does not work without it. ``again`` makes the case of the same run for a changed
    Setup; ``beside``: what else is known to be reported."""
    known = {(finding.check, finding.quantity) for finding in (*findings, *beside)}

    def fixes(finding: Finding) -> bool:
        if finding.fix is None:
            return True
        try:
            changed = read_setup(placed(setup.as_json(), finding.fix.where, finding.fix.value))
            after = review(again(changed))
        except OrthotropeError:  # the copy is no Setup, or has no text: that is no fix
            return False
        left = {
            (other.check, other.quantity) for other in after if other.severity != "note"
        }  # a run that goes on tells more
        return (finding.check, finding.quantity) not in left and left <= known

    return [finding if fixes(finding) else replace(finding, fix=None) for finding in findings]
