"""The virtual machine: runs a program in a world and keeps a trace. Time is worked out, not stepped.

- ``motion``    laws of time: trapezoids of straight moves and arcs, ramps of the spindle
- ``shapes``    upright cylinders and boxes, and the first contact along a straight move
- ``world``     what the machine stands in: axes, bodies, pockets, tools, the spindle
- ``coupling``  what a nut does while a thread turns in or out of it
- ``trace``     segments, events and the state at each block's ends
- ``virtual``   the machine that moves in a world: position, time, spindle, what it carries
- ``modal``     the modes of a control and its offsets
- ``executor``  runs a program's blocks on the virtual machine
"""
