"""``python -m ubrex``: what the launcher hands over to."""

from ubrex.commands import main

main()
