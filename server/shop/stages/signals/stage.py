"""The stage Signals: inputs and outputs, how they are wired, and their tests."""

from dataclasses import dataclass

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.wiring import InputStatesInput, InputStatesOutput, input_states
from orthotrope.proof.conflicts import signal_advice, signal_conflicts
from orthotrope.proof.findings import Finding
from orthotrope.setup import Setup

from shop.stages.findings import as_findings
from shop.stages.registry import ANSWERS, Evidence, Mark, StageRequest, stage


@stage("Signals", answer="signals", sections=("inputs", "outputs"))
def mark(evidence: Evidence) -> tuple[Mark, str]:
    """The evidence of the signals is the tests of the inputs."""
    setup = evidence.setup
    newest = {test.number: test for test in evidence.tests}
    missing = [entry.name for entry in setup.inputs if entry.number not in newest]
    tested = [(entry.name, newest[entry.number]) for entry in setup.inputs if entry.number in newest]
    stale = [name for name, test in tested if test.stale]
    failed = [name for name, test in tested if test.outcome != "passed"]

    if not setup.inputs and not setup.outputs:
        return ("open", "There is no input or output yet.")
    if twice := next(signal_conflicts(setup), None):
        return ("failing", twice.message)
    if stale:
        return ("stale", f"Changed since its test: {', '.join(stale)}.")
    if failed:
        return ("failing", f"Did not pass its test: {', '.join(failed)}.")
    if missing:
        return ("filled", f"Not tested: {', '.join(missing)}.")
    return ("proven", "All inputs are tested.")


@dataclass(frozen=True, slots=True)
class InputAnswer:
    """What an input reads in each state, and the words of the control profile that read it and wait for it; "" where it
    has none."""

    number: int
    states: InputStatesOutput
    read_word: str
    wait: str


@dataclass(frozen=True, slots=True)
class SignalsAnswer:
    """``findings``: what the signals lack."""

    inputs: list[InputAnswer]
    findings: list[Finding]


@ANSWERS.register("signals")
def answer(setup: Setup, derived: DerivedChanger | None, asked: StageRequest) -> SignalsAnswer:
    """What each input reads in each state, and what the signals lack."""
    profile = setup.profile
    inputs = []
    for entry in setup.inputs:
        states = input_states(InputStatesInput(role=entry.role, wiring=entry.wiring, level=entry.level))
        word = f"#{profile.parameters.input_first + entry.number}" if profile.arithmetic else ""
        wait = f"a loop of dwells of {profile.wait_pause:g} s on {word}" if profile.wait == "loop" else ""
        inputs.append(InputAnswer(entry.number, states, word, wait))
    return SignalsAnswer(inputs, as_findings("signals", signal_advice(setup)))
