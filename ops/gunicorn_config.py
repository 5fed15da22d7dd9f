"""gunicorn: a few threads in two processes behind the front, which brings whole requests."""

import os

workers = int(os.environ.get("EDRIX_PROCESSES", "2"))
threads = 4
# Loaded once, before the processes part: a start takes half the time, and so does a process that
# takes the place of a killed one.
preload_app = True
worker_class = "gthread"
graceful_timeout = 3
# The front keeps its connections, and nobody else speaks to this server.
keepalive = 15
timeout = 60
# Requests carry names and readings of students; only errors are logged.
accesslog = None
limit_request_line = 4094
# Two servers of one machine would share it, and nobody speaks to it.
control_socket_disable = True
