"""Mending a program's text: what would cure a finding where that is plain, a module a subject.

:func:`orthotrope.proof.mending.trying.mended` offers what was tried: given to a copy of the text, run, and the finding was gone with
no new one. Each mending registers itself by the check it belongs to (:data:`MENDINGS`)."""
