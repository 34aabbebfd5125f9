"""Power: what each component draws, and what feeds it."""
