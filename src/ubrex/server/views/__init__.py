"""The wire, by what it is about: what a screen sends (…In) and gets (…Out)."""
