"""The virtual machine: runs a program in a world and keeps a trace. Time is calculated, not stepped.

What it is in:

- ``world``     plain values: axes, bodies, pockets, tools, the spindle; ``inputs`` its inputs
- ``changing``  what changes tools: a magazine at rest, and its state in a run; ``gripping`` and ``discs`` what styles share
- ``motion``    motion laws: trapezoids of straight moves and arcs, ramps of the spindle
- ``shapes``    upright cylinders and boxes, and the first contact along a straight move; ``passing`` how close a move comes

What it is made of; each part depends on those before it:

- ``kinematics``  the axes: positions, motion laws, limits. Another kind of machine has another part here
- ``journal``     trace and time of a run, and what of the world it depends on (``trace``, ``events``)
- ``spindle``, ``carrier`` (the tool in it, and what changes it), ``signals`` (inputs), ``devices`` (of the changer, in time)
- ``collisions``, ``touch_unit``
- ``virtual``     the machine: the moves in which these act together; ``stops`` what ends a run

What drives it:

- ``memory``      what a control has in memory: ``modes``, ``parameters``, offsets, and what became of touches (``touches``)
- ``g_words``     G words that set modes, a table; ``drive`` turns axis words into moves (``arcs``, ``cycles``), ``offsets`` sets offsets
- ``control``     runs a block's words; ``watch`` notes what a program confirms
- ``executor``    the flow of a program: conditions, loops, calls; ``run`` how it is called, and what a run leaves behind
- ``report``      traces and worlds as plain JSON values
"""
