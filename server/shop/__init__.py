"""The server, by subjects and stages.

A folder for each subject (``accounts``, ``reference``, ``machines``, ``readings``, ``proofs``, ``linking``) and, in
``stages``, for each stage. In each, only what it needs of:

- ``endpoints``  its addresses and what comes in; registered in :data:`shop.endpoint.ROUTERS`
- ``actions``    its changes to what is stored (:mod:`shop.action`)
- ``answers``    what is stored, as it is reported
- ``jobs``       what is computed in a worker process for someone who waits (:mod:`shop.job`)
- ``stage``      a stage's name, how far it is, and its answer

Answers are the core's own types where it has one. ``models`` is what is stored, ``roles`` who may do what, ``api`` puts
the subjects together; errors become HTTP there and nowhere else.
"""
