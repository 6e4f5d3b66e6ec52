"""Measuring in photographs: finding scale cards in a picture, and making a reading of what somebody points at.

What a picture means is judged by ``girder_core.photo``; here it is only looked at. OpenCV stands behind ``detector``.

    detector      the adapter: marks, straight edges, what hides a mark
    picture_file  a picture that came in, looked at in a process of its own; ``found`` is what that hands over
    scenes        made-up pictures with known truth; ``standins`` are those that ship for practice
    models        the sets of cards of a teacher, and how large each came out of the printer
    selectors, services, shown, serializers, views   from a picture to a reading, and the API
"""
