"""Advice: what a person who prints would weigh, worked out from the whole analysis."""
