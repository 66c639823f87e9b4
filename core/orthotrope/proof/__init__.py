"""Checks, findings, and the proof of every case.

- ``findings``  what a check has to say
- ``worlds``    a Setup as a world for the virtual machine
- ``case``      one case: a program, its purpose, the world it runs in, and its runs
- ``checks``    the checks, a module each, found by their names
- ``review``    a program reviewed by every check
- ``exchanges`` every ordered pair of a changer, run and checked
"""
