"""Django's own commands; `./edrix` calls the few that are needed."""

import os
import sys

from django.core.management import execute_from_command_line

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "edrix.settings")
execute_from_command_line(sys.argv)
