"""The server: machines and their revisions, accounts and roles, proofs, the API.

- ``models``    what is stored
- ``roles``     who may do what, and why not
- ``actions``   every change to what is stored: a check, an atomic execution, an audit entry
- ``answers``   what the core says about a Setup, as the interface wants it
- ``proving``   proofs on a pool of processes, with progress and cancel
- ``schemas``   the types of the API
- ``api``       the API itself; errors become HTTP here and nowhere else
"""
