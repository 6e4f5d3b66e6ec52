"""What keeps a server going for years: backups and what comes of them, and whether all is as it should be.

backups     an archive of database and photographs, of one moment
restoring   a database and photographs out of an archive
steps       whether the version before goes on with a change of tables
upgrading   tables brought to this version, one at a time
watched     what a watcher reads
profiling   where the processes that serve spend their time
database    the database's own tools, and databases of one's own to try something in
doctor      looks at all that a server stands on, and says what is wrong
"""
