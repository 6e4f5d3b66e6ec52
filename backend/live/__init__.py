"""What is live: a board for the projector behind a link, and streams that tell open pages that a run has changed.

Above the bench and below the reports. The database itself tells of changes (triggers and NOTIFY), so whoever writes,
through whichever server process, is heard by every other. Nothing here decides a result.
"""
