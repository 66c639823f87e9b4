"""Start the practice machines."""

import argparse
import json
from pathlib import Path

import uvicorn
from orthotrope.setup import read_setup

from practice.app import OWN_HOSTS, application
from practice.store import Store

PORT = 8720
SEED = 7


def main() -> None:
    parser = argparse.ArgumentParser(
        prog="practice",
        description="Practice machines: an MTConnect agent for reading, a "
        "WebSocket for acting, with hidden errors drawn from a seed.",
    )
    parser.add_argument(
        "setups", nargs="*", type=Path, help="Setup files; a machine is built of each that there isn't yet"
    )
    parser.add_argument("--seed", type=int, default=SEED, help=f"of the hidden errors of newly built machines ({SEED})")
    parser.add_argument("--data", type=Path, default=Path("var/practice"), help="folder that keeps the machines")
    parser.add_argument("--port", type=int, default=PORT)
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument(
        "--hosts", default=",".join(OWN_HOSTS), help="names under which it answers, by commas; * for any"
    )
    parser.add_argument("--truth", metavar="NAME", help="print the hidden errors of a machine and end")
    options = parser.parse_args()
    store = Store(options.data, lambda _: None)
    for file in options.setups:
        if file.stem not in store.machines:
            store.build(file.stem, read_setup(file.read_bytes()), options.seed)
    if options.truth:
        if options.truth not in store.machines:
            parser.error(f"there is no machine {options.truth}; there are {', '.join(store.machines) or 'none'}")
        print(json.dumps(store.machines[options.truth].truth.as_json(), indent=2))
        return
    uvicorn.run(
        application(options.data, options.hosts.split(",")),
        host=options.host,
        port=options.port,
        log_level="warning",
        ws_max_size=2_000_000,
        timeout_graceful_shutdown=2,
    )


if __name__ == "__main__":
    main()
