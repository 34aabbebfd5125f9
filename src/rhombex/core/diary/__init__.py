"""The diary of prints: what was planned for each, to be held against real hours."""
