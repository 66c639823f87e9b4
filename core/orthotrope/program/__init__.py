"""Program text: reading it into blocks, and writing sequences as text through a control profile.

- ``faults``       errors of reading and running, with line and column
- ``expressions``  parsing and evaluating values
- ``blocks``       what a line is once it is read
- ``reader``       text → blocks; a fast path for plain motion blocks, streaming
- ``writer``       steps → text, by a control profile
- ``readback``     blocks → steps, to show that what was written is what was meant
"""
