"""The rules and the computation of Even Girder, in pure Python.

What belongs here: everything that decides a number, a rank, a refusal or a sentence about a result.
What does not: web framework, database, clock, files, network, unseeded randomness. Callers bring those.

Map, in the order in which data flows:

    errors       one error class: a stable code, data, and a sentence a teacher can read
    units        typed text such as "14 1/4 in" to SI and back to words
    uncertainty  quantities with a standard uncertainty; what a scale or a batch can tell
    readings     a typed reading with zero offset, tare and resolution, to a quantity
    loading      load items, containers, what is left of the kit, whether it lasts, the load plan
    coins        published masses of coins
    drawing      set-ups to scale, as shapes in metres
    families     what each kind of challenge plans, measures, forbids, and can end with
    ledger       the events of a trial to a trial result
    admission    whether one more event may be written down, or is asked about first
    scoring      trials of a design to one score, under a school of scoring and a trial rule
    comparison   scores of a run to rank ranges, verdicts and a headline
    safety       the cautions that go with a family, its materials and load, and the moment
    kit          quotas to what has to be bought
    schedule     a lesson against the clock
    experiment   what is varied on purpose and what is kept the same
    planning     four answers to a whole lesson, and the consequences of every edit
    brief        a challenge in a few lines

The physics, from materials to a prediction:

    domain       what a formula accepts: refusals in a sentence
    materials    ranges of what stocks weigh and withstand; two tests that measure one
    sections     cross-sections, their outline and their thin walls
    columns      buckling, crushing, tubes from a sheet
    beams        single spans, sheets over a gap
    trusses      plane trusses by direct stiffness
    hulls        shapes that float, heeling, best walls
    boats        what a boat carries until water comes in
    towers       toppling, swinging, frames, walls
    swaying      towers on a shaking table
    rings        struts that carry each other
    arches       corbels
    boards       corrugated card as furniture
    impacts      sudden and dropped loads
    force_trace  what a sensor recorded
    predictions  limit states over seeded samples, and a class's experience
    drafting     a design on paper: typed values to ladder, drawings and what would help
"""
