"""What is done before the first request: the tables are brought up to date."""
