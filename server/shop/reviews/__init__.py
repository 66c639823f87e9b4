"""Programs of the technician's own that are reviewed as they are, up to a job's size: brought in pieces, read and run in a process of
their own, with progress and cancel.

:mod:`actions` begins, adds to, cancels and forgets a review; :mod:`running` runs it; :mod:`texts` is where the text lies;
:mod:`jobs` is what is computed."""
