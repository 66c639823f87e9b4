"""Fixing a program's text: what would fix a finding where that is plain, a module a subject.

:func:`orthotrope.proof.text_fixes.trying.fixed` offers what was tried: given to a copy of the text, run, and the finding was gone with
no new one. Each fix registers itself by the check it belongs to (:data:`MENDINGS`)."""
