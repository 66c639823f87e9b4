"""One server process for a data folder: proofs that run, panels and their machines are known to it alone."""

import fcntl
import time
from io import TextIOWrapper
from pathlib import Path


class Taken(RuntimeError):
    """Another process serves this folder."""


def taken(folder: Path, seconds: float = 10.0) -> TextIOWrapper:
    """Take the folder for this process, until the returned file is closed or the process ends, however it ends. One
    that is just ending is waited for.

    Raises:
        Taken: where another one has it.
    """
    file = (folder / "server.lock").open("a", encoding="ascii")
    until = time.monotonic() + seconds
    while True:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            if time.monotonic() >= until:
                file.close()
                raise Taken(
                    f"Another server process uses the data in {folder}. There can be one only: it holds the proofs "
                    "that run "
                    "and the machines that are followed. Serve more people with the same one."
                ) from None
            time.sleep(0.1)
        else:
            return file
