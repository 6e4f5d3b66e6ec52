"""Recipes and runs: a challenge that can be run again, and one running of it by a class.

A run copies the recipe's terms (set-up, kit, scoring) when it starts, so that later edits of the recipe leave it alone.
"""
