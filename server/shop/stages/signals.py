"""The stage Signals: inputs and outputs, how they are wired, and their tests."""

from typing import Any

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.wiring import InputStatesInput, input_states
from orthotrope.proof.conflicts import signal_advice, signal_conflicts
from orthotrope.setup import Setup

from shop.stages.registry import ANSWERS, Asked, Evidence, Mark, stage
from shop.stages.told import told


@stage("Signals", answer="signals")
def mark(evidence: Evidence) -> tuple[Mark, str]:
    """The evidence of the signals is the tests of the inputs."""
    setup, tests = evidence.setup, evidence.tests
    newest = {test["number"]: test for test in tests}
    names = [entry.name for entry in setup.inputs if entry.number not in newest]
    stale = [entry.name for entry in setup.inputs if entry.number in newest and newest[entry.number]["stale"]]
    failed = [
        entry.name for entry in setup.inputs if entry.number in newest and newest[entry.number]["outcome"] != "passed"
    ]

    if not setup.inputs and not setup.outputs:
        return ("open", "There is no input or output yet.")
    if twice := next(signal_conflicts(setup), None):
        return ("failing", twice.message)
    if stale:
        return ("stale", f"Changed since its test: {', '.join(stale)}.")
    if failed:
        return ("failing", f"Did not pass its test: {', '.join(failed)}.")
    if names:
        return ("filled", f"Not tested: {', '.join(names)}.")
    return ("proven", "All inputs are tested.")


@ANSWERS.register("signals")
def answer(setup: Setup, derived: DerivedChanger | None, asked: Asked) -> dict[str, Any]:
    """What each input reads in each state, the words that read and wait for it, and what the signals lack."""
    profile = setup.profile
    inputs = []
    for entry in setup.inputs:
        states = input_states(InputStatesInput(role=entry.role, wiring=entry.wiring, level=entry.level))
        word = f"#{profile.parameters.input_first + entry.number}" if profile.arithmetic else ""
        wait = f"a loop of dwells of {profile.wait_pause:g} s on {word}" if profile.wait == "loop" else ""
        inputs.append({"number": entry.number, **states.as_json(), "read_word": word, "wait": wait})
    return {"inputs": inputs, "findings": told("signals", signal_advice(setup))}
