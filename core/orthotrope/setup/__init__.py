"""The Setup: one versioned document about one machine, and the open file format of it (JSON, schema published).

- ``machine``   axes, spindle
- ``control``   control profiles: what a control can do, as data; the shipped ones are in ``profiles/``
- ``changer``   the tool changer: rack, heights, coupling, reserved pockets
- ``setters``   tool setters, wherever they stand
- ``tools``     tools and where each is stored
- ``surround``  bodies to keep clear of, work offsets
- ``document``  the whole; reading and writing it
- ``templates`` where one starts: a bare machine, a rack on it
- ``changes``   differences between two documents, and the merge of two people's edits

Others import ``Setup``, ``read_setup`` and the section models.
"""

from orthotrope.setup.document import Setup, read_setup, setup_schema

__all__ = ["Setup", "read_setup", "setup_schema"]
