"""The compute core of Edrix: every rule of the valve-clearance trade, and nothing else.

It knows nothing of web servers, users or databases. Callers import from its modules; the
packages `engine_file`, `sequences` and `grading` list their public names.
"""
