"""Exports and printed documents.

``tables`` says what stands in CSV files and ``csv_file`` how a cell is written; ``sheets`` says what stands on paper,
``drawing_svg`` and ``footprint`` draw it to scale, ``pdf`` sets it.
"""
