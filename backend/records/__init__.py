"""What stays and what comes in: a run as one file, workbooks, and results that were written elsewhere."""
