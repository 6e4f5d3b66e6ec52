"""Drafts over the core: materials of one's own, what a class has taught, and working a draft out.

    models     a teacher's own stocks; the correction of a class, family and material that is applied
    shelf      the stocks there are for a teacher
    services   what can be changed
    views      the API

A draft that belongs to a design is kept with the design (``bench``); nothing here knows of designs.
"""
