"""Measuring in photographs: scale cards are found in a picture, what somebody points at becomes a reading; at the
bench a point is followed from picture to picture, and loose pieces are counted.

What a picture means is judged by ``girder_core.photo``; here it is only looked at. OpenCV stands behind
``detector``, ``following`` and ``counting``.

    detector      the adapter: marks, straight edges, what hides a mark
    following     the adapter for what moves: where a point of one picture is in a later one
    counting      the adapter for what lies loose on a sheet
    picture_file  a picture that came in, looked at in a process of its own; ``follow_file`` two of one bench,
                  ``count_file`` one of loose pieces; ``found`` is what they hand over
    scenes        made-up pictures with known truth; ``standins`` are those that ship for practice
    models        the sets of cards of a teacher, and how large each came out of the printer
    selectors, services, shown, serializers, views   from a picture to a reading, and the API; ``asked`` is what a
                  request asks, and those that begin with ``motion`` are of what is followed, with ``count`` of
                  what is counted, with ``bench`` of lengths there that do not move
"""
