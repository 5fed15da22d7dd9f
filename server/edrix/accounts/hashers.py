"""How passcodes are hashed: for thirty who sign in at the same minute, on two processors."""

from django.contrib.auth.hashers import Argon2PasswordHasher


class PasscodeHasher(Argon2PasswordHasher):
    """Argon2id with 19 MiB, two passes, one lane: the least that OWASP's Password Storage Cheat
    Sheet asks for (from memory). Django's own 100 MiB in eight lanes take about eight times as
    long, and a class signs in at once. Passcodes are random (38 bits) and tries are limited.

    A hash that was made with more is made again when its owner next signs in.
    """

    time_cost = 2
    memory_cost = 19 * 1024  # KiB
    parallelism = 1
