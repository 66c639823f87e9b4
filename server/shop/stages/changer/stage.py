"""The stage Changer: how tools are exchanged, and one exchange in text and run."""

from dataclasses import dataclass, replace

from orthotrope.calc.derived import DerivedChanger
from orthotrope.errors import OrthotropeError
from orthotrope.machine.passing import Passing
from orthotrope.machine.report import TraceReport
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.case import Case, findings_of
from orthotrope.proof.exchanges import exchange_case, exchange_text, of_changed
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import FaultResult, judge
from orthotrope.proof.review import pair, review
from orthotrope.proof.setup_fixes import tried
from orthotrope.sequence.exchanges import plan_ready
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile

from shop.stages.findings import passed_by
from shop.stages.registry import ANSWERS, Evidence, Mark, StageRequest, stage
from shop.stages.written import WrittenText, in_every_profile


@stage("Changer", answer="exchange", sections=("changer",))
def mark(evidence: Evidence) -> tuple[Mark, str]:
    """Failing where the Setup contradicts itself."""
    if evidence.conflicts:
        return "failing", evidence.conflicts[0].message
    return evidence.filled(evidence.setup.changer is not None, "There is no changer yet.")


@dataclass(frozen=True, slots=True)
class ReadyText:
    """The program that readies the next tool while the job cuts."""

    file: str
    text: str


@dataclass(frozen=True, slots=True)
class ExchangeAnswer:
    """One exchange in every control profile, run through the text of the one that is ``shown``. ``under``: the fault
    that it was run under, and the verdict; ``passed``: what it passes closest."""

    under: FaultResult | None
    from_tool: int
    to_tool: int
    texts: list[WrittenText]
    shown: str
    ready: ReadyText | None
    trace: TraceReport | None
    findings: list[Finding]
    passed: list[Passing]


@ANSWERS.register("exchange")
def answer(setup: Setup, derived: DerivedChanger | None, asked: StageRequest) -> ExchangeAnswer | None:
    """One exchange, through the written text or a program that was imported; None while there is none."""
    if derived is None:
        return None
    one, other = pair(setup, asked.from_tool, asked.to_tool)
    stored = {0, *(tool.number for tool in setup.exchangeable())}
    if one not in stored or other not in stored:
        one, other = pair(setup, None, None)
    if one == other:
        return None
    shown = asked.profile or setup.machine.profile
    texts, case = _written(setup, one, other, shown)
    if asked.program is not None and case:
        case = replace(case, program=read_text(asked.program), purpose=asked.purpose or case.purpose, _runs={})
        if case.purpose != "exchange":  # what cuts has no tool to fetch
            case = replace(case, call=Call(case.call.at), _runs={})
        texts = [WrittenText(shown, "", asked.program)]
    under: FaultResult | None = None
    if case:
        case = asked.played(case)
        fault = FAULTS.get(asked.fault or "")
        if fault and case.program.readable and fault.applies(case.world, case.call):
            case = fault.apply_to(case, asked.sensor)
            under = judge(case, fault.name, fault.detection)
    findings = review(case, of_setup=False) if case else []
    if case and any(finding.fix for finding in findings):
        beside = findings_of(case, "setup")
        findings = tried(findings, setup, of_changed(case, asked.program is None), beside)
    return ExchangeAnswer(
        under=under,
        from_tool=one,
        to_tool=other,
        texts=texts,
        shown=shown,
        ready=_ready(setup, shown),
        trace=TraceReport.of(case.main.trace) if case and case.program.readable else None,
        findings=findings,
        passed=passed_by(case),
    )


def _written(setup: Setup, one: int, other: int, shown: str) -> tuple[list[WrittenText], Case | None]:
    """The exchange in every control profile, and its case in the one that is shown (None: it can't be written)."""
    found: list[Case] = []

    def write_one(entry: ControlProfile) -> str:
        if entry.name != shown:
            return exchange_text(setup, entry, one, other)
        text, case = exchange_case(setup, entry, one, other)
        found.append(case)
        return text

    texts = in_every_profile(setup, lambda entry: f"exchange{'' if entry.arithmetic else f'-{one}-{other}'}", write_one)
    return texts, found[0] if found else None


def _ready(setup: Setup, profile: str) -> ReadyText | None:
    """The program that readies a tool while the job cuts; None where the style has none, or the control can't hold
    it."""
    entry = setup.profile_named(profile)
    try:
        text = write(plan_ready(setup), entry)
    except OrthotropeError:
        return None
    return ReadyText(f"{setup.machine.name.lower()}-ready{entry.file_ending}".replace(" ", "-"), text)
