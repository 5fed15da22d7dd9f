"""`python -m valvetrain.calculator`: for a checkout whose packages are not installed yet."""

import sys

from valvetrain.calculator import main

sys.exit(main(sys.argv[1:]))
