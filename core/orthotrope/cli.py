"""The ``orthotrope`` command: calc, review, run, prove, emit, practise, room."""

import argparse
import json
import os
import sys
from importlib import import_module
from pathlib import Path
from typing import Any

from orthotrope.calc import CALCULATIONS
from orthotrope.cli_proofs import prove, room
from orthotrope.errors import Fault, InputError, OrthotropeError
from orthotrope.machine.report import trace_as_json
from orthotrope.program.reader import read_file
from orthotrope.program.writer import write
from orthotrope.proof.case import PURPOSES
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.findings import Finding
from orthotrope.proof.review import called_at, make_case, review
from orthotrope.proof.routines import provable, routine_sequence
from orthotrope.proof.sequences.registry import SEQUENCES
from orthotrope.sequence.exchanges import Exchange, plan_every, plan_one, plan_ready
from orthotrope.sequence.measuring import MEASURING, plan_measuring
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.control import find_profile
from orthotrope.validation import read_json

BAD_INPUT = 2


def main(arguments: list[str] | None = None) -> int:
    """Run the command; the exit code is 0, 1 (findings of severity stop) or 2 (bad input)."""
    options = _parser().parse_args(arguments)
    try:
        code: int = options.action(options)
        return code
    except InputError as bad:
        return _refuse(list(bad.faults))
    except OSError as failed:
        return _refuse([Fault("", f"{failed.filename or 'The file'} can't be opened: {failed.strerror}.")])
    except OrthotropeError as bad:
        return _refuse([Fault("", str(bad))])


def _refuse(faults: list[Fault]) -> int:
    print(json.dumps({"errors": [fault.as_json() for fault in faults]}, ensure_ascii=False), file=sys.stderr)
    return BAD_INPUT


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="orthotrope", description="Works out, writes and proves the automatic parts of a machine's job."
    )
    actions = parser.add_subparsers(required=True, metavar="calc | review | run | prove | emit | practise | room")

    calc = actions.add_parser("calc", help="one calculation, JSON in and out")
    calc.add_argument("name", nargs="?", help="its name; see --list")
    calc.add_argument("--list", action="store_true", help="the names, a line each with what they work out")
    calc.add_argument("--schema", action="store_true", help="JSON Schema of input and output")
    calc.set_defaults(action=_calc)

    for name, helps, action in (
        ("review", "read and run a program, print the findings", _review),
        ("run", "run a program in a Setup's world, print trace and findings", _run),
    ):
        sub = actions.add_parser(name, help=helps)
        sub.add_argument("program", type=Path)
        sub.add_argument("--purpose", choices=PURPOSES, required=True)
        sub.add_argument("--setup", type=Path, required=name == "run")
        sub.add_argument("--profile", help="control profile; the Setup's, or parametric, if not said")
        sub.add_argument("--from", dest="from_tool", type=int, metavar="T", help="tool in the spindle; 0: empty")
        sub.add_argument("--to", dest="to_tool", type=int, metavar="T", help="requested tool; 0: none")
        sub.add_argument("--json", action="store_true", help="one JSON object on standard output")
        sub.set_defaults(action=action, fault="none")
        if name == "run":
            sub.add_argument("--fault", choices=list(FAULTS), default="none")

    _more(actions)
    return parser


def _more(actions: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """The actions on a Setup alone."""
    proven = actions.add_parser("prove", help="every case of a Setup: all pairs, under every fault")
    proven.add_argument("setup", type=Path)
    proven.add_argument("--only", choices=[kind.option for kind in SEQUENCES.values()], help="all of them if not said")
    proven.add_argument(
        "--program", type=Path, help="a program of one's own that serves every pair, in place of the written one"
    )
    proven.add_argument("--sequence", metavar="NAME", help=f"a measuring sequence: {', '.join(MEASURING)}")
    proven.add_argument("--name", help="one routine, or one that qualifies a probe")
    proven.add_argument("--tool", type=int, metavar="T", help="measuring of this tool only")
    proven.add_argument("--from", dest="from_tool", type=int, metavar="T", help="exchanges from this tool; 0: empty")
    proven.add_argument("--to", dest="to_tool", type=int, metavar="T", help="exchanges to this tool; 0: empty")
    proven.add_argument("--profile", help="control profile in place of the Setup's")
    proven.add_argument("--json", action="store_true", help="one JSON object on standard output")
    proven.add_argument("--workers", type=int, default=os.cpu_count() or 1, help="processes (one a core)")
    proven.set_defaults(action=prove)

    practise_ = actions.add_parser(
        "practise", help="all of measuring in the hidden world of a seed, with the written texts"
    )
    practise_.add_argument("setup", type=Path)
    practise_.add_argument("--seed", type=int, required=True, help="another seed is another world")
    practise_.add_argument("--json", action="store_true", help="one JSON object on standard output")
    practise_.set_defaults(action=_practise)

    close = actions.add_parser("room", help="how close everything passes, and how wrong each quantity may be")
    close.add_argument("setup", type=Path)
    close.add_argument("--json", action="store_true", help="one JSON object on standard output")
    close.add_argument("--workers", type=int, default=os.cpu_count() or 1, help="processes (one a core)")
    close.set_defaults(action=room)

    emit = actions.add_parser("emit", help="write a program")
    emit.add_argument("setup", type=Path)
    emit.add_argument(
        "sequence",
        choices=["exchange", "ready", "routine", *MEASURING],
        help="ready: turn an arm's disc while the job cuts; renew: use a length that was changed",
    )
    emit.add_argument(
        "--tool", dest="tools", type=int, metavar="T", action="append", default=[], help="a tool to measure"
    )
    emit.add_argument("--name", help="the routine; of measuring the setter, the first one if not said")
    emit.add_argument(
        "--touch", type=int, metavar="N", help="one touch of a routine, for a control that can't do the sums"
    )
    emit.add_argument("--from", dest="from_tool", type=int, metavar="T", help="tool in the spindle; 0: empty")
    emit.add_argument("--to", dest="to_tool", type=int, metavar="T", help="requested tool; 0: none")
    emit.add_argument("--profile", help="control profile; the Setup's if not said")
    emit.set_defaults(action=_emit)


def _calc(options: argparse.Namespace) -> int:
    if options.list:
        for name, entry in CALCULATIONS.items():
            print(f"{name:<22} {entry.works_out}")
        return 0
    if not options.name:
        raise InputError.at("", "Say which calculation; 'orthotrope calc --list' has the names.")
    entry = CALCULATIONS.find(options.name)
    if options.schema:
        print(json.dumps(entry.schema(), indent=2))
        return 0
    print(json.dumps(entry.run(read_json(sys.stdin.buffer.read())), indent=2))
    return 0


def _setup(path: Path) -> Setup:
    return read_setup(path.read_bytes())


def _examine(options: argparse.Namespace, with_trace: bool) -> int:
    program = read_file(options.program)
    setup = _setup(options.setup) if options.setup else None
    name = options.profile or (setup.machine.profile if setup else "parametric")
    profile = find_profile(name, setup.profiles if setup else ())
    if setup:
        for number in (options.from_tool, options.to_tool):
            if number:
                setup.tool(number)
    case = make_case(program, profile, options.purpose, setup, options.from_tool, options.to_tool, options.fault)
    findings = review(case)
    answer: dict[str, Any] = {"findings": [finding.as_json() for finding in findings]}
    if with_trace:
        answer["trace"] = trace_as_json(case.main.trace) if case.program.readable else None
    if options.json:
        print(json.dumps(answer, ensure_ascii=False))
    else:
        _print(findings, case.main.trace.seconds if case.program.readable else None)
    return 1 if any(finding.severity == "stop" for finding in findings) else 0


def _review(options: argparse.Namespace) -> int:
    return _examine(options, with_trace=False)


def _run(options: argparse.Namespace) -> int:
    return _examine(options, with_trace=True)


def _print(findings: list[Finding], seconds: float | None) -> None:
    for finding in findings:
        place = f"line {finding.line}" if finding.line else ""
        moment = f"{finding.at_seconds:.2f} s" if finding.at_seconds is not None else ""
        print(f"{finding.severity:<5} {finding.check:<22} {place:<10} {moment:<9} {finding.message}")
    ran = "It was not run." if seconds is None else f"It takes {seconds:.2f} s."
    print(f"{len(findings) or 'No'} finding{'' if len(findings) == 1 else 's'}. {ran}")


def _practise(options: argparse.Namespace) -> int:
    practise = import_module("orthotrope.practising.whole").practise_all  # the mathematics of it loads for seconds
    found = practise(_setup(options.setup), options.seed)
    if options.json:
        print(json.dumps({"quantities": [entry.as_json() for entry in found]}, ensure_ascii=False))
        return 0
    for entry in found:
        off = entry.found - entry.truth
        holds = "holds" if abs(off) <= entry.half_width_95 else "does not hold"
        print(f"{entry.quantity:<40} {entry.found:12.4f} ± {entry.half_width_95:.4f}   off by {off:+.4f}: {holds}")
    return 0


def _emit(options: argparse.Namespace) -> int:
    setup = _setup(options.setup)
    profile = setup.profile_named(options.profile or setup.machine.profile)
    if options.sequence in MEASURING:
        sequence = plan_measuring(
            setup, options.sequence, tuple(options.tools), profile, options.name, called_at(setup)[:2]
        )
        print(write(sequence, profile), end="")
        return 0
    if options.sequence == "routine":
        if not options.name:
            known = ", ".join(f'"{name}"' for name in provable(setup)) or "none yet"
            raise InputError.at("/name", f"`--name` is missing; say which routine, of {known}.")
        print(write(routine_sequence(setup, profile, options.name, options.touch), profile), end="")
        return 0
    if options.sequence == "ready":
        print(write(plan_ready(setup), profile), end="")
        return 0
    if profile.arithmetic and profile.conditions:
        for number in (options.from_tool, options.to_tool):
            if number:
                setup.tool(number)
        sequence = plan_every(setup.with_profile(profile.name))
    else:
        missing = [
            Fault(f"/{name}", f"`--{name}` is missing; the profile '{profile.name}' writes one file for each exchange.")
            for name, value in (("from", options.from_tool), ("to", options.to_tool))
            if value is None
        ]
        if missing:
            raise InputError(missing)
        sequence = plan_one(
            setup.with_profile(profile.name), Exchange(options.from_tool, options.to_tool, called_at(setup)[:2])
        )
    print(write(sequence, profile), end="")
    return 0
