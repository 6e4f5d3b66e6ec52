"""What the program claims, held against classes whose truth is known.

classes          made-up classes: how strong each design truly is, and what its trials show
test_verdicts    clear, likely, chances and ranges of places keep their word: a part of the grid, in the suite
``python -m girder_core.tests.claims [CLASSES]`` prints the whole grid as docs/claims.md has it
"""
