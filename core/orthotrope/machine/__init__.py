"""The virtual machine: runs a program in a world and keeps a trace. Time is worked out, not stepped.

- ``motion``    laws of time: trapezoids of straight moves and arcs, ramps of the spindle
- ``shapes``    upright cylinders and boxes, and the first contact along a straight move
- ``world``     what the machine stands in: axes, bodies, pockets, tools, the spindle
- ``changing``  what changes tools: a magazine at rest, and its state in a run; ``gripping`` and ``discs`` what styles
  share
- ``events``    the kinds of what happens
- ``trace``     segments, events and the state at each block's ends
- ``standing``  how a machine stands, what it carries, what its inputs say; ``meeting`` what it meets, ``moving`` how it moves, ``touching``
  how it touches; ``virtual`` is all of that, with its spindle and devices; ``stops`` what ends a run
- ``report``    traces and worlds as plain JSON values
- ``modes``      the modes of a control, and ``parameters`` its numbered and named values
- ``arcs``       the words of an arc, and ``cycles`` those of a canned cycle, as what they stand for
- ``run``       how a program is called, and what a run leaves behind
- ``called``    a control as it is called, and its state; ``driving`` how it moves the machine, ``setting`` what it is set to; ``control`` is all of
  that, and runs a block's words
- ``executor``  the flow of a program: conditions, loops, calls
"""
