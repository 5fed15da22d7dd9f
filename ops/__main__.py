"""`python -m ops`: what `./edrix` calls."""

import sys

from ops.cli import main

sys.exit(main(sys.argv[1:]))
