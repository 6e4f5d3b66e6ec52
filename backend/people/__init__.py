"""Teachers, their classes and teams, and who may see what.

``policy`` is the one place that says to whom an object belongs; every app's views ask it.
"""
