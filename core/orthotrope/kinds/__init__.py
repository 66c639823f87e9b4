"""What comes in kinds, a folder each.

A folder has those of these modules that it needs, and each registers what is in it:

- ``model``      the section of the Setup, its roles of signals, where one starts
  (:data:`orthotrope.setup.changer.CHANGERS`)
- ``derive``     what follows from it (:data:`orthotrope.calc.derived.DERIVING`)
- ``plan``       its exchanges as steps (:data:`orthotrope.sequence.exchanges.registry.PLANNERS`)
- ``machine``    what its devices do while a program runs; plain values, it knows no Setup
- ``world``      the Setup as such plain values (:data:`orthotrope.proof.worlds.WORLDS`)
- ``conflicts``  where its numbers contradict one another (:data:`orthotrope.proof.conflicts.CONFLICTS`)
- ``detection``    the faults that its signals can notice (:data:`orthotrope.proof.verdicts.DETECTION`)
- ``checks``     checks that are only its own (:data:`orthotrope.proof.case.CHECKS`)

Nothing outside this package imports it: a registry finds it.
"""
