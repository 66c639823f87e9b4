"""Computing for people who wait, in processes of its own: what someone sends can take no more than its seconds and
memory, and nothing that it does reaches the server or another's work.

- ``processes``  a few worker processes as a ``concurrent.futures.Executor``; a worker that dies, hangs or takes too
                 much is replaced and the rest goes on
- ``asking``     who asks: a few at a time for each user, dropped when the asker has gone or asks anew
- ``limits``     seconds and memory, and the refusals that tell of them

Nothing here knows what is computed, nor the database.
"""
