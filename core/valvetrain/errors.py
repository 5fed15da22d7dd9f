"""The common ancestor of what the core refuses, for callers that only show the sentence."""


class RefusedError(ValueError):
    """Input that cannot be used; `str()` says what was given and what would be right."""
