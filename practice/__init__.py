"""The practice machine: the same virtual machine as the core's, in a world with hidden errors, as a process of its own.

It is read as an agent of the open MTConnect standard over HTTP and takes commands over a WebSocket.

- ``standing`` a machine as it stands, with the hidden errors of a seed, and what it tells; ``playing`` what it does as time passes, ``jogging``
  how it is homed and moved by hand, ``running`` how it is given programs, ``alarms`` what stops it; ``machine`` is all of that, and
  what a technician's hands do at it: in real time, ten times as fast, or at once
- ``hands``    the commands, by name
- ``observed`` what an agent keeps: observations in their order, of all machines
- ``agent``    the standard's documents: devices, streams, errors
- ``app``      HTTP and WebSocket
- ``store``    the machines that were built, kept as files

``python -m practice --help`` starts it.
"""
