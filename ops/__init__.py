"""Installing, starting and checking Edrix. Standard library only: it runs before any install."""
