"""The server's settings, for tests: a key of their own and quick password hashes."""

from edrix.settings import *  # noqa: F403 (settings are inherited whole)

SECRET_KEY = "only-for-tests"
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
