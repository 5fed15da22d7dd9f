"""Who works with whom at which stand on which task and when, over a week or so."""
