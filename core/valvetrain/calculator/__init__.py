"""`edrix calc`: the compute core at the command line. A thin shell: answers come from the core.

Answers are JSON on standard output, or lines for people with --text. Input that is wrong
gives one line on standard error, exit status 2 and nothing on standard output.
`docs/calculator.md` lists the promised keys.

Each answer imports what it alone needs, and only the parser of the command at hand is
built: a script may call this a thousand times.
"""

from valvetrain.calculator.command import main

__all__ = ["main"]
