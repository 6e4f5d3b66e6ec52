"""The Django project: settings, addresses, the ASGI entry, and how errors reach the client.

What belongs here: what every app shares. What does not: models and rules.
"""
