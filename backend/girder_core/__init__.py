"""The rules and the computation of Even Girder, in pure Python.

What belongs here: everything that decides a number, a rank, a refusal or a sentence about a result.
What does not: web framework, database, clock, files, network, unseeded randomness. Callers bring those.

The rooms, from the ground up. A room knows those below it and none above; its ``__init__`` is its map and its only
door, so callers write ``from girder_core.measure import Quantity``. docs/architecture.md draws them.

    ground    refusals in a sentence, and shapes to draw with
    measure   from what was typed or read to a quantity with its uncertainty
    photo     from a picture of a scale card to lengths and areas
    kit       the load, the coins it may be made of, and what has to be bought
    physics   from materials to a prediction of how a structure fails
    drafting  a design on paper: typed values to ladder, drawings and what would help
    trial     a test at the bench: its ledger of events, and what follows from it
    results   from trials to a fair comparison, its reasons, and what a new version brought
    safety    the cautions that go with a family, its materials and load, and the moment
    families  what each kind of challenge plans, measures, forbids, and can end with
    planning  a lesson before it begins
"""
