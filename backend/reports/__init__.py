"""Exports of a run in open formats. ``tables`` says what stands in them, ``csv_file`` how a cell is written."""
