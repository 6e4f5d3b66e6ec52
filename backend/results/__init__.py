"""What a run came to: its comparison and the reasons, gains, answers, the rubric, a class's experience.

models      answers and marks; all else follows from what is kept below
services    one verb per change
selectors, reasons, rubric, experience   put together from the cards of a run
shown       the same as the screens and the board have it
views, serializers   the API
"""
