"""Everything round the core: the API translates, services decide, the store keeps, words say it."""
