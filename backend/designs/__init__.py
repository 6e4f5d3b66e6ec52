"""What teams build: designs and their versions, readings and checks at check-in, photographs, drafts.

models      what is kept
services    one verb per change, each in one transaction; build_services while a class builds, photo_services
serializers shapes of what was typed and measured

Whether a design was tested is the bench's knowledge: a design asks its trials through their relation and imports
nothing from there.
"""
