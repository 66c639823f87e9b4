"""Orthotrope's core: the computation of a machine technician's job, with no interface code.

The packages, in the order in which they may import one another (each knows only those before it):

- ``errors``    the faults of bad input, each with its place and its sentence
- ``validation`` JSON documents against their models, each fault with its place
- ``units``     lengths, feeds, angles: reading what a person types
- ``setup``     the Setup, the one document about a machine
- ``calc``      the calculations, and everything that is derived from a Setup
- ``sequence``  typed steps, and the planners of exchanges
- ``program``   reading and writing program text through a control profile
- ``machine``   the virtual machine: runs a program in a world and keeps a trace
- ``proof``     checks, findings, and the proof of every case
- ``cli``       the ``orthotrope`` command

Inside the core lengths are millimetres, angles degrees, feeds mm/min, speeds rev/min, time seconds.
"""
