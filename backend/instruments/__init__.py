"""Instruments on a serial line: one adapter for real ports and for the simulated stand-ins, which are ports too.

What the lines mean is judged by ``girder_core.measure.instruments``; here they are only fetched. Nothing is kept.
"""
