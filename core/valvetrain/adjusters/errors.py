"""What adjusters refuse."""

from valvetrain.errors import RefusedError


class AdjusterError(RefusedError):
    """Figures that no adjuster can have; says which, and what would be right."""
