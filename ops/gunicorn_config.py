"""gunicorn: a few threads in two processes, quick to stop, nothing logged of requests."""

workers = 2
threads = 4
worker_class = "gthread"
graceful_timeout = 3
# A student at a practice engine acts every few seconds: the connection waits for that.
keepalive = 15
timeout = 60
# Requests carry names and readings of students; only errors are logged.
accesslog = None
limit_request_line = 4094
# Two servers of one machine would share it, and nobody speaks to it.
control_socket_disable = True
