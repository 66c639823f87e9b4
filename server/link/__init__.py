"""Machines that are read while they work: agents of the MTConnect standard, and the panels that follow them.

- ``standard``  the standard's documents, read: what an agent tells, in our own terms
- ``reader``    one agent, followed for as long as someone looks
- ``hub``       the agents that are followed now, one for each address
- ``panel``     the WebSocket of a hand panel: states out, commands through to the practice machine

Nothing here knows the database but ``panel``, which asks who is there.
"""
