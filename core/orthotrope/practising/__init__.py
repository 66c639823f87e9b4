"""The hidden world of a seed, and a technician's work in it without a technician: ``truth`` draws what is wrong with a
machine and makes a world of it (the practice machine stands in it too); ``loop`` teaches pockets, calibrates, measures and
checks there, with the written texts, and never looks at the truth."""
