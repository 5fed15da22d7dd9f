"""Long work, done by a worker while the page waits: the queue and what is known of each job."""
