"""The practice machine: the same virtual machine as the core's, in a world with hidden errors, as a process of its own.

It is read as an agent of the open MTConnect standard over HTTP and takes commands over a WebSocket.

- ``truth``    the hidden errors, drawn from a seed, and the world they make of a Setup
- ``machine``  a machine that is homed, jogged, touched and given programs, in real time, ten times as fast, or at once
- ``hands``    the commands, by name
- ``observed`` what an agent keeps: observations in their order, of all machines
- ``agent``    the standard's documents: devices, streams, errors
- ``app``      HTTP and WebSocket
- ``store``    the machines that were built, kept as files

``python -m practice --help`` starts it.
"""
