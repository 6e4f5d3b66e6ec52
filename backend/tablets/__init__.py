"""Teams at tablets of their own: a code for the lesson lets a tablet in, to one team of one run and nothing else.

Above the board and below the reports. Whoever holds a tablet has no account and no name here. Nothing here decides a
result; what a team writes goes through the same services as what its teacher writes for it.
"""
